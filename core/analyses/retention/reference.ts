import { Temporal } from 'temporal-polyfill'
import { dayOf, startOfUnit, type Calendar } from '../../time/range.js'
import type { TestEventLike } from '../reference.js'
import type { RetentionUnit } from './question.js'

export interface ReferenceRetention {
  isStart(event: TestEventLike): boolean
  isBack(event: TestEventLike): boolean
  firstEver: boolean
  every: RetentionUnit
  clock: boolean
  /** days in place of units */
  brackets: boolean
  onward: boolean
  /** [from, until) of starts, epoch ms */
  from: number
  until: number
  now: number
  calendar: Calendar
}

/** One person with a start in the range. */
export interface ReferenceStarter {
  person: string
  start: TestEventLike
  /** first local day of the cohort's bucket; of hours the hour's number since 1970 */
  cohort: string
  /** how many steps of the period's unit after the start's own each return lies */
  steps: number[]
}

/**
 * Everybody who starts, as the definition reads (how numbers are counted, 7): a walk over each person's events, one
 * after another.
 */
export function referenceStarters(events: readonly TestEventLike[], asked: ReferenceRetention): ReferenceStarter[] {
  return [...new Set(events.map(({ person }) => person))].flatMap((person): ReferenceStarter[] => {
    const own = events
      .filter((event) => event.person === person && event.time <= asked.now)
      .map((event, i) => ({ event, i }))
      .sort((a, b) => a.event.time - b.event.time || a.i - b.i)
      .map(({ event }) => event)
    const isIn = ({ time }: TestEventLike) => time >= asked.from && time < asked.until
    const start = own.find((event) => asked.isStart(event) && (asked.firstEver || isIn(event)))
    if (!start || !isIn(start)) return []
    const later = own.slice(own.indexOf(start) + 1).filter((event) => asked.isBack(event))
    const steps = later.map((event) => stepsApart(start.time, event.time, asked))
    return [{ person, start, cohort: unitOf(start.time, asked.every, asked.calendar), steps }]
  })
}

const HOUR = 3_600_000
export function stepsApart(
  start: number,
  at: number,
  { every, clock, brackets, calendar }: ReferenceRetention,
): number {
  const unit = brackets ? 'day' : every
  if (clock) return Math.floor((at - start) / ({ hour: 1, day: 24, week: 168, month: 720 }[unit] * HOUR))
  if (unit === 'hour') return Math.floor(at / HOUR) - Math.floor(start / HOUR)
  let from = Temporal.PlainDate.from(unitOf(start, unit, calendar))
  const to = Temporal.PlainDate.from(unitOf(at, unit, calendar))
  let steps = 0
  for (; Temporal.PlainDate.compare(from, to) < 0; steps++) from = from.add({ [`${unit}s`]: 1 })
  return steps
}

export function unitOf(at: number, unit: RetentionUnit, calendar: Calendar): string {
  if (unit === 'hour') return String(Math.floor(at / HOUR))
  return startOfUnit(dayOf(at, calendar.zone), unit, calendar).toString()
}
