import { sharedFloat64, sharedInt32, type EventLog, type PersonRange } from '../../log/log.js'
import { compareIds } from '../../log/personIds.js'
import { logistic, oddsOf } from '../../stats/logistic.js'
import { highestFirst } from '../../stats/ranked.js'
import type { ScoredPeople } from '../../made/scores.js'
import type { Scored } from './model.js'
import type { LikelihoodMark } from './marks.js'
import type { LikelihoodPlan } from './plan.js'
import { placesOf } from './slices.js'
import { scoresOf } from './tell.js'

type Pass<K extends LikelihoodPlan['pass']> = Extract<LikelihoodPlan, { pass: K }>

/** How likely everyone is as of now, piece by piece. */
export interface ScorePart {
  pass: 'score'
  scores: Float64Array[]
}

export function score(log: EventLog, piece: number, plan: Pass<'score'>): ScorePart {
  const { sides, model, places, backDays, moments } = plan
  // As of now nothing came too late.
  const moment = { ms: moments.now, late: new Map<number, Uint8Array>() }
  const found = scoresOf(log, sides.now[piece], model, places, moment, backDays)
  const scores = sharedFloat64(found.length)
  scores.set(found)
  return { pass: 'score', scores: [scores] }
}

/** Bars of the hill, from the least to the most likely, as wide as each other in the logarithm of the odds. */
const BARS = 40

/** Everyone there is now, the likeliest first. */
export interface PlacePart extends Scored {
  pass: 'place'
  /** by person: their place from the likeliest on, −1 = they are not scored */
  order: Int32Array
}

export function place(plan: Pass<'place' | 'read'>): PlacePart {
  const { sides, scores, ids } = plan
  const count = scores.reduce((sum, { length }) => sum + length, 0)
  const all = new Float64Array(count)
  const people = new Uint32Array(count)
  let at = 0
  sides.now.forEach((rows, piece) => {
    all.set(scores[piece], at)
    people.set(rows.people, at)
    at += rows.people.length
  })
  const sorted = highestFirst(all, (a, b) => compareIds(ids, people[a], people[b]))
  const order = sharedInt32(people.reduce((most, person) => Math.max(most, person), 0) + 1).fill(-1)
  sorted.forEach((row, i) => (order[people[row]] = i))
  const expected = [0]
  const lowest = [1]
  let [next, sum] = [0, 0]
  for (let percent = 1; percent <= 100; percent++) {
    for (const until = placesOf(percent, count); next < until; next++) sum += all[sorted[next]]
    expected.push(sum)
    lowest.push(next > 0 ? all[sorted[next - 1]] : 1)
  }
  return { pass: 'place', people: count, expected, lowest, hill: hillOf(all), order }
}

function hillOf(scores: Float64Array): PlacePart['hill'] {
  if (scores.length === 0) return []
  // What is as good as sure stands in the last bar.
  const odds = scores.map(oddsOf)
  const [low, high] = odds.reduce(([a, b], x) => [Math.min(a, x), Math.max(b, x)], [Infinity, -Infinity])
  if (high === low) return [{ from: scores[0], to: scores[0], people: scores.length }]
  const width = (high - low) / BARS
  const people = new Array<number>(BARS).fill(0)
  for (const x of odds) people[Math.min(BARS - 1, Math.floor((x - low) / width))]++
  return people.map((n, i) => ({ from: logistic(low + i * width), to: logistic(low + (i + 1) * width), people: n }))
}

/** Everyone's chance and place, of a plan by which people can be read; null where there are too few to learn from. */
export function scoredOf(plan: LikelihoodPlan): ScoredPeople | null {
  if (plan.pass !== 'read') return null
  const { order, people } = plan.placed!
  return {
    people: plan.sides.now.map((rows) => rows.people),
    ...{ scores: plan.scores, order },
    tenths: Array.from({ length: 11 }, (_, tenth) => placesOf(10 * tenth, people)),
  }
}

/** The people in any of the marks, ascending by the workspace's number. */
export function selectLikely(
  log: EventLog,
  { from, to }: PersonRange,
  { placed }: Pass<'place' | 'read'>,
  marks: readonly LikelihoodMark[],
): Uint32Array {
  const { order, people } = placed!
  const ranges = marks.map((mark) => [placesOf(mark.from, people), placesOf(mark.to, people)])
  const found: number[] = []
  for (let index = from; index < to; index++) {
    const person = log.person[index]
    const at = order[person] ?? -1
    if (log.hidden?.[index] === 1 || at < 0) continue
    if (ranges.some(([first, end]) => at >= first && at < end)) found.push(person)
  }
  return Uint32Array.from(found).sort()
}
