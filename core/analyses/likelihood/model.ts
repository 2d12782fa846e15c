import type { Interval } from '../../stats/proportion.js'
import type { Auc } from '../../stats/roc.js'
import type { Learned } from '../analysis.js'
import type { Feature, Weighed } from './features.js'

/** A model that was trained, and how good it is: what is kept of it. */
export interface KeptModel extends Learned {
  /** epoch ms: what came before tells, and what came after until then was foretold */
  cutOff: number
  counts: Counts
  features: Weighed[]
  intercept: number
  /** how strongly weights are held near 0 */
  lambda: number
  out: Out
  told: Told
}

/** How many people there are to learn from, and to tell it of, and how many of them did it. */
export interface Counts {
  trained: number
  trainedDid: number
  told: number
  toldDid: number
}

/** What is not looked at, and why. */
export interface Out {
  /** tells it nearly alone: the larger of its area under the curve and what is left of 1 */
  leaks: { feature: Feature; auc: number }[]
  /** profile properties of which so many people's first value came after the cut-off */
  late: { property: string; people: number }[]
}

/** A tenth of the people it is told of, the likeliest first. */
export interface Tenth {
  people: number
  did: number
  /** mean of what was foretold */
  foretold: number
  happened: Interval | null
  /** its rate ÷ the rate of all; null where nobody did it */
  lift: number | null
}

/** How good a model is, told of people it was not trained on. */
export interface Told {
  people: number
  did: number
  /** null where all did it, or nobody */
  auc: Auc | null
  /** the same people ranked by their last activity only, and by how much the model is better */
  byLast: { auc: Auc; better: Interval & { value: number; p: number | null } } | null
  /** mean square of what was foretold less what happened; and of the rate of all in its place */
  brier: number
  brierOfRate: number
  tenths: Tenth[]
  /** by percent of people, from the likeliest on, 0 to 100: those of them who did it */
  caught: number[]
  /** by a value of a profile property that many have */
  groups: { property: string; value: string | boolean; people: number; did: number; auc: Auc | null }[]
}

/** Everyone there is now, by how likely they are. */
export interface Scored {
  people: number
  /** by percent of people, from the likeliest on, 0 to 100: what is expected of them, and the least likely one's chance */
  expected: number[]
  lowest: number[]
  /** bars: from which chance on, up to which, how many people */
  hill: { from: number; to: number; people: number }[]
}

/** By row: how likely they were, whether they did it, when they were seen last, who they are. */
export interface ToldPiece {
  scores: Float64Array
  did: Uint8Array
  last: Float64Array
  people: Uint32Array
  /** by column of a value that people have: the rows of those who have it */
  rows: Map<number, number[]>
}
