import { groupId } from '../../questions/groupId.js'
import {
  bindPeopleGroups,
  groupFinder,
  isMoving,
  mergeFound,
  rankFinder,
  type ReadPeopleGroups,
} from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { QUARTER } from '../../time/quarter.js'
import { bindPick } from '../../filters/picks.js'
import type { HabitCounts, HabitPart, HabitPlan } from './plan.js'
import type { HabitMark } from './marks.js'

/** Counts on how many days of each complete period people turn up (how numbers are counted, 8). */
export function scanHabit(log: EventLog, people: PersonRange, plan: HabitPlan): HabitPart {
  if (plan.pass === 'cuts') return findNumbers(log, people, plan)
  if (plan.pass === 'rank') return rankPeriods(log, people, plan)
  const { most, places } = plan
  const many = plan.periods.length
  const all = plan.keys.length
  const counts: HabitCounts = {
    exactly: new Float64Array((all + 1) * many * most),
    people: new Float64Array((all + 1) * most),
    peopleMore: new Float64Array((all + 1) * most),
    pattern: new Float64Array((all + 1) * places),
    patternPeople: new Float64Array((all + 1) * places),
  }
  const seen = new Int32Array((all + 1) * most).fill(-1)
  const seenPlace = new Int32Array((all + 1) * places).fill(-1)
  const highest = new Uint8Array(all + 1)
  eachPeriod(log, people, plan, kept(log, plan), {
    day(group, place, person) {
      if (places === 0) return
      const at = group * places + place
      counts.pattern[at]++
      if (seenPlace[at] !== person) {
        seenPlace[at] = person
        counts.patternPeople[at]++
      }
    },
    period(group, period, days, person) {
      counts.exactly[(group * many + period) * most + days - 1]++
      const at = group * most + days - 1
      if (seen[at] !== person) {
        seen[at] = person
        counts.people[at]++
      }
      if (days > highest[group]) highest[group] = days
    },
    person(group) {
      for (let d = 0; d < highest[group]; d++) counts.peopleMore[group * most + d]++
      highest[group] = 0
    },
  })
  return { pass: 'count', counts }
}

export function mergeHabit(a: HabitPart, b: HabitPart): HabitPart {
  if (a.pass === 'count' && b.pass === 'count') {
    const sum = (name: keyof HabitCounts) => addArrays(a.counts[name], b.counts[name])
    return {
      pass: 'count',
      counts: {
        ...{ exactly: sum('exactly'), people: sum('people'), peopleMore: sum('peopleMore') },
        ...{ pattern: sum('pattern'), patternPeople: sum('patternPeople') },
      },
    }
  }
  if (a.pass === 'count' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** Told of what one person did, group by group; `person` once for each group of theirs, at the end. */
interface Visitor {
  /** an event in a complete period */
  event?(row: number, person: number): void
  /** on another hour, day or week */
  day(group: number, place: number, person: number): void
  /** a period is over: on so many of them */
  period(group: number, period: number, days: number, person: number): void
  person(group: number, person: number): void
}

/** Walks over everybody's events in complete periods. Their order in time makes a day once left a day done. */
function eachPeriod(
  log: EventLog,
  people: PersonRange,
  plan: HabitPlan,
  groupsOf: ReadPeopleGroups | null,
  visitor: Visitor,
): void {
  const { offsets, time, hidden, person: persons } = log
  const { among, grid, periodOf, placeOf } = plan
  const { from, until, origin, bucketOfQuarter } = grid
  // A first pass has no place for all together.
  const all = plan.pass === 'count' ? plan.keys.length : -1
  const picker = bindPick(plan.pick, log)
  const { plain } = picker
  const moving = isMoving(plan.split)
  const shift = origin / QUARTER
  const firstQuarter = Math.floor(from / QUARTER)
  const lastQuarter = Math.floor((until - 1) / QUARTER)
  // By group; a first pass may find more groups as it goes.
  const lastDay: number[] = []
  const lastPeriod: number[] = []
  const days: number[] = []
  const touched: number[] = []
  const touch = (group: number, day: number, period: number, person: number) => {
    if (lastPeriod[group] === undefined || lastPeriod[group] < 0) {
      touched.push(group)
      lastPeriod[group] = period
      days[group] = 0
      lastDay[group] = -1
    } else if (lastPeriod[group] !== period) {
      visitor.period(group, lastPeriod[group], days[group], person)
      lastPeriod[group] = period
      days[group] = 0
      lastDay[group] = -1
    }
    if (lastDay[group] === day) return
    lastDay[group] = day
    days[group]++
    visitor.day(group, placeOf[day], person)
  }
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const end = offsets[index + 1]
    let groups = groupsOf && groupsOf(person, Infinity)
    let readAt = -1
    if (plain && !groups && !visitor.event) {
      // The commonest question, without a call for each event: one type's plain counts of everybody together.
      const { rows, quarters, placeOf } = plain
      let last = -1
      for (let cursor = placeOf(offsets[index]); cursor < rows.length && rows[cursor] < end; cursor++) {
        const quarter = quarters[cursor]
        if (quarter < firstQuarter) continue
        if (quarter >= lastQuarter && time[rows[cursor]] >= until) break
        const day = bucketOfQuarter[quarter - shift]
        if (day === last) continue
        last = day
        if (periodOf[day] >= 0) touch(all, day, periodOf[day], person)
      }
    } else
      for (let row = picker.next(offsets[index], end, person); row >= 0; row = picker.next(row + 1, end, person)) {
        const at = time[row]
        if (at < from) continue
        if (at >= until) break
        const day = bucketOfQuarter[Math.floor((at - origin) / QUARTER)]
        const period = periodOf[day]
        if (period < 0) continue
        visitor.event?.(row, person)
        if (moving && groupsOf && period !== readAt) {
          groups = groupsOf(person, plan.periods[period].end - 1)
          readAt = period
        }
        if (groups) for (let i = 0; i < groups.length; i++) touch(groups.found[i], day, period, person)
        if (all >= 0) touch(all, day, period, person)
      }
    for (const group of touched) {
      visitor.period(group, lastPeriod[group], days[group], person)
      visitor.person(group, person)
      lastPeriod[group] = -1
    }
    touched.length = 0
  }
}

/** The kept groups of a person. */
const kept = (log: EventLog, { split }: HabitPlan) => split && bindPeopleGroups(log, split)

/** The numbers of a breakdown, once for each event that counts. */
function findNumbers(log: EventLog, people: PersonRange, plan: HabitPlan): HabitPart {
  const finder = groupFinder(log, plan)
  eachPeriod(log, people, plan, null, {
    event: (row, person) => finder.meet(row, person),
    ...{ day() {}, period() {}, person() {} },
  })
  return finder.found()
}

/** Active person-periods by every group. */
function rankPeriods(log: EventLog, people: PersonRange, plan: HabitPlan): HabitPart {
  const { readPerson, count, found } = rankFinder(log, plan)
  eachPeriod(log, people, plan, readPerson, {
    day() {},
    period: (group) => count(group, 1),
    person() {},
  })
  return found()
}

/** The people of any of the marks, ascending by the workspace's number. */
export function selectHabit(
  log: EventLog,
  people: PersonRange,
  plan: HabitPlan,
  marks: readonly HabitMark[],
): Uint32Array {
  const tests = marks.flatMap((mark) => {
    if (mark.kind !== 'days') return []
    const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : plan.keys.length
    const period = mark.bucket === undefined ? null : plan.periods.findIndex(({ key }) => key === mark.bucket)
    if (group < 0 || period === -1) return []
    return [
      { group, period, place: mark.place ?? null, days: mark.days ?? 1, more: mark.more || mark.days === undefined },
    ]
  })
  const found = new Set<number>()
  eachPeriod(log, people, plan, kept(log, plan), {
    day(group, place, person) {
      for (const test of tests) if (test.group === group && test.place === place) found.add(person)
    },
    period(group, period, days, person) {
      for (const test of tests)
        if (
          test.place === null &&
          test.group === group &&
          (test.period === null || test.period === period) &&
          (test.more ? days >= test.days : days === test.days)
        )
          found.add(person)
    },
    person() {},
  })
  return Uint32Array.from(found).sort()
}
