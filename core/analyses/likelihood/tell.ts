import { sharedFloat64, sharedUint32, sharedUint8, type EventLog } from '../../log/log.js'
import { compareIds } from '../../log/personIds.js'
import { logistic } from '../../stats/logistic.js'
import { wilson } from '../../stats/proportion.js'
import { highestFirst } from '../../stats/ranked.js'
import { auc, compareAucs } from '../../stats/roc.js'
import { cutOffOf, TOLD } from './columns.js'
import type { FeaturePlaces, Weighed } from './features.js'
import type { Told, ToldPiece } from './model.js'
import type { Gathered, LikelihoodPlan } from './plan.js'
import { rowReader, type ProfileMoment } from './rows.js'

/** A value is told of by itself where it has so many people, and so many who did it and who did not. */
const LEAST_GROUP = 100
const LEAST_SORT = 20
const MOST_GROUPS = 12

/** People it is told of, piece by piece. */
export interface TellPart {
  pass: 'tell'
  pieces: ToldPiece[]
}

export interface JudgePart {
  pass: 'judge'
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

export function tell(log: EventLog, piece: number, plan: Extract<LikelihoodPlan, { pass: 'tell' }>): TellPart {
  const { sides, model, places, backDays } = plan
  const moment = cutOffOf(plan)
  const rows = sides.before[piece]
  const all = scoresOf(log, rows, model, places, moment, backDays)
  const read = rowReader(log, rows, places, moment, backDays)
  const grouped = model.features.map(({ of }) => of === 'value')
  const told = Uint32Array.from(rows.people.keys()).filter((row) => sides.folds[piece][row] === TOLD)
  const ofColumn = new Map<number, number[]>()
  told.forEach((row, at) => {
    read(row, (column) => {
      if (grouped[column]) listed(ofColumn, column).push(at)
    })
  })
  const own = {
    scores: sharedFloat64(told.length),
    did: sharedUint8(told.length),
    last: sharedFloat64(told.length),
    people: sharedUint32(told.length),
  }
  told.forEach((row, at) => {
    own.scores[at] = all[row]
    own.did[at] = rows.did[row]
    own.last[at] = rows.last[row]
    own.people[at] = rows.people[row]
  })
  return { pass: 'tell', pieces: [{ ...own, rows: ofColumn }] }
}

/** Of all it is told of together. */
export function judge({ pieces, model, ids }: Extract<LikelihoodPlan, { pass: 'judge' }>): JudgePart {
  const size = pieces.reduce((sum, { people }) => sum + people.length, 0)
  const [scores, last] = [new Float64Array(size), new Float64Array(size)]
  const did = new Uint8Array(size)
  const who = new Uint32Array(size)
  const ofColumn = new Map<number, number[]>()
  let base = 0
  for (const piece of pieces) {
    scores.set(piece.scores, base)
    last.set(piece.last, base)
    did.set(piece.did, base)
    who.set(piece.people, base)
    for (const [column, rows] of piece.rows) {
      const list = listed(ofColumn, column)
      for (const row of rows) list.push(base + row)
    }
    base += piece.people.length
  }
  const people = scores.length
  const total = sumOf(did)
  const order = highestFirst(scores, (a, b) => compareIds(ids, who[a], who[b]))
  const compared = compareAucs(scores, last, did)
  const rate = total / people
  return {
    pass: 'judge',
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
