import { own } from '../../names.js'
import { unit } from '../../stats/unit.js'
import type { Value } from '../../log/values.js'
import type { TestEventLike } from '../reference.js'

/** The slow and obvious reading of who is likely to, for tests: a full table of features, solved row by row. */
export interface ReferenceLikelihood {
  goal: string
  days: number
  back: number
  again: boolean
  now: number
  profiles: Record<string, Record<string, Value>>
}

const DAY = 86_400_000

interface Person {
  id: string
  did: boolean
  features: Map<string, number>
}

/** Who is in at a moment, and what is known of them then; days are those of UTC. */
function peopleAt(events: readonly TestEventLike[], asked: ReferenceLikelihood, moment: number): Person[] {
  const { goal, days, back, again, profiles } = asked
  return [...new Set(events.map(({ person }) => person))].flatMap((id): Person[] => {
    const theirs = events.filter(({ person }) => person === id)
    const before = theirs.filter(({ time }) => time <= moment)
    if (before.length === 0 || (!again && before.some(({ event }) => event === goal))) return []
    const did = theirs.some(({ event, time }) => event === goal && time > moment && time <= moment + days * DAY)
    const lately = before.filter(({ time }) => time > moment - back * DAY)
    const features = new Map<string, number>()
    for (const event of new Set(events.map((each) => each.event))) {
      const times = lately.filter((each) => each.event === event).map(({ time }) => time)
      features.set(`count ${event}`, Math.log(1 + times.length))
      features.set(`last ${event}`, times.length > 0 ? (moment - Math.max(...times)) / DAY : back)
      features.set(`days ${event}`, Math.log(1 + new Set(times.map((time) => Math.floor(time / DAY))).size))
    }
    features.set('seen', Math.log(1 + (moment - Math.min(...before.map(({ time }) => time))) / DAY))
    for (const [property, value] of Object.entries(own(profiles, id) ?? {}))
      for (const each of Array.isArray(value) ? value : [value])
        features.set(typeof each === 'number' ? `number ${property}` : `is ${property} ${each}`, Number(each) || 1)
    return [{ id, did, features }]
  })
}

export interface ReferenceModel {
  trained: number
  lambda: number
  /** by name of a feature: its weight in deviations */
  weights: Map<string, number>
  auc: number
  /** by person there is now: the likelihood */
  scores: Map<string, number>
}

export function referenceLikelihood(events: readonly TestEventLike[], asked: ReferenceLikelihood): ReferenceModel {
  const people = peopleAt(events, asked, asked.now - asked.days * DAY)
  const current = peopleAt(events, asked, asked.now)
  const properties = [...new Set(Object.values(asked.profiles).flatMap((own) => Object.keys(own)))]
  const isTrained = ({ id }: Person) => unit(`split:${id}`) < 0.7
  const trained = people.filter(isTrained)
  const least = trained.length / 100
  const kept = new Set<string>()
  for (const event of new Set(events.map((each) => each.event)))
    if (trained.filter(({ features }) => features.get(`count ${event}`)! > 0).length >= least)
      for (const of of ['count', 'last', 'days']) kept.add(`${of} ${event}`)
  kept.add('seen')
  const has = (property: string) => (person: Person) => Object.hasOwn(own(asked.profiles, person.id) ?? {}, property)
  for (const name of new Set(trained.flatMap(({ features }) => [...features.keys()])))
    if (name.startsWith('is ') && trained.filter(({ features }) => features.has(name)).length >= least) kept.add(name)
  for (const property of properties) {
    const numbers = trained.flatMap(({ features }) => features.get(`number ${property}`) ?? [])
    if (numbers.length > 0) {
      kept.add(`number ${property}`)
      const mean = numbers.reduce((sum, x) => sum + x, 0) / numbers.length
      for (const { features } of [...people, ...current])
        if (!features.has(`number ${property}`)) features.set(`number ${property}`, mean)
    }
    const isText = trained.some(({ features }) =>
      [...features.keys()].some((name) => name.startsWith(`is ${property} `)),
    )
    for (const person of [...people, ...current]) if (!has(property)(person)) person.features.set(`none ${property}`, 1)
    if (isText && trained.filter((person) => !has(property)(person)).length >= least) kept.add(`none ${property}`)
  }
  const measured = [...kept].flatMap((name) => {
    const values = trained.map(({ features }) => features.get(name) ?? 0)
    const mean = values.reduce((sum, x) => sum + x, 0) / values.length
    const variance = values.reduce((sum, x) => sum + (x - mean) ** 2, 0) / values.length
    if (variance < 1e-12) return []
    const isNumber = !name.startsWith('is ') && !name.startsWith('none ')
    const alone = aucOf(trained.map(({ did }, i) => ({ did, score: values[i] })))
    if (Math.max(alone, 1 - alone) > 0.98) return []
    return [{ name, mean: isNumber ? mean : 0, deviation: isNumber ? Math.sqrt(variance) : 1 }]
  })
  const rowOf = ({ features }: Person) => [
    ...measured.map(({ name, mean, deviation }) => ((features.get(name) ?? 0) - mean) / deviation),
    1,
  ]
  const rows = trained.map(rowOf)
  const did = trained.map((person) => Number(person.did))
  const folds = trained.map(({ id }) => Math.floor(5 * unit(`fold:${id}`)))
  const lambdas = Array.from({ length: 11 }, (_, i) => 10 ** (2 - i / 2))
  const losses = lambdas.map((lambda) =>
    [0, 1, 2, 3, 4].reduce((sum, fold) => {
      const weights = solve(
        rows.filter((_, i) => folds[i] !== fold),
        did.filter((_, i) => folds[i] !== fold),
        lambda,
      )
      return rows.reduce((loss, row, i) => {
        if (folds[i] !== fold) return loss
        const p = chance(row, weights)
        return loss - Math.log(did[i] ? p : 1 - p)
      }, sum)
    }, 0),
  )
  const lambda = lambdas[losses.indexOf(Math.min(...losses))]
  const weights = solve(rows, did, lambda)
  return {
    ...{ trained: trained.length, lambda },
    weights: new Map(measured.map(({ name }, i) => [name, weights[i]])),
    auc: aucOf(
      people.filter((each) => !isTrained(each)).map((each) => ({ did: each.did, score: chance(rowOf(each), weights) })),
    ),
    scores: new Map(current.map((each) => [each.id, chance(rowOf(each), weights)])),
  }
}

const chance = (row: number[], weights: number[]) =>
  1 / (1 + Math.exp(-row.reduce((sum, x, j) => sum + x * weights[j], 0)))

/** Of every pair of one who did it and one who did not. */
function aucOf(people: { did: boolean; score: number }[]): number {
  const [yes, no] = [people.filter(({ did }) => did), people.filter(({ did }) => !did)]
  const won = yes.reduce(
    (sum, a) => sum + no.reduce((n, b) => n + (a.score > b.score ? 1 : a.score === b.score ? 0.5 : 0), 0),
    0,
  )
  return won / (yes.length * no.length)
}

/** Newton's method on the full table, solved by elimination. */
function solve(rows: number[][], did: number[], lambda: number): number[] {
  const size = rows[0].length
  const weights = new Array<number>(size).fill(0)
  for (let round = 0; round < 40; round++) {
    const slope = weights.map((w, j) => (j < size - 1 ? lambda * w : 0))
    const curve = weights.map((_, j) => weights.map((__, k) => (j === k && j < size - 1 ? lambda : 0)))
    rows.forEach((row, i) => {
      const p = chance(row, weights)
      for (let j = 0; j < size; j++) {
        slope[j] += ((p - did[i]) * row[j]) / rows.length
        for (let k = 0; k < size; k++) curve[j][k] += (p * (1 - p) * row[j] * row[k]) / rows.length
      }
    })
    if (Math.max(...slope.map(Math.abs)) < 1e-11) break
    const down = eliminate(curve, slope)
    down.forEach((d, j) => (weights[j] -= d))
  }
  return weights
}

function eliminate(matrix: number[][], right: number[]): number[] {
  const all = matrix.map((row, i) => [...row, right[i]])
  const n = right.length
  for (let i = 0; i < n; i++) {
    const best = all.slice(i).reduce((at, row, k) => (Math.abs(row[i]) > Math.abs(all[at][i]) ? i + k : at), i)
    ;[all[i], all[best]] = [all[best], all[i]]
    for (let k = 0; k < n; k++) {
      if (k === i) continue
      const times = all[k][i] / all[i][i]
      for (let j = i; j <= n; j++) all[k][j] -= times * all[i][j]
    }
  }
  return all.map((row, i) => row[n] / row[i])
}
