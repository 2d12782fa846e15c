import { wantedGroup } from '../../questions/groupId.js'
import { pickOf } from '../../questions/pickOf.js'
import type { Analysis } from '../analysis.js'
import { explainAttribution } from './explain.js'
import { attributionFindings } from './findings.js'
import { finishAttribution, type AttributionResult } from './finish.js'
import { listConversions } from './listed.js'
import { attributionMark, type AttributionMark } from './marks.js'
import { nextAttribution, planAttribution, type AttributionPart, type AttributionPlan } from './plan.js'
import { attributionMarks, attributions } from './printed.js'
import { MOST_GOALS, usualAttribution, type AttributionQuestion } from './question.js'
import { mergeAttribution, momentOfAttribution, scanAttribution, selectAttribution } from './scan.js'
import { attributionSchema, parseAttribution } from './schema.js'
import { spokenAttribution } from './spoken.js'

export const attribution: Analysis<
  AttributionQuestion,
  AttributionMark,
  AttributionPlan,
  AttributionPart,
  AttributionResult
> = {
  ...spokenAttribution,
  explain: explainAttribution,
  schema: attributionSchema,
  markSchemas: attributionMark.options,
  usual: usualAttribution,
  // Whatever carries the property is a touch.
  ofAnything: true,
  turn: {
    picks: ({ goals }) => goals.map(pickOf),
    about: (picks) => ({ ...usualAttribution(''), goals: picks.slice(0, MOST_GOALS) }),
    ofPeople: true,
    splitBy: (splits) => ({ breakdowns: splits.slice(0, 1) }),
  },
  parse: parseAttribution,
  plan: planAttribution,
  scan: scanAttribution,
  merge: mergeAttribution,
  next: nextAttribution,
  finish: finishAttribution,
  // Whether all values are told apart is known only once they have been counted.
  reads: ({ pass, guess }) => pass === 'count' && !guess,
  select: selectAttribution,
  moment: momentOfAttribution,
  listed: listConversions,
  wants: (mark) =>
    (mark.kind === 'touches' ? mark.values : mark.value ? [mark.value] : []).map((key) => wantedGroup(key)),
  printed: attributions,
  printedMarks: attributionMarks,
  findings: attributionFindings,
}
