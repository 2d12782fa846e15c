import { bindTest, type AsOf } from '../filters/bind.js'
import { bitWords, hasBit, setBit } from '../log/bits.js'
import type { EventLog } from '../log/log.js'
import { bindEvents, type EventCollector } from './events.js'
import { QUARTER } from '../time/quarter.js'
import { bindMeasure } from './measure.js'
import type { DidPlan, LeafPlan, MembersPlan, NodePlan } from './plan.js'

/** Says of people, one after another in order, as of which of the plan's moments they are members: a bit for each. */
export interface MembersReader {
  /** reads a person of the block by their index; later ones only */
  read(index: number): void
  /** of the person read last: whether there is any moment as of which the rule, or a part of it, holds */
  root: Int32Array
  alone: Int32Array[]
  /** as of which moments the person has an event at all */
  seen: Int32Array
}

/** Writes the bits of one condition. The person's rows are [from, to). */
type Fill = (from: number, to: number, person: number, bits: Int32Array) => void

export function bindMembers(plan: MembersPlan, log: EventLog, firstRow: number): MembersReader {
  const { moments } = plan
  const words = bitWords(moments.length)
  const every = allBits(moments.length)
  const many = moments.length
  const fills = plan.leaves.map((leaf) => bindLeaf(leaf, plan, log, firstRow))
  const leafBits = plan.leaves.map(() => new Int32Array(words))
  const root = new Int32Array(words)
  const alone = plan.alone.map(() => new Int32Array(words))
  const seen = new Int32Array(words)
  const { offsets, time, person: numbers } = log
  const rootOf = bindNode(plan.root, words)
  const aloneOf = plan.alone.map((node) => bindNode(node, words))
  return {
    root,
    alone,
    seen,
    read(index) {
      const from = offsets[index]
      const to = offsets[index + 1]
      const person = numbers[index]
      // Who has no event at or before a moment is not among those asked as of it.
      copy(every, seen)
      const first = to > from ? time[from] : Infinity
      for (let b = 0; b < many && moments[b] < first; b++) seen[b >>> 5] &= ~(1 << (b & 31))
      for (let i = 0; i < fills.length; i++) {
        const bits = leafBits[i]
        for (let word = 0; word < words; word++) bits[word] = 0
        fills[i](from, to, person, bits)
      }
      rootOf(leafBits, root)
      and(root, seen)
      for (let i = 0; i < alone.length; i++) {
        const node = plan.alone[i]
        const own = alone[i]
        // Most parts are single conditions, whose bits are there already.
        if (typeof node === 'number')
          for (let word = 0; word < words; word++) own[word] = leafBits[node][word] & seen[word]
        else {
          aloneOf[i](leafBits, own)
          and(own, seen)
        }
      }
    },
  }
}

function allBits(size: number): Int32Array {
  const bits = new Int32Array(bitWords(size))
  for (let b = 0; b < size; b++) setBit(bits, b)
  return bits
}

// Plain loops: the arrays mostly have a single entry, for which the built-in copies cost more than they copy.
function copy(from: Int32Array, to: Int32Array): void {
  for (let i = 0; i < to.length; i++) to[i] = from[i]
}

function and(bits: Int32Array, other: Int32Array): void {
  for (let i = 0; i < bits.length; i++) bits[i] &= other[i]
}

/** Puts what a group holds together from the bits of its conditions. */
function bindNode(node: NodePlan, words: number): (leaves: readonly Int32Array[], out: Int32Array) => void {
  if (typeof node === 'number') return (leaves, out) => copy(leaves[node], out)
  const parts = node.of.map((inner) => bindNode(inner, words))
  const own = new Int32Array(words)
  const { hold } = node
  const empty = hold === 'all' ? -1 : 0
  return (leaves, out) => {
    for (let i = 0; i < words; i++) out[i] = empty
    for (let p = 0; p < parts.length; p++) {
      parts[p](leaves, own)
      if (hold === 'all') for (let i = 0; i < words; i++) out[i] &= own[i]
      else for (let i = 0; i < words; i++) out[i] |= own[i]
    }
    if (hold === 'none') for (let i = 0; i < words; i++) out[i] = ~out[i]
  }
}

function bindLeaf(leaf: LeafPlan, plan: MembersPlan, log: EventLog, firstRow: number): Fill {
  const { moments } = plan
  const last = moments[moments.length - 1]
  switch (leaf.kind) {
    case 'profile': {
      const asOf: AsOf = { ms: last }
      const test = bindTest(leaf.test, log, -1, asOf)
      const every = allBits(moments.length)
      if (!test || !leaf.moving)
        return (_from, _to, person, bits) => {
          if (!test || test(-1, -1, person)) copy(every, bits)
        }
      return (_from, _to, person, bits) => {
        for (let b = 0; b < moments.length; b++) {
          asOf.ms = moments[b]
          if (test(-1, -1, person)) setBit(bits, b)
        }
      }
    }
    case 'did':
      return bindDid(leaf, plan, log, firstRow)
    case 'sequence':
      return bindSequence(leaf, plan, log, firstRow)
    case 'time':
      return bindTime(leaf, moments, bindEvents(leaf.pick, log, firstRow, { low: -Infinity, high: last + 1 }))
    case 'members': {
      const { sets, not } = leaf
      return (_from, _to, person, bits) => {
        for (let b = 0; b < moments.length; b++) {
          const set = sets[sets.length === 1 ? 0 : b]
          const is = person >>> 5 < set.length && hasBit(set, person)
          if (is !== not) setBit(bits, b)
        }
      }
    }
    case 'ever': {
      const inner = bindMembers(leaf.inner, log, firstRow)
      const { upTo, not } = leaf
      const index = personIndex(log, firstRow)
      return (from, _to, _person, bits) => {
        inner.read(index(from))
        const first = firstBit(inner.root, leaf.inner.moments.length)
        for (let b = 0; b < moments.length; b++) if (upTo[b] > first !== not) setBit(bits, b)
      }
    }
    case 'each': {
      const fills = leaf.leaves.map((own, b) =>
        bindLeaf(own, { ...plan, moments: moments.subarray(b, b + 1) }, log, firstRow),
      )
      const own = new Int32Array(1)
      return (from, to, person, bits) => {
        for (let b = 0; b < fills.length; b++) {
          own[0] = 0
          fills[b](from, to, person, own)
          if (own[0] & 1) setBit(bits, b)
        }
      }
    }
  }
}

/** The index of the person whose rows begin at a row, for rows that rise. */
function personIndex({ offsets }: EventLog, firstRow: number): (row: number) => number {
  let index = 0
  while (offsets[index] < firstRow) index++
  return (row) => {
    while (offsets[index] < row) index++
    return index
  }
}

/** The least number in the set; `size` where it is empty. */
function firstBit(bits: Int32Array, size: number): number {
  for (let b = 0; b < size; b++) if (hasBit(bits, b)) return b
  return size
}

/**
 * Plainly: as of each moment, what is measured of the events in the window, compared. Windows only move on from one
 * moment to the next, so both ends walk over the person's events once.
 */
function bindDid(leaf: DidPlan, plan: MembersPlan, log: EventLog, firstRow: number): Fill {
  const { moments } = plan
  const { low, high, after, test } = leaf
  const many = moments.length
  const bounds = { low: low[0], high: high[many - 1], coarse: byQuarters(leaf, moments) }
  const found = bindEvents(leaf.pick, log, firstRow, bounds)
  const start = after?.pick ? bindEvents(after.pick, log, firstRow, bounds) : null
  const measure = bindMeasure(leaf, found, log, plan.days)
  const holds = (x: number) => x === x && (x >= test.low && x <= test.high) !== test.outside
  const every = allBits(many)
  let nothing: boolean | null = null
  const onNothing = (bits: Int32Array) => {
    nothing ??= (measure.begin(0), holds(measure.value(0, 0)))
    if (nothing) copy(every, bits)
  }
  const { time } = log
  return (from, to, person, bits) => {
    let begin = -Infinity
    let limit = Infinity
    let afterRow = -1
    if (after) {
      // The first of the other event belongs to the window's start, not to the window.
      if (start) {
        if (start.collect(from, to, person) === 0) return onNothing(bits)
        begin = start.times[0]
        afterRow = start.rows[0]
      } else begin = time[from]
      limit = begin + after.ms
    }
    let length = found.collect(from, to, person)
    if (length === 0) return onNothing(bits)
    measure.begin(person)
    let i = 0
    if (after) {
      while (i < length && (found.rows[i] <= afterRow || found.times[i] < begin)) i++
      while (length > i && found.times[length - 1] > limit) length--
    }
    let j = i
    let is = false
    for (let b = 0; b < many; b++) {
      const [i0, j0] = [i, j]
      while (j < length && found.times[j] < high[b]) j++
      if (!after) while (i < j && found.times[i] < low[b]) i++
      if (b === 0 || i !== i0 || j !== j0) is = holds(measure.value(i, j))
      if (is) setBit(bits, b)
    }
  }
}

/**
 * Whether all bounds but the last begin a quarter of an hour: those of local days do, and whatever lies in the quarter of
 * the last bound is read to the millisecond.
 */
function byQuarters({ low, high, after }: DidPlan, moments: Float64Array): boolean {
  const begins = (ms: number) => !Number.isFinite(ms) || ms % QUARTER === 0
  return !after && low.every(begins) && high.subarray(0, moments.length - 1).every(begins)
}

/**
 * By the funnel's rules: an attempt starts at each first event, and takes the earliest later event for each further
 * step, all within the limit of its start. As of a moment the sequence is done if any attempt was done by then; what was
 * done stays done, so the earliest end is all there is to know.
 */
function bindSequence(
  leaf: Extract<LeafPlan, { kind: 'sequence' }>,
  { moments }: MembersPlan,
  log: EventLog,
  firstRow: number,
): Fill {
  const last = moments[moments.length - 1]
  const steps = leaf.steps.map((step) => bindEvents(step, log, firstRow, { low: -Infinity, high: last + 1 }))
  const next = new Uint32Array(steps.length)
  const every = allBits(moments.length)
  const earliestEnd = (from: number, to: number, person: number): number => {
    let possible = true
    for (const step of steps) if (step.collect(from, to, person) === 0) possible = false
    if (!possible) return Infinity
    next.fill(0)
    let earliest = Infinity
    const [entries] = steps
    for (let e = 0; e < entries.length; e++) {
      const limit = entries.times[e] + leaf.limitMs
      let previous = entries.rows[e]
      let end = entries.times[e]
      for (let s = 1; s < steps.length; s++) {
        const { rows, times, length } = steps[s]
        let at = next[s]
        while (at < length && rows[at] <= previous) at++
        next[s] = at
        if (at === length || times[at] > limit) {
          end = Infinity
          break
        }
        previous = rows[at]
        end = times[at]
      }
      if (end < earliest) earliest = end
    }
    return earliest
  }
  return (from, to, person, bits) => {
    const end = earliestEnd(from, to, person)
    if (end === Infinity) {
      if (leaf.not) copy(every, bits)
      return
    }
    for (let b = 0; b < moments.length; b++) if (end <= moments[b] !== leaf.not) setBit(bits, b)
  }
}

function bindTime(
  { last, low, high }: Extract<LeafPlan, { kind: 'time' }>,
  moments: Float64Array,
  found: EventCollector,
): Fill {
  return (from, to, person, bits) => {
    const length = found.collect(from, to, person)
    let j = 0
    for (let b = 0; b < moments.length; b++) {
      while (j < length && found.times[j] <= moments[b]) j++
      if (j === 0) continue
      const at = found.times[last ? j - 1 : 0]
      if (at >= low[b] && at < high[b]) setBit(bits, b)
    }
  }
}
