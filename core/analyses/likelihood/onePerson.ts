import type { EventLog } from '../../log/log.js'
import type { Schema } from '../../log/schema.js'
import { logistic } from '../../stats/logistic.js'
import { placesOf } from './columns.js'
import type { FeatureOf } from './features.js'
import { gather } from './gather.js'
import type { KeptModel } from './model.js'
import type { LikelihoodPlan } from './plan.js'
import { rowReader } from './rows.js'

/** What of a person speaks for doing it, or against. */
export interface Speaks {
  feature: FeatureOf
  /** they have more of it than people have on the whole */
  more: boolean
  /** by how much it moves the logarithm of their odds from that of people on the whole */
  moves: number
}

/** How likely one person is to do it, and what speaks for it and against, the most first. */
export interface Chance {
  chance: number
  speaksFor: Speaks[]
  against: Speaks[]
}

/** So much is told of each side, and nothing that hardly moves anything. */
const MOST = 3
const LEAST = 0.02

/**
 * @param index of the person in the log
 * @param plan of a question that has a model; the first one there is
 * @returns null where they are not asked about: they have done it, or were not there yet
 */
export function chanceOf(
  log: EventLog,
  index: number,
  plan: LikelihoodPlan,
  model: KeptModel,
  schema: Schema,
): Chance | null {
  if (plan.pass !== 'gather') throw new RangeError('one person is read with the first plan')
  const { moments, names, backDays } = plan
  const [rows] = gather(log, { from: index, to: index + 1 }, { ...plan, moments: { ...moments, cutOff: null } }).now
  if (rows.people.length === 0) return null
  const { features, intercept } = model
  const own = new Float64Array(features.length)
  const moment = { ms: moments.now, late: new Map<number, Uint8Array>() }
  const read = rowReader(log, rows, placesOf(features, names, schema), moment, backDays)
  read(0, (column, value) => (own[column] = value))
  let sum = intercept
  const speaks = features.map(({ weight, deviation, mean, ...feature }, column): Speaks => {
    sum += (weight / deviation) * own[column]
    return { feature, more: own[column] > mean, moves: (weight / deviation) * (own[column] - mean) }
  })
  const side = (sign: 1 | -1) =>
    speaks
      .filter(({ moves }) => sign * moves > LEAST)
      .sort((a, b) => sign * (b.moves - a.moves))
      .slice(0, MOST)
  return { chance: logistic(sum), speaksFor: side(1), against: side(-1) }
}
