import type { Counts, KeptModel, Scored, Told } from './model.js'
import type { LikelihoodPart } from './passes.js'
import type { LikelihoodPlan } from './plan.js'

export interface LikelihoodResult {
  kind: 'likelihood'
  /** there were too few to learn from: how many people, and how many of them did it */
  tooFew: { people: number; did: number } | null
  model: KeptModel | null
  /** whether it was trained before this question was asked */
  before: boolean
  /** how good it is on those whose time has passed since it was trained; null = it is too early to tell */
  since: Told | null
  scored: Scored | null
}

export function finishLikelihood(part: LikelihoodPart, plan: LikelihoodPlan): LikelihoodResult {
  if (part.pass !== 'place' || (plan.pass !== 'place' && plan.pass !== 'read')) {
    const { trained, trainedDid }: Pick<Counts, 'trained' | 'trainedDid'> =
      part.pass === 'weigh' ? part.counts : { trained: 0, trainedDid: 0 }
    const tooFew = { people: trained, did: trainedDid }
    return { kind: 'likelihood', tooFew, model: null, before: false, since: null, scored: null }
  }
  const { people, hill, expected, lowest } = part
  const { model } = plan
  return {
    ...{ kind: 'likelihood', tooFew: null, model, before: plan.kept !== null, since: plan.since },
    scored: { people, hill, expected, lowest },
  }
}
