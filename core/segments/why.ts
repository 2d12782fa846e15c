import { hasBit } from '../log/bits.js'
import type { EventLog } from '../log/log.js'
import { bindEvents } from './events.js'
import { bindMeasure } from './measure.js'
import { bindMembers } from './members.js'
import type { DidPlan, LeafPlan, MembersPlan } from './plan.js'

/** What one condition of a rule finds of one person. */
export interface WhyCondition {
  /** place in the rule */
  path: (string | number)[]
  holds: boolean
  /** what was counted or measured in the window; null = nothing to measure, or no condition on a count */
  value: number | null
  /** the first and last time, epoch ms, of what a condition on times or on events asks about, as of the moment; null = never */
  firstMs: number | null
  lastMs: number | null
}

export interface Why {
  member: boolean
  conditions: WhyCondition[]
}

/**
 * Tells for one person, as of the plan's last moment, what each of the counted parts finds and whether it holds.
 * @param index  the person's index in the block
 * @param leaves by counted part: the plan of the condition alone
 */
export function whyMember(
  plan: MembersPlan,
  paths: readonly (string | number)[][],
  leaves: readonly (LeafPlan | null)[],
  log: EventLog,
  index: number,
): Why {
  const last = plan.moments.length - 1
  const from = log.offsets[index]
  const reader = bindMembers(plan, log, from)
  reader.read(index)
  return {
    member: hasBit(reader.root, last),
    conditions: paths.map((path, part) => ({
      ...{ path, holds: hasBit(reader.alone[part], last) },
      ...foundOf(leaves[part], plan, log, index),
    })),
  }
}

function foundOf(
  leaf: LeafPlan | null,
  plan: MembersPlan,
  log: EventLog,
  index: number,
): Pick<WhyCondition, 'value' | 'firstMs' | 'lastMs'> {
  const none = { value: null, firstMs: null, lastMs: null }
  if (leaf?.kind === 'each') return foundOf(leaf.leaves[leaf.leaves.length - 1], plan, log, index)
  if (leaf?.kind === 'did') return foundOfDid(leaf, plan, log, index)
  if (leaf?.kind !== 'time') return none
  const now = plan.moments[plan.moments.length - 1]
  const found = bindEvents(leaf.pick, log, log.offsets[index], { low: -Infinity, high: now + 1 })
  const many = found.collect(log.offsets[index], log.offsets[index + 1], log.person[index])
  return many === 0 ? none : { value: null, firstMs: found.times[0], lastMs: found.times[many - 1] }
}

function foundOfDid(leaf: DidPlan, plan: MembersPlan, log: EventLog, index: number) {
  const last = plan.moments.length - 1
  const [from, to] = [log.offsets[index], log.offsets[index + 1]]
  const person = log.person[index]
  const now = plan.moments[last]
  const all = { low: -Infinity, high: now + 1 }
  const ever = bindEvents(leaf.pick, log, from, all)
  const many = ever.collect(from, to, person)
  let low = leaf.low[leaf.low.length - 1]
  let high = leaf.high[leaf.high.length - 1]
  let afterRow = -1
  if (leaf.after) {
    const start = bindEvents(leaf.after.pick, log, from, all)
    if (start.collect(from, to, person) === 0) low = Infinity
    else {
      low = start.times[0]
      if (leaf.after.pick) afterRow = start.rows[0]
      high = Math.min(high, low + leaf.after.ms + 1)
    }
  }
  const found = bindEvents(leaf.pick, log, from, { low, high })
  const length = found.collect(from, to, person)
  let first = 0
  while (first < length && found.rows[first] <= afterRow) first++
  const measure = bindMeasure(leaf, found, log, plan.days)
  measure.begin(person)
  const value = measure.value(first, length)
  return {
    value: Number.isNaN(value) ? null : value,
    firstMs: many > 0 ? ever.times[0] : null,
    lastMs: many > 0 ? ever.times[many - 1] : null,
  }
}

/** When the person last came in or went out, from one moment of the plan to the next; null where that never changed. */
export function lastChange(plan: MembersPlan, log: EventLog, index: number): { came: 'in' | 'out'; at: number } | null {
  const reader = bindMembers(plan, log, log.offsets[index])
  reader.read(index)
  for (let b = plan.moments.length - 1; b >= 0; b--) {
    const is = hasBit(reader.root, b)
    const was = b > 0 && hasBit(reader.root, b - 1)
    if (is !== was) return { came: is ? 'in' : 'out', at: plan.moments[b] }
  }
  return null
}
