import type { EventLog } from '../../log/log.js'
import { compareIds } from '../../log/personIds.js'
import { logistic } from '../../stats/logistic.js'
import { wilson } from '../../stats/proportion.js'
import { auc, compareAucs } from '../../stats/roc.js'
import { cutOffOf, TOLD } from './columns.js'
import type { FeaturePlaces, Weighed } from './features.js'
import type { Told } from './model.js'
import type { Gathered, LikelihoodPlan } from './plan.js'
import { rowReader, type ProfileMoment } from './rows.js'

/** A value is told of by itself where it has so many people, and so many who did it and who did not. */
const LEAST_GROUP = 100
const LEAST_SORT = 20
const MOST_GROUPS = 12

export interface TellPart {
  pass: 'tell'
  told: Told
}

/** How likely people are to do it: the logistic of the weights times what is known of them. */
export function scoresOf(
  log: EventLog,
  rows: Gathered,
  { features, intercept }: { features: readonly Weighed[]; intercept: number },
  places: FeaturePlaces,
  moment: ProfileMoment,
  backDays: number,
): Float64Array {
  const read = rowReader(log, rows, places, moment, backDays)
  const slope = Float64Array.from(features, ({ weight, deviation }) => weight / deviation)
  const scores = new Float64Array(rows.people.length)
  let sum = 0
  const add = (column: number, value: number) => (sum += slope[column] * value)
  for (let row = 0; row < scores.length; row++) {
    sum = intercept
    read(row, add)
    scores[row] = logistic(sum)
  }
  return scores
}

export function tell(log: EventLog, plan: Extract<LikelihoodPlan, { pass: 'tell' }>): TellPart {
  const { sides, model, places, backDays, ids } = plan
  const moment = cutOffOf(plan)
  const found = { scores: [] as number[], did: [] as number[], last: [] as number[], people: [] as number[] }
  const ofColumn = new Map<number, number[]>()
  const grouped = model.features.map(({ of }) => of === 'value')
  sides.before.forEach((rows, piece) => {
    const scores = scoresOf(log, rows, model, places, moment, backDays)
    const read = rowReader(log, rows, places, moment, backDays)
    sides.folds[piece].forEach((fold, row) => {
      if (fold !== TOLD) return
      read(row, (column) => {
        if (grouped[column]) listed(ofColumn, column).push(found.scores.length)
      })
      found.scores.push(scores[row])
      found.did.push(rows.did[row])
      found.last.push(rows.last[row])
      found.people.push(rows.people[row])
    })
  })
  const scores = Float64Array.from(found.scores)
  const did = Uint8Array.from(found.did)
  const people = scores.length
  const total = sumOf(did)
  const order = Uint32Array.from(scores.keys()).sort(
    (a, b) => scores[b] - scores[a] || compareIds(ids, found.people[a], found.people[b]),
  )
  const compared = compareAucs(scores, Float64Array.from(found.last), did)
  const rate = total / people
  return {
    pass: 'tell',
    told: {
      ...{ people, did: total },
      auc: compared?.a ?? null,
      byLast: compared && { auc: compared.b, better: compared.difference },
      brier: meanOf(scores, (score, i) => (score - did[i]) ** 2),
      brierOfRate: rate * (1 - rate),
      tenths: Array.from({ length: 10 }, (_, g) => {
        const own = order.subarray(Math.floor((g * people) / 10), Math.floor(((g + 1) * people) / 10))
        const did1 = own.reduce((sum, i) => sum + did[i], 0)
        return {
          ...{ people: own.length, did: did1 },
          foretold: own.reduce((sum, i) => sum + scores[i], 0) / own.length,
          happened: wilson(did1, own.length),
          lift: rate > 0 && own.length > 0 ? did1 / own.length / rate : null,
        }
      }),
      caught: caughtBy(order, did),
      groups: model.features
        .flatMap((feature, column) => {
          const rows = ofColumn.get(column)
          if (feature.of !== 'value' || !rows || rows.length < LEAST_GROUP || rows.length === people) return []
          const own = Uint8Array.from(rows, (i) => did[i])
          const did1 = sumOf(own)
          if (did1 < LEAST_SORT || rows.length - did1 < LEAST_SORT) return []
          const { property, value } = feature
          const of = auc(
            Float64Array.from(rows, (i) => scores[i]),
            own,
          )
          return [{ property, value, people: rows.length, did: did1, auc: of }]
        })
        .sort((a, b) => b.people - a.people)
        .slice(0, MOST_GROUPS),
    },
  }
}

function caughtBy(order: Uint32Array, did: Uint8Array): number[] {
  const caught = [0]
  let [at, sum] = [0, 0]
  for (let percent = 1; percent <= 100; percent++) {
    for (const until = Math.floor((percent * order.length) / 100); at < until; at++) sum += did[order[at]]
    caught.push(sum)
  }
  return caught
}

const sumOf = (list: Uint8Array) => list.reduce((sum, each) => sum + each, 0)
const meanOf = (list: Float64Array, of: (each: number, i: number) => number) =>
  list.reduce((sum, each, i) => sum + of(each, i), 0) / list.length

function listed(lists: Map<number, number[]>, key: number): number[] {
  let list = lists.get(key)
  if (!list) lists.set(key, (list = []))
  return list
}
