import type { Analysis } from '../analysis.js'
import { retentionFindings } from './findings.js'
import { finishRetention, type RetentionResult } from './finish.js'
import { nextRetention, planRetention, type RetentionPart, type RetentionPlan } from './plan.js'
import { parseRetention, retentionSchema, usualRetention, type RetentionQuestion } from './question.js'
import { mergeRetention, momentOfRetention, readsRetention, scanRetention, selectRetention } from './scan.js'
import { retentionSentence } from './sentence.js'

export const retention: Analysis<RetentionQuestion, RetentionPlan, RetentionPart, RetentionResult> = {
  kind: 'retention',
  schema: retentionSchema,
  usual: usualRetention,
  parse: parseRetention,
  plan: planRetention,
  scan: scanRetention,
  merge: mergeRetention,
  next: nextRetention,
  finish: finishRetention,
  reads: readsRetention,
  select: selectRetention,
  moment: momentOfRetention,
  sentence: retentionSentence,
  findings: retentionFindings,
}
