import { limitMs } from '../questions/limits.js'
import { own } from '../names.js'
import { Temporal } from 'temporal-polyfill'
import type { TestEventLike } from '../analyses/reference.js'
import type { EventPick } from '../questions/parts.js'
import { dayOf, spanOf, startOfDay, startOfUnit, type Calendar } from '../time/range.js'
import {
  isGroup,
  type CountTest,
  type DidCondition,
  type NumberCompare,
  type Rule,
  type SegmentCondition,
} from './rule.js'

/** What the slow reading of a rule needs to know of the world around one person. */
export interface ReferenceWorld {
  calendar: Calendar
  matches(event: TestEventLike, pick: EventPick): boolean
  profileHolds(condition: Extract<SegmentCondition, { kind: 'profile' }>, now: number): boolean
  /** the rule of another segment, or whether the person is on a frozen list */
  segment(id: string): Rule | boolean
  counted(condition: Extract<SegmentCondition, { kind: 'study' }>, now: number): boolean
}

/**
 * Whether a rule holds for a person as of a moment, as its definition reads: every condition by itself, every event
 * looked at anew. @param events the person's, in order of time, then arrival
 */
export function referenceMember(
  rule: Rule,
  events: readonly TestEventLike[],
  now: number,
  world: ReferenceWorld,
): boolean {
  const seen = events.filter(({ time }) => time <= now)
  if (seen.length === 0) return false
  return holds(rule, seen, now, world) ?? true
}

/** @returns null for what says nothing */
function holds(rule: Rule, seen: readonly TestEventLike[], now: number, world: ReferenceWorld): boolean | null {
  if (rule.off) return null
  if (!isGroup(rule)) return conditionHolds(rule, seen, now, world)
  const said = rule.of.map((inner) => holds(inner, seen, now, world)).filter((each) => each !== null)
  if (said.length === 0) return null
  return rule.hold === 'all' ? said.every(Boolean) : rule.hold === 'any' ? said.some(Boolean) : !said.some(Boolean)
}

function conditionHolds(
  condition: SegmentCondition,
  seen: readonly TestEventLike[],
  now: number,
  world: ReferenceWorld,
): boolean {
  const { zone } = world.calendar
  const start = (day: string) => startOfDay(Temporal.PlainDate.from(day), zone)
  const end = (day: string) => startOfDay(Temporal.PlainDate.from(day).add({ days: 1 }), zone)
  switch (condition.kind) {
    case 'profile':
      return world.profileHolds(condition, now)
    case 'did':
      return didHolds(condition, seen, now, world)
    case 'sequence': {
      const done = seen.some((entry, index) => {
        if (!world.matches(entry, condition.steps[0])) return false
        let at = index
        for (const step of condition.steps.slice(1)) {
          at = seen.findIndex((event, later) => later > at && world.matches(event, step))
          if (at < 0 || seen[at].time > entry.time + limitMs(condition.within)) return false
        }
        return true
      })
      return done !== (condition.not === true)
    }
    case 'time': {
      const { asked, event, where, when } = condition
      const found = event ? seen.filter((each) => world.matches(each, where ? { event, where } : { event })) : seen
      if (found.length === 0) return false
      const { time } = asked.startsWith('first') ? found[0] : found[found.length - 1]
      if ('before' in when) return time < start(when.before)
      if ('after' in when) return time >= end(when.after)
      return time >= spanOf(when, now, world.calendar).from
    }
    case 'study':
      return world.counted(condition, now) !== (condition.not === true)
    case 'segment': {
      const other = world.segment(condition.segment)
      const is = (as: number) => (typeof other === 'boolean' ? other : referenceMember(other, seen, as, world))
      if (condition.since === undefined) return is(now) !== (condition.not === true)
      if (typeof other === 'boolean') return other !== (condition.not === true)
      const moments = [...(now >= start(condition.since) ? [now] : [])]
      for (
        let day = condition.since;
        end(day) - 1 <= now;
        day = Temporal.PlainDate.from(day).add({ days: 1 }).toString()
      )
        moments.push(end(day) - 1)
      return moments.some(is) !== (condition.not === true)
    }
  }
}

function didHolds(did: DidCondition, seen: readonly TestEventLike[], now: number, world: ReferenceWorld): boolean {
  const { zone } = world.calendar
  const { window } = did
  const today = dayOf(now, zone)
  const inWindow = (event: TestEventLike, index: number): boolean => {
    if (!window) return true
    if ('last' in window) return event.time >= startOfDay(today.subtract({ days: window.last - 1 }), zone)
    if ('before' in window) {
      const day = dayOf(event.time, zone)
      const ago = 1 + day.until(today, { largestUnit: 'days' }).days
      return ago >= window.before[0] && ago <= window.before[1]
    }
    if ('from' in window) {
      const day = dayOf(event.time, zone).toString()
      return day >= window.from && day <= window.to
    }
    const limit = window.days * 86_400_000
    if (window.after === 'first seen') return event.time <= seen[0].time + limit
    const pick = window.after
    const first = seen.findIndex((each) => world.matches(each, pick))
    return first >= 0 && index > first && event.time <= seen[first].time + limit
  }
  const found = seen.filter((event, index) => inWindow(event, index) && world.matches(event, did))
  if (did.not) return found.length === 0
  const value = measured(did.count, found, world.calendar)
  return value !== null && compares(value, did.count?.test ?? { op: '≥', number: 1 })
}

function measured(count: CountTest | undefined, found: readonly TestEventLike[], calendar: Calendar): number | null {
  const day = (event: TestEventLike) => dayOf(event.time, calendar.zone)
  const measure = count?.measure ?? 'times'
  if (measure === 'times') return found.length
  if (measure === 'days') return new Set(found.map((event) => day(event).toString())).size
  if (measure === 'weeks') {
    return new Set(found.map((event) => startOfUnit(day(event), 'week', calendar).toString())).size
  }
  const { property } = count!
  const of = (event: TestEventLike) => (property?.of === 'event' ? own(event.properties, property.name) : undefined)
  if (count!.measure === 'values') {
    const values = found.flatMap((event) => of(event) ?? []) as unknown[]
    return new Set(values.map((value) => JSON.stringify(value))).size
  }
  const numbers = found.map(of).filter((value) => typeof value === 'number')
  const sum = numbers.reduce((total, x) => total + x, 0)
  if (count!.measure === 'sum') return sum
  if (numbers.length === 0) return null
  if (count!.measure === 'average') return sum / numbers.length
  return count!.measure === 'maximum' ? Math.max(...numbers) : Math.min(...numbers)
}

function compares(x: number, test: NumberCompare): boolean {
  switch (test.op) {
    case '=':
      return x === test.number
    case '≠':
      return x !== test.number
    case '<':
      return x < test.number
    case '≤':
      return x <= test.number
    case '>':
      return x > test.number
    case '≥':
      return x >= test.number
    case 'between':
      return x >= Math.min(...test.numbers) && x <= Math.max(...test.numbers)
  }
}
