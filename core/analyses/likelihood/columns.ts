import type { EventLog } from '../../log/log.js'
import { sharedFloat64, sharedUint16, sharedUint32, sharedUint8 } from '../../log/log.js'
import { idOf, type PersonIds } from '../../log/personIds.js'
import type { Schema } from '../../log/schema.js'
import type { SparseRows } from '../../stats/logistic.js'
import { sparseAuc } from '../../stats/roc.js'
import { unit } from '../../stats/unit.js'
import { elementsOf, type Feature, type FeaturePlaces, type PropertyPlaces } from './features.js'
import type { Gathered } from './plan.js'
import type { Counts } from './model.js'
import type { LikelihoodPlan } from './plan.js'
import { profileReader, rowReader, type ProfileMoment } from './rows.js'

/** Of the people trained on: so large a part of them at least have what is looked at. */
const LEAST_SHARE = 0.01
/** This part of the people is trained on, in five folds. */
const TRAINED = 0.7
export const FOLDS = 5
/** The fold of those whom it is told of. */
export const TOLD = 255

type Pass<K extends LikelihoodPlan['pass']> = Extract<LikelihoodPlan, { pass: K }>

/** What is counted of the people trained on. Joins by adding. */
export interface WeighPart {
  pass: 'weigh'
  counts: Counts
  folds: Uint8Array[]
  /** by place of a behaviour: people who did it in the days before */
  did: Float64Array
  /** by property asked for: people by code of their value, and those with a number, and its sum */
  properties: { codes: Map<number, number>; numbers: number; sum: number; late: number }[]
}

/** Which people are trained on, and in which fold. */
function foldsOf({ people }: Gathered, ids: PersonIds): Uint8Array {
  const folds = sharedUint8(people.length)
  for (let row = 0; row < people.length; row++) {
    const id = idOf(ids, people[row])
    folds[row] = unit(`split:${id}`) < TRAINED ? Math.floor(FOLDS * unit(`fold:${id}`)) : TOLD
  }
  return folds
}

export const cutOffOf = ({ moments, late }: LikelihoodPlan): ProfileMoment => ({
  ms: moments.cutOff ?? moments.now,
  late,
})

export function weigh(log: EventLog, piece: number, plan: Pass<'weigh'>): WeighPart {
  const rows = plan.sides.before[piece]
  const folds = foldsOf(rows, plan.ids)
  const counts: Counts = { trained: 0, trainedDid: 0, told: 0, toldDid: 0 }
  const did = new Float64Array(plan.names.length)
  const moment = cutOffOf(plan)
  const readers = plan.properties.map((code) => profileReader(log, code, moment))
  const properties = readers.map(() => ({ codes: new Map<number, number>(), numbers: 0, sum: 0, late: 0 }))
  for (let row = 0; row < folds.length; row++) {
    const own = rows.did[row]
    if (folds[row] === TOLD) {
      counts.told++
      counts.toldDid += own
      continue
    }
    counts.trained++
    counts.trainedDid += own
    for (let at = rows.starts[row]; at < rows.starts[row + 1]; at++) did[rows.place[at]]++
    const person = rows.people[row]
    for (let i = 0; i < readers.length; i++) {
      const found = properties[i]
      if (plan.late.get(plan.properties[i])?.[person] === 1) found.late++
      const number = readers[i].number(person)
      if (number === number) {
        found.numbers++
        found.sum += number
      } else {
        const code = readers[i].code(person)
        if (code > 0 || !readers[i].isDate(person)) found.codes.set(code, (found.codes.get(code) ?? 0) + 1)
      }
    }
  }
  return { pass: 'weigh', counts, folds: [folds], did, properties }
}

export function mergeWeighed(a: WeighPart, b: WeighPart): WeighPart {
  return {
    pass: 'weigh',
    counts: {
      trained: a.counts.trained + b.counts.trained,
      trainedDid: a.counts.trainedDid + b.counts.trainedDid,
      told: a.counts.told + b.counts.told,
      toldDid: a.counts.toldDid + b.counts.toldDid,
    },
    folds: [...a.folds, ...b.folds],
    did: a.did.map((n, place) => n + b.did[place]),
    properties: a.properties.map((own, i) => {
      const other = b.properties[i]
      // There may be a value for each person: what was merged so far is not copied for every piece.
      const { codes } = own
      for (const [code, n] of other.codes) codes.set(code, (codes.get(code) ?? 0) + n)
      return { codes, numbers: own.numbers + other.numbers, sum: own.sum + other.sum, late: own.late + other.late }
    }),
  }
}

/** The features that enough of the people trained on have, not yet measured. */
export function featuresOf(part: WeighPart, plan: Pass<'weigh'>, schema: Schema): Feature[] {
  const least = LEAST_SHARE * part.counts.trained
  const blank = { usual: 0, mean: 0, deviation: 1 }
  const ofEvents = plan.names.flatMap((event, place): Feature[] =>
    part.did[place] < least || part.did[place] === 0
      ? []
      : [
          { of: 'count', event, ...blank },
          { of: 'last', event, ...blank, usual: plan.backDays },
          { of: 'days', event, ...blank },
        ],
  )
  const ofProfile = plan.properties.flatMap((code, i): Feature[] => {
    const { name: property, dictionary } = schema.profile[code]
    const { codes, numbers, sum } = part.properties[i]
    const people = new Map<string | boolean, number>()
    for (const [value, n] of codes)
      for (const element of elementsOf(dictionary.values[value])) people.set(element, (people.get(element) ?? 0) + n)
    const values = [...people].filter(([, n]) => n >= least).map(([value]) => value)
    values.sort((a, b) => (String(a) < String(b) ? -1 : String(a) > String(b) ? 1 : 0))
    const none = people.size > 0 && (codes.get(0) ?? 0) >= least && (codes.get(0) ?? 0) > 0
    return [
      ...values.map((value): Feature => ({ of: 'value', property, value, ...blank })),
      ...(none ? [{ of: 'none' as const, property, ...blank }] : []),
      ...(numbers > 0 ? [{ of: 'number' as const, property, ...blank, usual: sum / numbers }] : []),
    ]
  })
  return [...ofEvents, { of: 'seen', ...blank }, ...ofProfile]
}

/** Where features are found in this state of the data. */
export function placesOf(features: readonly Feature[], names: readonly string[], schema: Schema): FeaturePlaces {
  const behaviours = new Int32Array(names.length * 3).fill(-1)
  const placeOf = new Map(names.map((name, place) => [name, place]))
  const properties = new Map<number, PropertyPlaces & { of: Map<string | boolean | null, number> }>()
  let seen = -1
  const propertyOf = (name: string) => {
    const code = schema.profileCode(name)
    if (code === undefined) return null
    let found = properties.get(code)
    if (!found) properties.set(code, (found = { ...nowhere(code), of: new Map() }))
    return found
  }
  features.forEach((feature, column) => {
    if (feature.of === 'seen') seen = column
    else if ('event' in feature) {
      const place = placeOf.get(feature.event)
      if (place !== undefined) behaviours[place * 3 + ['count', 'last', 'days'].indexOf(feature.of)] = column
    } else {
      const own = propertyOf(feature.property)
      if (!own) return
      if (feature.of === 'number') Object.assign(own, { number: column, usual: feature.usual })
      else own.of.set(feature.of === 'none' ? null : feature.value, column)
    }
  })
  return {
    ...{ behaviours, seen, size: features.length },
    properties: [...properties.values()].map(({ of, ...own }) => {
      const { values, elements } = schema.profile[own.code].dictionary
      const columnOf = (value: string | boolean | null) => of.get(value) ?? -1
      const ofList = [...elements.keys()].flatMap((code): [number, number[]][] => {
        const columns = elementsOf(values[code])
          .map(columnOf)
          .filter((column) => column >= 0)
        return columns.length > 0 ? [[code, columns]] : []
      })
      const ofCode = Int32Array.from(values, (value) =>
        value !== null && typeof value === 'object' ? -1 : columnOf(value),
      )
      return { ...own, ofCode, ofList: new Map(ofList) }
    }),
  }
}

const nowhere = (code: number): PropertyPlaces => ({
  ...{ code, ofCode: new Int32Array(0), ofList: new Map(), number: -1, usual: 0 },
})

/** Sums of what rows trained on have, by column, and of its squares. Joins by adding. */
export interface SpreadPart {
  pass: 'spread'
  sums: Float64Array
  squares: Float64Array
}

export function spread(log: EventLog, piece: number, plan: Pass<'spread' | 'apart'>): SpreadPart {
  const sums = new Float64Array(plan.places.size)
  const squares = new Float64Array(plan.places.size)
  eachTrained(log, piece, plan, (_row, column, value) => {
    sums[column] += value
    squares[column] += value * value
  })
  return { pass: 'spread', sums, squares }
}

/** Goes through what people trained on have, save what is usual. */
function eachTrained(
  log: EventLog,
  piece: number,
  plan: Pass<'spread' | 'apart' | 'matrix'>,
  visit: (row: number, column: number, value: number) => void,
): void {
  const { sides, places, backDays } = plan
  const read = rowReader(log, sides.before[piece], places, cutOffOf(plan), backDays)
  const folds = sides.folds[piece]
  let at = 0
  const take = (column: number, value: number) => visit(at, column, value)
  for (let row = 0; row < folds.length; row++) {
    if (folds[row] === TOLD) continue
    at = row
    read(row, take)
  }
}

/** With their means and deviations; those that do not vary are left out. */
export function measured(features: readonly Feature[], { sums, squares }: SpreadPart, trained: number): Feature[] {
  return features.flatMap((feature, column) => {
    const mean = sums[column] / trained
    const square = squares[column] / trained
    const variance = square - mean * mean
    // A number that is the same for all differs from it by rounding only.
    if (!(variance > square * 1e-12)) return []
    const isYesNo = feature.of === 'value' || feature.of === 'none'
    return [{ ...feature, mean, deviation: isYesNo ? 1 : Math.sqrt(variance) }]
  })
}

/** By column: how well a feature alone tells who does it, on the people trained on. */
export interface ApartPart {
  pass: 'apart'
  aucs: { column: number; auc: number }[]
}

/** Where some of the columns are found. */
function only(
  { behaviours, seen, properties, size }: FeaturePlaces,
  isOwn: (column: number) => boolean,
): FeaturePlaces {
  return {
    behaviours: behaviours.map((column) => (isOwn(column) ? column : -1)),
    ...{ seen: isOwn(seen) ? seen : -1, size },
    properties: properties.flatMap((property) => {
      const ofCode = property.ofCode.map((column) => (isOwn(column) ? column : -1))
      const ofList = new Map([...property.ofList].map(([code, columns]) => [code, columns.filter(isOwn)]))
      const number = isOwn(property.number) ? property.number : -1
      return [{ ...property, ofCode, ofList, number }]
    }),
  }
}

/** Of the columns of some behaviours and properties. */
export function apart(log: EventLog, group: number, groups: number, plan: Pass<'spread' | 'apart'>): ApartPart {
  const { sides, counts } = plan
  const wanted: { values: number[]; did: number[] }[] = []
  const isOwn = (column: number) => column >= 0 && Math.floor(column / 3) % groups === group
  for (let column = 0; column < plan.places.size; column++) if (isOwn(column)) wanted[column] = { values: [], did: [] }
  const own = { ...plan, places: only(plan.places, isOwn) }
  sides.before.forEach(({ did }, piece) => {
    eachTrained(log, piece, own, (row, column, value) => {
      wanted[column].values.push(value)
      wanted[column].did.push(did[row])
    })
  })
  const aucs = wanted.flatMap((own, column) => {
    const found = own.did.reduce((sum, each) => sum + each, 0)
    const auc = sparseAuc(
      Float64Array.from(own.values),
      Uint8Array.from(own.did),
      counts.trained - own.values.length,
      counts.trainedDid - found,
    )
    return auc === null ? [] : [{ column, auc: Math.max(auc, 1 - auc) }]
  })
  return { pass: 'apart', aucs }
}

/** Rows of the people trained on, piece by piece, from what is usual on and in deviations. */
export interface MatrixPart {
  pass: 'matrix'
  rows: SparseRows[]
}

export function matrix(log: EventLog, piece: number, plan: Pass<'matrix'>): MatrixPart {
  const { features } = plan
  const folds = plan.sides.folds[piece]
  const starts = sharedUint32(folds.length + 1)
  const columns: number[] = []
  const values: number[] = []
  let own: [number, number][] = []
  let at = -1
  const close = (until: number) => {
    own.sort(([a], [b]) => a - b)
    for (const [column, value] of own) {
      columns.push(column)
      values.push(value / features[column].deviation)
    }
    own = []
    for (let row = at + 1; row <= until; row++) starts[row] = columns.length
  }
  eachTrained(log, piece, plan, (row, column, value) => {
    if (row !== at) {
      close(row)
      at = row
    }
    own.push([column, value])
  })
  close(folds.length)
  const [column, value] = [sharedUint16(columns.length), sharedFloat64(values.length)]
  column.set(columns)
  value.set(values)
  return { pass: 'matrix', rows: [{ starts, column, value }] }
}
