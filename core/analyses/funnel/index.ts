import type { Analysis } from '../analysis.js'
import { funnelFindings } from './findings.js'
import { finishFunnel, type FunnelResult } from './finish.js'
import { nextFunnel, planFunnel, type FunnelPart, type FunnelPlan } from './plan.js'
import { funnelSchema, parseFunnel, usualFunnel, type FunnelQuestion } from './question.js'
import { mergeFunnel, momentOfFunnel, scanFunnel, selectFunnel } from './scan.js'
import { funnelSentence } from './sentence.js'

export const funnel: Analysis<FunnelQuestion, FunnelPlan, FunnelPart, FunnelResult> = {
  kind: 'funnel',
  schema: funnelSchema,
  usual: usualFunnel,
  parse: parseFunnel,
  plan: planFunnel,
  scan: scanFunnel,
  merge: mergeFunnel,
  next: nextFunnel,
  finish: finishFunnel,
  reads: ({ pass }) => pass === 'count',
  select: selectFunnel,
  moment: momentOfFunnel,
  sentence: funnelSentence,
  findings: funnelFindings,
}
