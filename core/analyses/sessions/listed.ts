import type { EventLog, PersonRange } from '../../log/log.js'
import { Growing, type Pieces } from '../../stats/pieces.js'
import type { SessionsMark } from './marks.js'
import type { SessionsPlan } from './plan.js'
import { eachAsked, testsOf } from './scan.js'

/** What is told of each session, number after number. */
export const LISTED = [
  /** the workspace's number of the person, and which of their sessions it is, from 1 */
  ...(['person', 'number'] as const),
  /** epoch ms of its first event, and its length, ms */
  ...(['start', 'ms'] as const),
  'events',
  /** types of its first and last event, after merging, and where the first came from, as codes */
  ...(['entry', 'exit', 'source'] as const),
  /** 1 = it may still go on */
  'open',
] as const
export type Listed = (typeof LISTED)[number]

/** The sessions counted in any of the marks, each once: LISTED numbers of each, in order of people. */
export function listSessions(
  log: EventLog,
  people: PersonRange,
  plan: SessionsPlan,
  marks: readonly SessionsMark[],
): Pieces {
  const { time, type, source } = log
  const tests = testsOf(log, plan, marks)
  const found = new Growing()
  let [lastPerson, lastStart] = [-1, -1]
  eachAsked(log, people, plan, (session, bucket, period) => {
    const { person, start, end, number, open } = session
    // Where a time overlaps the one it is compared with, it comes twice.
    if (person === lastPerson && start === lastStart) return
    if (!tests.some((holds) => holds(session, bucket, period))) return
    ;[lastPerson, lastStart] = [person, start]
    found.push(person)
    found.push(number)
    found.push(time[start])
    found.push(time[end - 1] - time[start])
    found.push(end - start)
    found.push(plan.currentOf[type[start]] ?? 0)
    found.push(plan.currentOf[type[end - 1]] ?? 0)
    found.push(source[start])
    found.push(open ? 1 : 0)
  })
  return [found.done()]
}
