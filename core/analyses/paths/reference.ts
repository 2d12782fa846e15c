import { own } from '../../names.js'
import { LIMIT_MS } from '../../questions/limits.js'
import type { EventPick, Filter } from '../../questions/parts.js'
import type { TestEventLike } from '../reference.js'
import { nodeId, type PathNode, type PathsQuestion } from './question.js'

/** The slow and obvious reading of how paths are counted, for tests: one way after another, over lists of events. */
export interface ReferenceEvent extends TestEventLike {
  source?: string
}
export interface ReferenceLog {
  events: readonly ReferenceEvent[]
  profiles: Readonly<Record<string, Readonly<Record<string, unknown>>>>
}

export interface ReferenceWay {
  person: string
  anchor: ReferenceEvent
  steps: { node: PathNode; time: number }[]
  /** ms from the start to where it has to get; null where it did not, or has not to */
  took: number | null
  more: boolean
}

export function referenceWays(
  { events, profiles }: ReferenceLog,
  question: PathsQuestion,
  span: { from: number; until: number; now: number },
  sessionMs = 1_800_000,
): ReferenceWay[] {
  const people = [...new Set(events.map(({ person }) => person))]
  return people.flatMap((person) => {
    const own = events
      .map((event, arrival) => ({ ...event, arrival }))
      .filter((event) => event.person === person && event.time <= span.now)
      .sort((a, b) => a.time - b.time || a.arrival - b.arrival)
    // A session goes on until a gap that is longer than the time-out.
    let session = 0
    const sessions = own.map(({ time }, i) => (i > 0 && time - own[i - 1].time > sessionMs ? ++session : session))
    const starts = own.flatMap((event, i) =>
      is(event, question.start) && event.time >= span.from && event.time < span.until ? [i] : [],
    )
    const chosen = question.count ? starts : question.backward ? starts.slice(-1) : starts.slice(0, 1)
    return chosen
      .map((start): ReferenceWay => {
        const others = question.count ? starts.filter((i) => (question.backward ? i < start : i > start)) : []
        const stop = question.backward ? Math.max(-1, ...others) : Math.min(own.length, ...others)
        const inTime = own
          .map((event, i) => ({ event, i }))
          .filter(({ i }) => (question.backward ? i < start && i > stop : i > start && i < stop))
          .filter(({ i }) => !question.session || sessions[i] === sessions[start])
          .filter(
            ({ event }) =>
              Math.abs(event.time - own[start].time) <= question.window.count * LIMIT_MS[question.window.unit],
          )
        const ordered = question.backward ? inTime.reverse() : inTime
        const reached = question.end ? ordered.findIndex(({ event }) => is(event, question.end!)) : -1
        const upTo = reached >= 0 ? ordered.slice(0, reached + 1) : ordered
        const nodes = upTo
          .filter(({ event }) => !question.leaveOut?.event.names.includes(event.event))
          .map(({ event }) => ({ node: nodeOf(event, question, profiles), event, time: event.time }))
        let last = nodeId(nodeOf(own[start], question, profiles))
        const folded = nodes.filter(({ node }) => {
          const repeats = !question.unfolded && nodeId(node) === last
          last = nodeId(node)
          return !repeats
        })
        const cut = folded.slice(0, question.steps)
        const keep =
          (question.contains ?? []).every((pick) => cut.some(({ event }) => is(event, pick))) &&
          !(question.lacks ?? []).some((pick) => cut.some(({ event }) => is(event, pick))) &&
          (question.through ?? []).every(
            ({ step, node }) => cut[step - 1] && nodeId(cut[step - 1].node) === nodeId(node),
          )
        return {
          person: keep ? person : '',
          anchor: own[start],
          steps: cut.map(({ node, time }) => ({ node, time })),
          took: reached >= 0 ? ordered[reached].event.time - own[start].time : null,
          more: question.end !== undefined && folded.length > question.steps,
        }
      })
      .filter(({ person: name }) => name !== '')
  })
}

function is(event: ReferenceEvent, { event: choice, where }: EventPick): boolean {
  return 'names' in choice && choice.names.includes(event.event) && (!where || holds(event, where))
}

/** The one form of condition that tests use. */
function holds(event: ReferenceEvent, where: Filter): boolean {
  if (!('op' in where) || where.op !== 'is' || where.property.of !== 'event') throw new Error('not read here')
  return where.values.includes(String(own(event.properties, where.property.name)))
}

function nodeOf(event: ReferenceEvent, { open = [] }: PathsQuestion, profiles: ReferenceLog['profiles']): PathNode {
  const by = open.find(({ event: { names } }) => names.includes(event.event))?.by
  if (!by) return { event: event.event }
  const value =
    by.of === 'source'
      ? event.source
      : by.of === 'event'
        ? own(event.properties, by.name)
        : own(own(profiles, event.person), by.name)
  if (value === undefined || typeof value === 'object') return { event: event.event, value: null }
  return { event: event.event, value: value as PathNode['value'] }
}
