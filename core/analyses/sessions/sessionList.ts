import type { Schema } from '../../log/schema.js'
import { STEP, type Steps } from '../../steps.js'
import type { SessionSort } from '../../sessions/listSort.js'
import { LISTED, type Listed } from './listed.js'

/** A session as a list tells of it. */
export interface ListedSession {
  /** the workspace's number of the person, and which of their sessions it is, from 1 */
  person: number
  number: number
  startMs: number
  /** from its first to its last event */
  ms: number
  events: number
  entry: string
  exit: string
  /** where its first event came from; null = no source */
  source: string | null
  /** something may yet follow in it */
  open: boolean
}

const WIDTH = LISTED.length
const at = (name: Listed) => LISTED.indexOf(name)

/** Listed sessions in an order: equal ones the latest first, then by person. Runs are put in order, then joined two by two. */
export function* sortSessions(list: Float64Array, { by, up }: SessionSort): Steps<Float64Array> {
  const key = at(by === 'start' ? 'start' : by === 'length' ? 'ms' : 'events')
  const [start, person] = [at('start'), at('person')]
  const sign = up ? 1 : -1
  const compare = (a: number, b: number): number => {
    const [x, y] = [a * WIDTH, b * WIDTH]
    return (
      sign * (list[x + key] - list[y + key]) || list[y + start] - list[x + start] || list[x + person] - list[y + person]
    )
  }
  const many = list.length / WIDTH
  let order = Uint32Array.from({ length: many }, (_, i) => i)
  for (let from = 0; from < many; from += STEP) {
    order.subarray(from, from + STEP).sort(compare)
    yield
  }
  let next = new Uint32Array(many)
  for (let run = STEP; run < many; run *= 2) {
    for (let from = 0; from < many; from += 2 * run) {
      const [middle, end] = [Math.min(from + run, many), Math.min(from + 2 * run, many)]
      let [a, b] = [from, middle]
      for (let to = from; to < end; to++) {
        next[to] = b >= end || (a < middle && compare(order[a], order[b]) <= 0) ? order[a++] : order[b++]
        if (to % STEP === 0) yield
      }
    }
    ;[order, next] = [next, order]
  }
  const sorted = new Float64Array(list.length)
  for (let to = 0; to < many; to++) {
    sorted.set(list.subarray(order[to] * WIDTH, (order[to] + 1) * WIDTH), to * WIDTH)
    if (to % STEP === 0) yield
  }
  return sorted
}

/** So many sessions are listed. */
export const sessionsListed = (list: Float64Array): number => list.length / WIDTH

export function sessionAt(list: Float64Array, place: number, { types, sources }: Schema): ListedSession {
  const told = (name: Listed) => list[place * WIDTH + at(name)]!
  return {
    ...{ person: told('person'), number: told('number'), startMs: told('start'), ms: told('ms') },
    ...{ events: told('events'), entry: types[told('entry')]!.name, exit: types[told('exit')]!.name },
    source: sources.values[told('source')] as string | null,
    open: told('open') === 1,
  }
}

/** Of how many people they are, as long as they stand in order of people. */
export function peopleOfSessions(list: Float64Array): number {
  let people = 0
  for (let i = 0; i < list.length; i += WIDTH) if (i === 0 || list[i] !== list[i - WIDTH]) people++
  return people
}
