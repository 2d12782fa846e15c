import type { Analysis } from '../analysis.js'
import { trendFindings } from './findings.js'
import { finishTrend, type TrendResult } from './finish.js'
import { nextTrend, planTrend, type TrendPart, type TrendPlan } from './plan.js'
import { parseTrend, trendSchema, usualTrend, type TrendQuestion } from './question.js'
import { mergeTrend, scanTrend } from './scan.js'
import { momentOfTrend, selectTrend } from './select.js'
import { trendSentence } from './sentence.js'

export const trend: Analysis<TrendQuestion, TrendPlan, TrendPart, TrendResult> = {
  kind: 'trend',
  schema: trendSchema,
  usual: usualTrend,
  parse: parseTrend,
  plan: planTrend,
  scan: scanTrend,
  merge: mergeTrend,
  next: nextTrend,
  finish: finishTrend,
  reads: ({ pass }) => pass === 'count',
  select: selectTrend,
  moment: momentOfTrend,
  sentence: trendSentence,
  findings: trendFindings,
}
