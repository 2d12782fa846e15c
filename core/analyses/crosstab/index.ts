import type { Analysis } from '../analysis.js'
import { crosstabFindings } from './findings.js'
import { finishCrosstab, type CrosstabResult } from './finish.js'
import { nextCrosstab, planCrosstab, type CrosstabPart, type CrosstabPlan } from './plan.js'
import { crosstabSchema, parseCrosstab, usualCrosstab, type CrosstabQuestion } from './question.js'
import { mergeCrosstab, scanCrosstab, selectCrosstab } from './scan.js'
import { crosstabSentence } from './sentence.js'

export const crosstab: Analysis<CrosstabQuestion, CrosstabPlan, CrosstabPart, CrosstabResult> = {
  kind: 'crosstab',
  schema: crosstabSchema,
  usual: usualCrosstab,
  parse: parseCrosstab,
  plan: planCrosstab,
  scan: scanCrosstab,
  merge: mergeCrosstab,
  next: nextCrosstab,
  finish: finishCrosstab,
  reads: ({ pass }) => pass === 'count',
  select: selectCrosstab,
  sentence: crosstabSentence,
  findings: crosstabFindings,
}
