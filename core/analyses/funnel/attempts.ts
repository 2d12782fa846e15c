import type { EntryPlan, FunnelPlan } from './shape.js'
import { bindTest, type RowTest } from '../../filters/bind.js'
import type { EventLog } from '../../log/log.js'
import { bucketAt, type Grid } from '../../time/buckets.js'
import { bindColumn } from './reading.js'

/** One attempt at the steps. It is reused: what is to be kept is copied. */
export interface Attempt {
  /** required steps filled, from the first on: 1 for an entry alone; in any order, steps done */
  depth: number
  /** by step: the row that filled it, −1 where none did; in any order, row of the k-th step done */
  rows: Int32Array
  /** something forbidden, or something between where nothing may be, ended it */
  ended: boolean
}

/** Finds the counted attempts of one person after the other (how numbers are counted, 6). */
export interface Finder {
  /** reads a person's rows. @returns false where nobody can enter */
  gather(index: number): boolean
  /** visits the counted attempts that begin in [from, until): one at most where people are counted */
  attempts(from: number, until: number, visit: (attempt: Attempt) => void): void
  /** the same of a funnel for each bucket: of what begins in it, by itself */
  inBuckets(grid: Grid, visit: (bucket: number, attempt: Attempt) => void): void
  /** how many of the gathered rows from `from`, which fills the step, up to, not including, `to` match it, with its value where one is held the same */
  matches(step: number, from: number, to: number): number
}

/** The plain case walks each step's matches once for all entries; all others follow every attempt by itself. */
export function finderOf(log: EventLog, plan: FunnelPlan): Finder {
  const { rules } = plan
  const plain =
    rules.order === 'one after another' &&
    !rules.attempts &&
    !rules.first &&
    !rules.same &&
    rules.forbidden.length === 0 &&
    plan.steps.every((step) => !step.optional && step.entry.length === 0)
  return plain ? plainFinder(log, plan) : generalFinder(log, plan)
}

/** By event type: what its rows may fill or end, with each filter tied to the type's columns. */
function testsByType(log: EventLog, plan: FunnelPlan) {
  const fills: { step: number; test: RowTest | null }[][] = log.rowsOfType.map(() => [])
  plan.steps.forEach((step, index) => {
    for (const type of step.types) fills[type]?.push({ step: index, test: bindTest(step.test, log, type) })
  })
  const ends: { after: number; test: RowTest | null }[][] = log.rowsOfType.map(() => [])
  for (const { types, test, after } of plan.rules.forbidden)
    for (const type of types) ends[type]?.push({ after, test: bindTest(test, log, type) })
  return { fills, ends }
}

const FILLS_NONE = -1
const LOOK = -2

function plainFinder(log: EventLog, plan: FunnelPlan): Finder {
  const n = plan.steps.length
  const { offsets, type: types, slot: slots } = log
  const { fills } = testsByType(log, plan)
  // Most types fill no step, or one whatever they carry: those need no look at the list of what they may fill.
  const kinds = Int8Array.from(fills, (steps) =>
    steps.length === 0 ? FILLS_NONE : steps.length === 1 && !steps[0].test ? steps[0].step : LOOK,
  )
  const matches = new Matches(n)
  const { from: earliest, until: latest } = reachOf(plan)
  const { time } = log
  const attempt: Attempt = { depth: 0, rows: new Int32Array(n), ended: false }
  return {
    gather(index) {
      matches.clear()
      const person = log.person[index]
      const end = offsets[index + 1]
      for (let row = firstFrom(time, offsets[index], end, earliest); row < end && time[row] <= latest; row++) {
        const kind = kinds[types[row]]
        if (kind === FILLS_NONE) continue
        if (kind >= 0) {
          // Nothing counts before an entry.
          if (kind === 0 || matches.counts[0] > 0) matches.add(kind, row)
          continue
        }
        const may = fills[types[row]]
        for (let i = 0; i < may.length; i++) {
          const { step, test } = may[i]
          if (!test || test(row, slots[row], person)) matches.add(step, row)
        }
      }
      return matches.counts[0] > 0
    },
    attempts(from, until, visit) {
      eachDeepest(log, plan, matches, attempt, { from, until, grid: null }, (_bucket, found) => visit(found))
    },
    inBuckets(grid, visit) {
      eachDeepest(log, plan, matches, attempt, { from: grid.from, until: grid.until, grid }, visit)
    },
    matches(step, from, to) {
      const { rows, counts } = matches
      let found = 0
      for (let i = 0; i < counts[step] && rows[step][i] < to; i++) if (rows[step][i] >= from) found++
      return found
    },
  }
}

/**
 * No attempt begins before, save where it is asked whether it is the first ever, or an earlier one may have taken what
 * lies in the time; and none takes anything after.
 */
function reachOf({ spans, windowMs, rules, now }: FunnelPlan): { from: number; until: number } {
  return {
    from: rules.first ? -Infinity : Math.min(...spans.map(({ from }) => from)) - (rules.attempts ? windowMs : 0),
    until: Math.min(now, Math.max(...spans.map(({ until }) => until)) + windowMs),
  }
}

/** @returns the first of a person's rows that is not before a moment */
export function firstFrom(time: EventLog['time'], from: number, to: number, moment: number): number {
  if (from === to || time[from] >= moment) return from
  let [low, high] = [from + 1, to]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (time[middle] < moment) low = middle + 1
    else high = middle
  }
  return low
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
  }

  add(step: number, row: number): void {
    const at = this.counts[step]++
    if (at === this.rows[step].length) this.rows[step] = wider(this.rows[step])
    this.rows[step][at] = row
  }
}

function wider(array: Int32Array): Int32Array<ArrayBuffer> {
  const next = new Int32Array(array.length * 2)
  next.set(array)
  return next
}

/** When attempts begin that are looked at: all together, or each bucket of a grid by itself. */
interface Begun {
  from: number
  until: number
  grid: Grid | null
}

/**
 * Plainly: for each entry in order, take the earliest later row that matches step 2, the earliest after that for
 * step 3, and so on, while within the window; keep the first attempt that is deepest. A later entry never finds an
 * earlier row for any step, so each step's rows are walked once for all entries together.
 */
function eachDeepest(
  { time }: EventLog,
  plan: FunnelPlan,
  matches: Matches,
  best: Attempt,
  { from, until, grid }: Begun,
  visit: (bucket: number, attempt: Attempt) => void,
): void {
  const n = plan.steps.length
  const { rows, counts, next } = matches
  next.fill(0)
  best.depth = 0
  let bucket = 0
  for (let e = 0; e < counts[0]; e++) {
    const entry = rows[0][e]
    const entered = time[entry]
    if (entered < from) continue
    if (entered >= until) break
    if (grid) {
      const own = bucketAt(grid, entered)
      if (own !== bucket) {
        if (best.depth > 0) visit(bucket, best)
        best.depth = 0
        bucket = own
      }
    }
    if (best.depth === n) {
      if (grid) continue
      break
    }
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
      best.rows.fill(-1)
      best.rows[0] = entry
      for (let step = 1; step < depth; step++) best.rows[step] = rows[step][next[step]]
    }
  }
  if (best.depth > 0) visit(bucket, best)
}

/** An attempt under way. */
interface Underway extends Attempt {
  /** where its entry stands among the gathered rows */
  entry: number
  /** no step is filled after this moment, epoch ms */
  limit: number
  /** steps filled, as bits */
  done: number
  complete: boolean
}

/** Steps as bits fit a number: there are 20 at most. */
const ANY_STEP = -1

/**
 * Every attempt by itself, over the rows that may fill a step or end an attempt. Counting people, attempts share
 * nothing and the first of the deepest is kept; counting attempts, all open ones are walked side by side, and an event
 * is taken by the oldest that can use it.
 */
function generalFinder(log: EventLog, plan: FunnelPlan): Finder {
  const { steps, rules } = plan
  const n = steps.length
  const { offsets, time, type: types, slot: slots } = log
  const { fills, ends } = testsByType(log, plan)
  const required = steps.flatMap((step, i) => (step.optional ? [] : [i]))
  const anyOrder = rules.order === 'any order'
  const backToBack = rules.order === 'back to back'
  // Where nothing may be between, every event matters that is not passive; a passive one only where it is a step.
  const between = Uint8Array.from(log.rowsOfType, (_rows, type) =>
    backToBack && (rules.passive[type] !== 1 || fills[type].length > 0) ? 1 : 0,
  )
  const matters = Uint8Array.from(log.rowsOfType, (_rows, type) =>
    fills[type].length > 0 || ends[type].length > 0 || between[type] === 1 ? 1 : 0,
  )
  const { from: earliest, until: latest } = reachOf(plan)
  let count = 0
  let person = 0
  let row = new Int32Array(64)
  let fill = new Int32Array(64)
  let stop = new Int32Array(64)
  const sameOf = rules.same ? bindColumn(log, rules.same) : null
  const entryTests = steps.map((step) => step.entry.map((test) => bindEntry(log, test)))

  const fits = (attempt: Underway, step: number, i: number): boolean =>
    (fill[i] & (1 << step)) !== 0 &&
    (sameOf === null || sameOf.equal(row[attempt.entry], row[i], person)) &&
    entryTests[step].every((holds) => holds(row[i], row[attempt.entry], person))

  /** Whether a gathered row can begin an attempt. */
  const begins = (i: number): boolean =>
    (anyOrder ? fill[i] !== 0 : (fill[i] & 1) !== 0) && (sameOf === null || sameOf.has(row[i], person))

  const begin = (i: number, into: Underway): void => {
    into.entry = i
    into.limit = Math.min(time[row[i]] + plan.windowMs, plan.now)
    into.rows.fill(-1)
    into.rows[0] = row[i]
    into.depth = 1
    into.done = anyOrder ? lowestBit(fill[i]) : 1
    into.ended = false
    into.complete = required.length === 1
  }

  /** The step that a row would fill in an attempt; −1 = none. */
  const stepFor = (attempt: Underway, i: number): number => {
    if (anyOrder) {
      for (let step = 0; step < n; step++) if ((attempt.done & (1 << step)) === 0 && fits(attempt, step, i)) return step
      return -1
    }
    const next = required[attempt.depth]
    if (fits(attempt, next, i)) return next
    // Of the optional steps before the next required one, the first that fits and comes after those already filled.
    let filled = required[attempt.depth - 1]
    for (let step = filled + 1; step < next; step++) if (attempt.rows[step] >= 0) filled = step
    for (let step = filled + 1; step < next; step++) if (fits(attempt, step, i)) return step
    return -1
  }

  const take = (attempt: Underway, step: number, i: number): void => {
    attempt.done |= 1 << step
    if (anyOrder) attempt.rows[attempt.depth] = row[i]
    else attempt.rows[step] = row[i]
    if (anyOrder || !steps[step].optional) attempt.depth++
    attempt.complete = attempt.depth === required.length
  }

  /** What a row that an attempt does not take does to it. */
  const pass = (attempt: Underway, i: number): void => {
    const after = anyOrder ? attempt.depth - 1 : required[attempt.depth - 1]
    if ((stop[i] & (1 << after)) !== 0 || between[types[row[i]]] === 1) attempt.ended = true
  }

  const fresh = (): Underway => ({
    ...{ depth: 0, rows: new Int32Array(n), ended: false, entry: 0, limit: 0, done: 0, complete: false },
  })
  const current = fresh()
  const best = fresh()

  const follow = (entry: number): void => {
    begin(entry, current)
    for (let i = entry + 1; i < count && !current.complete && !current.ended; i++) {
      if (time[row[i]] > current.limit) break
      const step = stepFor(current, i)
      if (step >= 0) take(current, step, i)
      else pass(current, i)
    }
  }

  const keep = (attempt: Underway, into: Underway): void => {
    Object.assign(into, { ...attempt, rows: into.rows })
    into.rows.set(attempt.rows)
  }

  const countPeople = ({ from, until, grid }: Begun, visit: (bucket: number, attempt: Attempt) => void): void => {
    best.depth = 0
    best.complete = false
    let bucket = 0
    for (let i = 0; i < count; i++) {
      if (!begins(i)) continue
      const entered = time[row[i]]
      if (entered >= until) break
      if (entered >= from) {
        const own = grid ? bucketAt(grid, entered) : 0
        if (own !== bucket) {
          if (best.depth > 0) visit(bucket, best)
          best.depth = 0
          best.complete = false
          bucket = own
        }
        if (!best.complete) {
          follow(i)
          if (current.depth > best.depth) keep(current, best)
        } else if (!grid) break
      }
      if (rules.first) break
    }
    if (best.depth > 0) visit(bucket, best)
  }

  const countAttempts = ({ from, until, grid }: Begun, visit: (bucket: number, attempt: Attempt) => void): void => {
    const begun: Underway[] = []
    let open: Underway[] = []
    let entries = 0
    for (let i = 0; i < count; i++) {
      const at = time[row[i]]
      open = open.filter((attempt) => !attempt.complete && !attempt.ended && at <= attempt.limit)
      let taken = false
      for (const attempt of open) {
        const step = taken ? -1 : stepFor(attempt, i)
        if (step >= 0) {
          take(attempt, step, i)
          taken = true
        } else pass(attempt, i)
      }
      if (!begins(i) || (rules.first && entries++ > 0)) continue
      // What begins up to the window before takes what it takes, and is not counted itself.
      if (taken || at < from - plan.windowMs || at >= until) continue
      const attempt = fresh()
      begin(i, attempt)
      if (at >= from) begun.push(attempt)
      open.push(attempt)
    }
    for (const attempt of begun) visit(grid ? bucketAt(grid, time[attempt.rows[0]]) : 0, attempt)
  }
  const counted = rules.attempts ? countAttempts : countPeople

  return {
    gather(index) {
      count = 0
      person = log.person[index]
      let enters = false
      const end = offsets[index + 1]
      for (let at = firstFrom(time, offsets[index], end, earliest); at < end && time[at] <= latest; at++) {
        const type = types[at]
        if (matters[type] === 0) continue
        let fillBits = 0
        let stopBits = 0
        for (let i = 0; i < fills[type].length; i++) {
          const { step, test } = fills[type][i]
          if (!test || test(at, slots[at], person)) fillBits |= 1 << step
        }
        for (let i = 0; i < ends[type].length; i++) {
          const { after, test } = ends[type][i]
          if (!test || test(at, slots[at], person)) stopBits |= after < 0 ? ANY_STEP : 1 << after
        }
        if (fillBits === 0 && stopBits === 0 && between[type] === 0) continue
        if (count === row.length) [row, fill, stop] = [wider(row), wider(fill), wider(stop)]
        row[count] = at
        fill[count] = fillBits
        stop[count++] = stopBits
        if (anyOrder ? fillBits !== 0 : (fillBits & 1) !== 0) enters = true
      }
      return enters
    },
    attempts: (from, until, visit) => counted({ from, until, grid: null }, (_bucket, attempt) => visit(attempt)),
    inBuckets: (grid, visit) => counted({ from: grid.from, until: grid.until, grid }, visit),
    matches(step, from, to) {
      let found = 0
      for (let i = 0; i < count && row[i] < to; i++)
        if (row[i] >= from && (fill[i] & (1 << step)) !== 0 && (sameOf === null || sameOf.equal(from, row[i], person)))
          found++
      return found
    },
  }
}

function lowestBit(bits: number): number {
  return bits & -bits
}

/** Compares a row with its attempt's entry. Where either has no value only ≠ holds. */
function bindEntry(log: EventLog, { column, op, entry, entryCodes }: EntryPlan) {
  const own = bindColumn(log, column)
  const first = bindColumn(log, entry)
  const ordered = (x: number, y: number): boolean => {
    switch (op) {
      case '=':
      case '≠':
        return x === y
      case '<':
        return x < y
      case '≤':
        return x <= y
      case '>':
        return x > y
      case '≥':
        return x >= y
    }
  }
  const isEquality = op === '=' || op === '≠'
  return (row: number, entryRow: number, person: number): boolean => {
    const code = own.code(row, person)
    const holds =
      (isEquality && code > 0 && code === entryCodes[first.code(entryRow, person)]) ||
      ordered(own.number(row, person), first.number(entryRow, person)) ||
      ordered(own.date(row, person), first.date(entryRow, person))
    return op === '≠' ? !holds : holds
  }
}
