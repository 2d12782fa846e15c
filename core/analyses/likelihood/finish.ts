import type { KeptModel } from './model.js'
import type { LikelihoodPart } from './passes.js'
import type { Counts, LikelihoodPlan } from './plan.js'
import type { PlacePart } from './score.js'

export interface LikelihoodResult {
  kind: 'likelihood'
  /** there were too few to learn from: how many people, and how many of them did it */
  tooFew: { people: number; did: number } | null
  model: KeptModel | null
  /** whether it was trained before this question was asked */
  before: boolean
  scored: Pick<PlacePart, 'people' | 'hill' | 'expected' | 'lowest'> | null
}

export function finishLikelihood(
  part: LikelihoodPart,
  plan: LikelihoodPlan,
): LikelihoodResult {
  if (part.pass !== 'place' || (plan.pass !== 'place' && plan.pass !== 'read')) {
    const { trained, trainedDid }: Pick<Counts, 'trained' | 'trainedDid'> =
      part.pass === 'weigh' ? part.counts : { trained: 0, trainedDid: 0 }
    const tooFew = { people: trained, did: trainedDid }
    return { kind: 'likelihood', tooFew, model: null, before: false, scored: null }
  }
  const { people, hill, expected, lowest } = part
  const { model } = plan
  return {
    ...{ kind: 'likelihood', tooFew: null, model, before: plan.kept !== null },
    scored: { people, hill, expected, lowest },
  }
}
