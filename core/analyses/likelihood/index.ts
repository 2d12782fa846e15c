import type { Analysis } from '../analysis.js'
import { explainLikelihood } from './explain.js'
import { likelihoodFindings } from './findings.js'
import { finishLikelihood, type LikelihoodResult } from './finish.js'
import { likelihoodMark, type LikelihoodMark } from './marks.js'
import { mergeLikelihood, nextLikelihood, piecesOf, scanLikelihood, type LikelihoodPart } from './passes.js'
import { DAY, planLikelihood, type LikelihoodPlan } from './plan.js'
import { likelihoodMarks, likelihoods } from './printed.js'
import { usualLikelihood, type LikelihoodQuestion } from './question.js'
import { likelihoodSchema, parseLikelihood } from './schema.js'
import { selectLikely } from './score.js'
import { spokenLikelihood } from './spoken.js'

export const likelihood: Analysis<
  LikelihoodQuestion,
  LikelihoodMark,
  LikelihoodPlan,
  LikelihoodPart,
  LikelihoodResult
> = {
  ...spokenLikelihood,
  explain: explainLikelihood,
  schema: likelihoodSchema,
  markSchemas: [likelihoodMark],
  usual: usualLikelihood,
  turn: {
    picks: ({ goal }) => [goal],
    about: (picks) => ({ ...usualLikelihood(''), goal: picks.at(-1)! }),
  },
  parse: parseLikelihood,
  plan: planLikelihood,
  pieces: piecesOf,
  wantsIds: ({ days }, now) => ({ cameAfter: now - days * DAY }),
  // Strengths are tried one after the other.
  passes: 60,
  learned: (plan) =>
    'model' in plan && plan.kept === null && (plan.pass === 'place' || plan.pass === 'read') ? plan.model : null,
  scan: scanLikelihood,
  merge: mergeLikelihood,
  next: nextLikelihood,
  finish: finishLikelihood,
  reads: ({ pass }) => pass === 'read',
  select: (log, people, plan, marks) =>
    plan.pass === 'read' ? selectLikely(log, people, plan, marks) : new Uint32Array(0),
  printed: likelihoods,
  printedMarks: likelihoodMarks,
  findings: likelihoodFindings,
}
