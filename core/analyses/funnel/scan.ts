import { bindTest, type RowTest } from '../../filters/bind.js'
import { addArrays, bindGroups, mergeTallies, tallyOf, type GroupReader } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId, type Mark } from '../../questions/parts.js'
import type { FunnelPart, FunnelPlan, FunnelTally } from './plan.js'

/** The counted attempt of one person; reused from person to person. */
interface Attempt {
  /** steps filled: 1 for an entry alone */
  depth: number
  /** row of each filled step */
  rows: Int32Array
}

/**
 * Finds each person's deepest attempt, the earliest of equally deep ones (calculations §3), and counts it.
 * A person's rows are consecutive and in order (time, then arrival). A step filled exactly `windowMs` after the entry
 * counts. Entries lie in the query's range; later steps may fall after it, up to now.
 */
export function scanFunnel(log: EventLog, people: PersonRange, plan: FunnelPlan): FunnelPart {
  if (plan.pass === 'rank') return rankEntries(log, people, plan)
  const n = plan.steps.length
  const tallies = Array.from({ length: plan.keys.length + 1 }, () => new TallyBuilder(n))
  const all = tallies[plan.keys.length]
  eachPerson(log, people, plan, (attempt, _person, groups) => {
    all.add(log, plan, attempt)
    if (!groups) return
    for (let i = 0; i < groups.length; i++) {
      // Who is in none of the segments side by side is in no group.
      const group = groups.found[i]
      if (group < plan.keys.length) tallies[group].add(log, plan, attempt)
    }
  })
  return { pass: 'count', tallies: tallies.map((tally) => tally.done()) }
}

export function mergeFunnel(a: FunnelPart, b: FunnelPart): FunnelPart {
  if (a.pass === 'rank' && b.pass === 'rank') return { pass: 'rank', tally: mergeTallies(a.tally, b.tally) }
  if (a.pass === 'count' && b.pass === 'count')
    return { pass: 'count', tallies: a.tallies.map((tally, i) => joinTallies(tally, b.tallies[i])) }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
}

/** The people whose counted attempt is where a mark says, ascending by the workspace's number. */
export function selectFunnel(
  log: EventLog,
  people: PersonRange,
  plan: FunnelPlan,
  marks: readonly Mark[],
): Uint32Array {
  const wanted = marks.flatMap((mark) => {
    if (mark.kind !== 'step') return []
    const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
    return group === -1 ? [] : [{ ...mark, groupIndex: group }]
  })
  const found: number[] = []
  eachPerson(log, people, plan, (attempt, person, groups) => {
    const open = isOpen(log, plan, attempt)
    const holds = wanted.some(({ step, what, groupIndex }) => {
      if (groupIndex !== null && !inGroup(groups, groupIndex)) return false
      if (what === 'reached') return attempt.depth > step
      const last = step === plan.steps.length - 1
      return attempt.depth === step + 1 && !last && (what === 'lost' || open)
    })
    if (holds) found.push(person)
  })
  return Uint32Array.from(found)
}

/** The last step that the counted attempt filled, where it is in one of the marks. */
export function momentOfFunnel(log: EventLog, index: number, plan: FunnelPlan, marks: readonly Mark[]): number | null {
  let moment: number | null = null
  eachPerson(log, { from: index, to: index + 1 }, plan, (attempt) => {
    const mark = marks.find((each) => each.kind === 'step' && attempt.depth > each.step)
    if (mark?.kind === 'step') moment = attempt.rows[mark.step]
  })
  return moment
}

function inGroup(groups: GroupReader | null, wanted: number): boolean {
  if (!groups) return false
  for (let i = 0; i < groups.length; i++) if (groups.found[i] === wanted) return true
  return false
}

/** Not complete, and the window of its entry is not over yet: may still go on. */
function isOpen(log: EventLog, plan: FunnelPlan, attempt: Attempt): boolean {
  return attempt.depth < plan.steps.length && log.time[attempt.rows[0]] + plan.windowMs > plan.now
}

type Visit = (attempt: Attempt, person: number, groups: GroupReader | null) => void

/** Visits everybody who has an entry, with their counted attempt and its groups. */
function eachPerson(log: EventLog, people: PersonRange, plan: FunnelPlan, visit: Visit): void {
  const n = plan.steps.length
  const { offsets, hidden, type: types, slot: slots } = log
  const { among } = plan
  // By event type: the steps it can fill, with each step's filter tied to the type's columns.
  const stepsOfType: { step: number; test: RowTest | null }[][] = log.rowsOfType.map(() => [])
  plan.steps.forEach((step, index) => {
    for (const type of step.types) stepsOfType[type]?.push({ step: index, test: bindTest(step.test, log, type) })
  })
  const fills = Uint8Array.from(stepsOfType, (steps) => (steps.length > 0 ? 1 : 0))
  const readers: (GroupReader | null)[] = []
  const readerOf = (type: number) => (readers[type] ??= bindGroups(plan.groups!, log, type))
  const matches = new Matches(n)
  const attempt: Attempt = { depth: 0, rows: new Int32Array(n) }

  for (let index = people.from; index < people.to; index++) {
    const person = log.person[index]
    if (hidden?.[index] === 1 || (among && among[person] !== 1)) continue
    matches.clear()
    const end = offsets[index + 1]
    for (let row = offsets[index]; row < end; row++) {
      const type = types[row]
      if (fills[type] === 0) continue
      for (const { step, test } of stepsOfType[type]) {
        if (!test || test(row, slots[row], person)) matches.add(step, row)
      }
    }
    if (matches.counts[0] === 0 || !findDeepest(log, plan, matches, attempt)) continue
    let reader: GroupReader | null = null
    if (plan.groups) {
      const entry = attempt.rows[0]
      reader = readerOf(types[entry])
      reader.read(entry, slots[entry], person)
    }
    visit(attempt, person, reader)
  }
}

/** One person's rows that match each step, in order. Grows as needed and is reused. */
class Matches {
  readonly rows: Int32Array[]
  readonly counts: Int32Array
  readonly next: Int32Array

  constructor(steps: number) {
    this.rows = Array.from({ length: steps }, () => new Int32Array(64))
    this.counts = new Int32Array(steps)
    this.next = new Int32Array(steps)
  }

  clear(): void {
    this.counts.fill(0)
    this.next.fill(0)
  }

  add(step: number, row: number): void {
    const at = this.counts[step]++
    if (at === this.rows[step].length) {
      const wider = new Int32Array(at * 2)
      wider.set(this.rows[step])
      this.rows[step] = wider
    }
    this.rows[step][at] = row
  }
}

/**
 * Plainly: for each entry in order, take the earliest later row that matches step 2, the earliest after that for
 * step 3, and so on, while within the window; keep the first attempt that is deepest. A later entry never finds an
 * earlier row for any step, so each step's rows are walked once for all entries together.
 * @returns false where no entry lies in the range
 */
function findDeepest({ time }: EventLog, plan: FunnelPlan, matches: Matches, best: Attempt): boolean {
  const n = plan.steps.length
  const { rows, counts, next } = matches
  best.depth = 0
  for (let e = 0; e < counts[0]; e++) {
    const entry = rows[0][e]
    const entered = time[entry]
    if (entered < plan.from) continue
    if (entered >= plan.until) break
    const limit = Math.min(entered + plan.windowMs, plan.now)
    let depth = 1
    let previous = entry
    while (depth < n) {
      const candidates = rows[depth]
      const count = counts[depth]
      let at = next[depth]
      while (at < count && candidates[at] <= previous) at++
      next[depth] = at
      if (at === count || time[candidates[at]] > limit) break
      previous = candidates[at]
      depth++
    }
    if (depth > best.depth) {
      best.depth = depth
      best.rows[0] = entry
      for (let step = 1; step < depth; step++) best.rows[step] = rows[step][next[step]]
      if (depth === n) break
    }
  }
  return best.depth > 0
}

class TallyBuilder {
  private readonly reached: Float64Array
  private readonly open: Float64Array
  private readonly fromPrevious: number[][]
  private readonly fromEntry: number[][]

  constructor(steps: number) {
    this.reached = new Float64Array(steps)
    this.open = new Float64Array(steps)
    this.fromPrevious = Array.from({ length: steps }, () => [])
    this.fromEntry = Array.from({ length: steps }, () => [])
  }

  add(log: EventLog, plan: FunnelPlan, attempt: Attempt): void {
    const { time } = log
    const entered = time[attempt.rows[0]]
    let previous = entered
    for (let step = 0; step < attempt.depth; step++) {
      this.reached[step]++
      if (step === 0) continue
      const at = time[attempt.rows[step]]
      this.fromPrevious[step].push(at - previous)
      this.fromEntry[step].push(at - entered)
      previous = at
    }
    if (isOpen(log, plan, attempt)) this.open[attempt.depth - 1]++
  }

  done(): FunnelTally {
    return {
      reached: this.reached,
      open: this.open,
      fromPrevious: this.fromPrevious.map((list) => Float64Array.from(list)),
      fromEntry: this.fromEntry.map((list) => Float64Array.from(list)),
    }
  }
}

function joinTallies(a: FunnelTally, b: FunnelTally): FunnelTally {
  const append = (x: Float64Array, y: Float64Array) => {
    const joined = new Float64Array(x.length + y.length)
    joined.set(x)
    joined.set(y, x.length)
    return joined
  }
  return {
    reached: addArrays(a.reached, b.reached),
    open: addArrays(a.open, b.open),
    fromPrevious: a.fromPrevious.map((list, i) => append(list, b.fromPrevious[i])),
    fromEntry: a.fromEntry.map((list, i) => append(list, b.fromEntry[i])),
  }
}

function rankEntries(log: EventLog, people: PersonRange, shared: FunnelPlan): FunnelPart {
  const groups = { ...shared.groups!, ofNumber: new Map<number, number>() }
  const fixed = groups.count
  const counts = new Array<number>(fixed).fill(0)
  eachPerson(log, people, { ...shared, groups }, (_attempt, _person, reader) => {
    for (let i = 0; i < reader!.length; i++) counts[reader!.found[i]] = (counts[reader!.found[i]] ?? 0) + 1
  })
  return { pass: 'rank', tally: tallyOf(groups, fixed, counts, counts) }
}
