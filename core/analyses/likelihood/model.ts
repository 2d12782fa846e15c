import type { Told } from './tell.js'
import type { Weighed } from './features.js'
import type { Counts, Out } from './plan.js'

/** A model that was trained, and how good it is: what is kept of it. */
export interface KeptModel {
  /** epoch ms: what came before tells, and what came after until then was foretold */
  cutOff: number
  trainedAt: number
  counts: Counts
  features: Weighed[]
  intercept: number
  /** how strongly weights are held near 0 */
  lambda: number
  out: Out
  told: Told
}
