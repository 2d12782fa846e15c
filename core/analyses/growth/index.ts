import { explainGrowth } from './explain.js'
import { growthSchema, parseGrowth } from './schema.js'
import type { Analysis } from '../analysis.js'
import { growthFindings } from './findings.js'
import { finishGrowth, type GrowthResult } from './finish.js'
import { nextGrowth, planGrowth, type GrowthPart, type GrowthPlan } from './plan.js'
import { usualGrowth, type GrowthQuestion } from './question.js'
import { mergeGrowth, scanGrowth, selectGrowth } from './scan.js'
import { growthMark, type GrowthMark } from './marks.js'
import { stateMarks, growths } from './printed.js'
import { spokenGrowth } from './spoken.js'

export const growth: Analysis<GrowthQuestion, GrowthMark, GrowthPlan, GrowthPart, GrowthResult> = {
  ...spokenGrowth,
  explain: explainGrowth,
  schema: growthSchema,
  markSchemas: [growthMark],
  usual: usualGrowth,
  // Of a way it is what it leads to.
  turn: {
    ofPeople: true,
    picks: ({ start }) => [start],
    about: (picks) => ({ ...usualGrowth(''), start: picks.at(-1)! }),
  },
  parse: parseGrowth,
  plan: planGrowth,
  scan: scanGrowth,
  merge: mergeGrowth,
  next: nextGrowth,
  finish: finishGrowth,
  reads: ({ pass }) => pass === 'count',
  select: selectGrowth,
  printed: growths,
  printedMarks: stateMarks,
  findings: growthFindings,
}
