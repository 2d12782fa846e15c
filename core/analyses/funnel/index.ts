import { explainFunnel } from './explain.js'
import { pickOf } from '../../questions/pickOf.js'
import { funnelSchema, parseFunnel } from './schema.js'
import type { FunnelPlan } from './shape.js'
import type { Analysis } from '../analysis.js'
import { funnelFindings } from './findings.js'
import { finishFunnel, type FunnelResult } from './finish.js'
import { nextFunnel, planFunnel, type FunnelPart } from './plan.js'
import { usualFunnel, type FunnelQuestion } from './question.js'
import { mergeFunnel, momentOfFunnel, scanFunnel, selectFunnel } from './scan.js'
import { funnelMark, type FunnelMark } from './marks.js'
import { stepMarks, funnels } from './printed.js'
import { spokenFunnel } from './spoken.js'

export const funnel: Analysis<FunnelQuestion, FunnelMark, FunnelPlan, FunnelPart, FunnelResult> = {
  ...spokenFunnel,
  explain: explainFunnel,
  schema: funnelSchema,
  markSchemas: funnelMark.options,
  usual: usualFunnel,
  turn: {
    picks: ({ steps }) => steps.map(pickOf),
    about: (picks) => ({ ...usualFunnel(''), steps: picks.map((pick) => ({ ...pick })) }),
  },
  parse: parseFunnel,
  plan: planFunnel,
  scan: scanFunnel,
  merge: mergeFunnel,
  next: nextFunnel,
  finish: finishFunnel,
  reads: ({ pass }) => pass === 'count',
  select: selectFunnel,
  moment: momentOfFunnel,
  printed: funnels,
  printedMarks: stepMarks,
  findings: funnelFindings,
}
