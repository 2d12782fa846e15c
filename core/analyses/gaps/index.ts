import { explainGaps } from './explain.js'
import { gapsFindings } from './findings.js'
import { gapsSchema, parseGaps } from './schema.js'
import type { Analysis } from '../analysis.js'
import { finishGaps, type GapsResult } from './finish.js'
import { usualGaps, type GapsQuestion } from './question.js'
import { mergeGaps, nextGaps, planGaps, scanGaps, selectGaps, type GapsPart, type GapsPlan } from './scan.js'
import { gapsMark, type GapsMark } from './marks.js'
import { gapMarks, gapses } from './printed.js'
import { spokenGaps } from './spoken.js'

export const gaps: Analysis<GapsQuestion, GapsMark, GapsPlan, GapsPart, GapsResult> = {
  ...spokenGaps,
  explain: explainGaps,
  schema: gapsSchema,
  markSchemas: [gapsMark],
  usual: usualGaps,
  // Of a way it is what it leads to.
  turn: {
    ofPeople: true,
    picks: ({ start }) => [start],
    about: (picks) => ({ ...usualGaps(''), start: picks.at(-1)! }),
  },
  parse: parseGaps,
  plan: planGaps,
  scan: scanGaps,
  merge: mergeGaps,
  next: nextGaps,
  finish: finishGaps,
  reads: ({ pass }) => pass === 'count',
  select: selectGaps,
  printed: gapses,
  printedMarks: gapMarks,
  findings: gapsFindings,
}
