import { explainRetention } from './explain.js'
import { parseRetention, retentionSchema } from './schema.js'
import type { Analysis } from '../analysis.js'
import { retentionFindings } from './findings.js'
import { finishRetention, type RetentionResult } from './finish.js'
import { nextRetention, planRetention, type RetentionPart, type RetentionPlan } from './plan.js'
import { usualRetention, type RetentionQuestion } from './question.js'
import { mergeRetention, momentOfRetention, readsRetention, scanRetention, selectRetention } from './scan.js'
import { retentionMark, type RetentionMark } from './marks.js'
import { cohortMarks, retentions } from './printed.js'
import { spokenRetention } from './spoken.js'

export const retention: Analysis<RetentionQuestion, RetentionMark, RetentionPlan, RetentionPart, RetentionResult> = {
  ...spokenRetention,
  explain: explainRetention,
  schema: retentionSchema,
  markSchemas: [retentionMark],
  usual: usualRetention,
  turn: {
    picks: ({ start, back }) => (back ? [start, back] : [start]),
    about: (picks) => ({
      ...usualRetention(''),
      start: picks[0]!,
      ...(picks.length > 1 ? { back: picks.at(-1)! } : {}),
    }),
  },
  parse: parseRetention,
  plan: planRetention,
  scan: scanRetention,
  merge: mergeRetention,
  next: nextRetention,
  finish: finishRetention,
  reads: readsRetention,
  select: selectRetention,
  moment: momentOfRetention,
  printed: retentions,
  printedMarks: cohortMarks,
  findings: retentionFindings,
}
