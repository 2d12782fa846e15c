import type { Analysis } from '../analysis.js'
import { growthFindings } from './findings.js'
import { finishGrowth, type GrowthResult } from './finish.js'
import { planGrowth, type GrowthPlan } from './plan.js'
import { growthSchema, parseGrowth, usualGrowth, type GrowthQuestion } from './question.js'
import { mergeGrowth, scanGrowth, selectGrowth, type GrowthPart } from './scan.js'
import { growthSentence } from './sentence.js'

export const growth: Analysis<GrowthQuestion, GrowthPlan, GrowthPart, GrowthResult> = {
  kind: 'growth',
  schema: growthSchema,
  usual: usualGrowth,
  parse: parseGrowth,
  plan: planGrowth,
  scan: scanGrowth,
  merge: mergeGrowth,
  next: () => null,
  finish: finishGrowth,
  reads: () => true,
  select: selectGrowth,
  sentence: growthSentence,
  findings: growthFindings,
}
