import type { Analysis } from '../analysis.js'
import { finishGaps, type GapsResult } from './finish.js'
import { gapsSchema, parseGaps, usualGaps, type GapsQuestion } from './question.js'
import { mergeGaps, planGaps, scanGaps, selectGaps, type GapsPart, type GapsPlan } from './scan.js'
import { gapsFindings, gapsSentence } from './sentence.js'

export const gaps: Analysis<GapsQuestion, GapsPlan, GapsPart, GapsResult> = {
  kind: 'gaps',
  schema: gapsSchema,
  usual: usualGaps,
  parse: parseGaps,
  plan: planGaps,
  scan: scanGaps,
  merge: mergeGaps,
  next: () => null,
  finish: finishGaps,
  reads: () => true,
  select: selectGaps,
  sentence: gapsSentence,
  findings: gapsFindings,
}
