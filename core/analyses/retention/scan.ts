import { groupId } from '../../questions/groupId.js'
import { columnOf, isOfPerson } from '../../filters/bind.js'
import { bindGrouped, groupFinder, isIn, mergeFound, type ReadGroups } from '../../groups/grouped.js'
import type { GroupReader } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { bucketAt } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'
import { bindPick } from '../../filters/picks.js'
import { hasEnded, stepsBetween, type RetentionPart, type RetentionPlan } from './plan.js'
import { emptyTally, joinTallies, type RetentionTally } from './tally.js'
import type { RetentionMark } from './marks.js'

/** Fills the cells of cohorts and periods (how numbers are counted, 7). */
export function scanRetention(log: EventLog, people: PersonRange, plan: RetentionPlan): RetentionPart {
  if (plan.pass === 'known') return { pass: 'known' }
  if (plan.pass === 'cuts' || plan.pass === 'rank') return findGroups(log, people, plan)
  const { cohorts, periods, onward } = plan
  const many = periods.length
  const all = plan.keys.length
  const tally = emptyTally((all + 1) * cohorts.length, many)
  const add = adder(tally, many)
  eachStarter(log, people, plan, bindGrouped(log, plan.split), (starter, groups) => {
    const { cohort, at, returns } = starter
    returns.read()
    if (onward) returns.sumUp()
    if (groups) for (let i = 0; i < groups.length; i++) add(groups.found[i] * cohorts.length + cohort, at, returns)
    add(all * cohorts.length + cohort, at, returns)
  })
  return { pass: 'count', tally }
}

function adder({ people, latest, earliest, returned, events, sum }: RetentionTally, many: number) {
  return (row: number, at: number, { first, last, counts, sums }: Returns) => {
    people[row]++
    if (at > latest[row]) latest[row] = at
    if (at < earliest[row]) earliest[row] = at
    for (let k = first; k <= last; k++) {
      if (counts[k] === 0) continue
      const cell = row * many + k
      returned[cell]++
      events[cell] += counts[k]
      sum[cell] += sums[k]
    }
  }
}

export function mergeRetention(a: RetentionPart, b: RetentionPart): RetentionPart {
  if (a.pass === 'count' && b.pass === 'count') return { pass: 'count', tally: joinTallies(a.tally, b.tally) }
  if (a.pass === 'known' || b.pass === 'known' || a.pass === 'count' || b.pass === 'count') return a
  return mergeFound(a, b)
}

/** A person with a start in the range. */
interface Starter {
  person: number
  index: number
  /** of the start */
  row: number
  /** epoch ms */
  at: number
  cohort: number
  returns: Returns
}

/** What one person did after the start, by period; filled by `read`, and used again for the next person. */
interface Returns {
  counts: Uint32Array
  sums: Float64Array
  /** the periods between which there are returns; `last` < `first` where there are none */
  first: number
  last: number
  read(): void
  /** from each period on, rather than in it */
  sumUp(): void
}

/** Visits everybody who starts in the range, in order; `groups` are those of the start. */
function eachStarter(
  log: EventLog,
  people: PersonRange,
  plan: RetentionPlan,
  groupsOf: ReadGroups | null,
  visit: (starter: Starter, groups: GroupReader | null) => void,
): void {
  const { offsets, time, hidden, person: persons } = log
  const { among, grid, now, firstEver } = plan
  const starts = bindPick(plan.start, log)
  const { plain } = starts
  const firstQuarter = Math.floor(grid.from / QUARTER)
  const firstStart = (index: number, end: number, person: number): number => {
    if (!plain)
      return starts.next(firstEver ? offsets[index] : firstAt(time, offsets[index], end, grid.from), end, person)
    // The range begins with a quarter, so the quarters alone tell what lies before it.
    const { rows, quarters } = plain
    let cursor = plain.placeOf(offsets[index])
    if (!firstEver) while (cursor < rows.length && rows[cursor] < end && quarters[cursor] < firstQuarter) cursor++
    return cursor < rows.length && rows[cursor] < end ? rows[cursor] : -1
  }
  const starter = { person: 0, index: 0, row: -1, at: 0, cohort: 0 } as Starter
  starter.returns = returnsOf(log, plan, starter)
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const end = offsets[index + 1]
    const row = firstStart(index, end, person)
    if (row < 0) continue
    const at = time[row]
    if (at < grid.from || at >= grid.until || at > now) continue
    starter.person = person
    starter.index = index
    starter.row = row
    starter.at = at
    starter.cohort = bucketAt(grid, at)
    visit(starter, groupsOf && groupsOf(row, person))
  }
}

/** The first of a person's rows at or after a moment: they are in order of time. */
function firstAt(time: Float64Array, from: number, end: number, moment: number): number {
  let low = from
  let high = end
  while (low < high) {
    const middle = (low + high) >> 1
    if (time[middle] < moment) low = middle + 1
    else high = middle
  }
  return low
}

function returnsOf(log: EventLog, plan: RetentionPlan, starter: Starter): Returns {
  const { offsets, time, type: types, slot: slots } = log
  const { periods, clock, now, onward, value } = plan
  const backs = bindPick(plan.back, log)
  const many = periods.length
  // By step from the start: the period that it lies in; for onward, the last one that has begun. −1 = none.
  const lastStep = periods[many - 1][1]
  const periodOf = new Int16Array(lastStep + 1).fill(-1)
  periods.forEach(([low, high], k) => periodOf.fill(k, low, onward ? lastStep + 1 : high + 1))
  const nowQuarter = Math.floor(now / QUARTER)
  const byPerson = value !== null && isOfPerson(value)
  const columns: (Float64Array | null)[] = []
  if (value && value.of !== 'source')
    for (const type of plan.back.types) columns[type] = columnOf(value, log, type)?.numbers ?? null
  const numberAt = (row: number): number => {
    const numbers = columns[types[row]]
    const number = numbers ? numbers[byPerson ? starter.person : slots[row]] : 0
    return number === number ? number : 0
  }
  const returns: Returns = {
    ...{ counts: new Uint32Array(many), sums: new Float64Array(many), first: 0, last: -1 },
    read() {
      const { counts, sums } = returns
      for (let k = returns.first; k <= returns.last; k++) counts[k] = sums[k] = 0
      returns.first = many
      returns.last = -1
      const { index, row: start, at, person } = starter
      const end = offsets[index + 1]
      const { plain } = backs
      if (plain && !value && 'grid' in clock) {
        // The commonest question, without a call for each event: periods by the calendar, of one type's plain counts.
        const { rows, quarters, placeOf } = plain
        const { origin, bucketOfQuarter } = clock.grid
        const shift = origin / QUARTER
        const begun = bucketOfQuarter[Math.floor(at / QUARTER) - shift]
        for (let cursor = placeOf(start + 1); cursor < rows.length && rows[cursor] < end; cursor++) {
          const quarter = quarters[cursor]
          if (quarter >= nowQuarter && time[rows[cursor]] > now) break
          const step = bucketOfQuarter[quarter - shift] - begun
          if (step > lastStep && !onward) break
          const k = step > lastStep ? many - 1 : periodOf[step]
          if (k < 0) continue
          counts[k]++
          if (k < returns.first) returns.first = k
          if (k > returns.last) returns.last = k
        }
        if (returns.last < 0) returns.first = 0
        return
      }
      // Only what comes later in the person's order is a return.
      for (let row = backs.next(start + 1, end, person); row >= 0; row = backs.next(row + 1, end, person)) {
        if (time[row] > now) break
        const step = stepsBetween(clock, at, time[row])
        if (step > lastStep && !onward) break
        const k = step > lastStep ? many - 1 : periodOf[step]
        if (k < 0) continue
        counts[k]++
        if (value) sums[k] += numberAt(row)
        if (k < returns.first) returns.first = k
        if (k > returns.last) returns.last = k
      }
      if (returns.last < 0) returns.first = 0
    },
    sumUp() {
      const { counts, sums, last } = returns
      for (let k = last - 1; k >= 0; k--) {
        counts[k] += counts[k + 1]
        sums[k] += sums[k + 1]
      }
      if (last >= 0) returns.first = 0
    },
  }
  return returns
}

function findGroups(log: EventLog, people: PersonRange, plan: RetentionPlan): RetentionPart {
  const finder = groupFinder(log, plan)
  eachStarter(log, people, plan, null, ({ row, person }) => finder.meet(row, person))
  return finder.found()
}

/** A mark's question of one person. */
interface MarkTest {
  group: number
  /** null = of all cohorts that are complete */
  cohort: number | null
  /** null = whoever started */
  period: number | null
  what: RetentionMark['what']
}

/** Over all cohorts together, which cells are complete is known once they have been counted. */
export function readsRetention({ pass }: RetentionPlan, marks: readonly RetentionMark[]): boolean {
  const together = (mark: RetentionMark) =>
    mark.kind === 'cohort' && mark.cohort === undefined && mark.period !== undefined && mark.what !== 'gone'
  return pass === 'known' || (pass === 'count' && !marks.some(together))
}

/** The people of any of the marks, ascending by the workspace's number. */
export function selectRetention(
  log: EventLog,
  people: PersonRange,
  plan: RetentionPlan,
  marks: readonly RetentionMark[],
): Uint32Array {
  const all = plan.keys.length
  const { cohorts, periods, complete } = plan
  const tests = marks.flatMap((mark) => testOf(plan, mark) ?? [])
  const found: number[] = []
  eachStarter(log, people, plan, bindGrouped(log, plan.split), (starter, groups) => {
    let isRead = false
    const holds = ({ group, cohort, period, what }: MarkTest): boolean => {
      if (group !== all && !isIn(groups, group)) return false
      if (cohort !== null && cohort !== starter.cohort) return false
      if (period === null) return true
      const cell = (group * cohorts.length + starter.cohort) * periods.length + period
      // For good is told of each person by themselves, whatever the others of their cohort.
      if (cohort === null && what !== 'gone' && complete?.[cell] !== 1) return false
      if (!isRead) {
        isRead = true
        starter.returns.read()
        if (plan.onward) starter.returns.sumUp()
      }
      const came = starter.returns.counts[period] > 0
      if (what !== 'gone') return came === (what === 'returned')
      return !came && hasEnded(plan, starter.at, periods[period][1])
    }
    if (tests.some(holds)) found.push(starter.person)
  })
  return Uint32Array.from(found)
}

/** null where the mark is none of a retention's, or of one that was asked otherwise. */
function testOf(plan: RetentionPlan, mark: RetentionMark): MarkTest | null {
  if (mark.kind !== 'cohort') return null
  const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : plan.keys.length
  const cohort = mark.cohort === undefined ? null : plan.cohorts.findIndex(({ key }) => key === mark.cohort)
  const period = mark.period ?? null
  if (group < 0 || cohort === -1 || (period !== null && period >= plan.periods.length)) return null
  return { group, cohort, period: mark.what === 'started' ? null : period, what: mark.what }
}

/** The row at which a person came to be counted: their first return in the period, or their start. */
export function momentOfRetention(
  log: EventLog,
  index: number,
  plan: RetentionPlan,
  marks: readonly RetentionMark[],
): number | null {
  let moment: number | null = null
  const backs = bindPick(plan.back, log)
  eachStarter(log, { from: index, to: index + 1 }, plan, null, ({ row, at, person }) => {
    moment = row
    const mark = marks.find((each) => each.kind === 'cohort' && each.what === 'returned')
    if (mark?.kind !== 'cohort' || mark.period === undefined) return
    const [low, high] = plan.periods[mark.period] ?? [0, -1]
    const end = log.offsets[index + 1]
    for (let next = backs.next(row + 1, end, person); next >= 0; next = backs.next(next + 1, end, person)) {
      const step = stepsBetween(plan.clock, at, log.time[next])
      if (step < low) continue
      if (step <= high || plan.onward) moment = next
      return
    }
  })
  return moment
}
