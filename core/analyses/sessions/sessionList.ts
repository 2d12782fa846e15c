import type { Schema } from '../../log/schema.js'
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

/** The places of listed sessions in an order: equal ones the latest first, then by person. */
export function sortSessions(list: Float64Array, { by, up }: SessionSort): Uint32Array {
  const order = Uint32Array.from({ length: list.length / WIDTH }, (_, i) => i)
  const key = at(by === 'start' ? 'start' : by === 'length' ? 'ms' : 'events')
  const [start, person] = [at('start'), at('person')]
  const sign = up ? 1 : -1
  return order.sort((a, b) => {
    const [x, y] = [a * WIDTH, b * WIDTH]
    return (
      sign * (list[x + key]! - list[y + key]!) ||
      list[y + start]! - list[x + start]! ||
      list[x + person]! - list[y + person]!
    )
  })
}

export function sessionAt(list: Float64Array, place: number, { types, sources }: Schema): ListedSession {
  const told = (name: Listed) => list[place * WIDTH + at(name)]!
  return {
    ...{ person: told('person'), number: told('number'), startMs: told('start'), ms: told('ms') },
    ...{ events: told('events'), entry: types[told('entry')]!.name, exit: types[told('exit')]!.name },
    source: sources.values[told('source')] as string | null,
    open: told('open') === 1,
  }
}

/** Of how many people they are. */
export function peopleOfSessions(list: Float64Array): number {
  const people = new Set<number>()
  for (let i = 0; i < list.length; i += WIDTH) people.add(list[i]!)
  return people.size
}
