import type { Analysis } from '../analysis.js'
import { explainTipping } from './explain.js'
import { tippingFindings } from './findings.js'
import { finishTipping, nextTipping, type TippingResult } from './finish.js'
import { tippingMark, type TippingMark } from './marks.js'
import { planTipping, type TippingPlan } from './plan.js'
import { tippingMarks, tippings } from './printed.js'
import { usualTipping, type TippingQuestion } from './question.js'
import { mergeTipping, momentOfTipping, scanTipping, selectTipping, type TippingPart } from './scan.js'
import { parseTipping, tippingSchema } from './schema.js'
import { spokenTipping } from './spoken.js'

export const tipping: Analysis<TippingQuestion, TippingMark, TippingPlan, TippingPart, TippingResult> = {
  ...spokenTipping,
  explain: explainTipping,
  schema: tippingSchema,
  markSchemas: [tippingMark],
  usual: usualTipping,
  turn: {
    picks: ({ start, goal }) => [start, goal],
    about: (picks) => ({
      ...usualTipping(''),
      start: picks[0]!,
      ...(picks.length > 1 ? { goal: picks.at(-1)! } : {}),
    }),
  },
  parse: parseTipping,
  plan: planTipping,
  scan: scanTipping,
  merge: mergeTipping,
  anyOrder: true,
  passes: 2,
  next: nextTipping,
  finish: finishTipping,
  reads: () => true,
  select: selectTipping,
  moment: momentOfTipping,
  printed: tippings,
  printedMarks: tippingMarks,
  findings: tippingFindings,
}
