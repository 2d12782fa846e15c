import type { EventLog } from '../log/log.js'
import { personIndex } from '../log/personIndex.js'
import { cutter, type CutPlan } from './cuts.js'

/**
 * Where sessions begin in a block, as a bit for each row, worked out person by person as they are asked about: a rare
 * event does not wait for everybody. What lies after the moment begins anew, so that the last session that is seen ends
 * before it.
 */
export class SessionStarts {
  private readonly bits: Uint32Array
  /** by person's index: 1 = theirs are worked out */
  private readonly done: Uint8Array
  /** the rows of the person asked about last */
  private from = 0
  private to = 0
  private readonly begins: (row: number) => boolean

  private constructor(
    private readonly log: EventLog,
    plan: CutPlan,
    private readonly now: number,
  ) {
    this.bits = new Uint32Array((log.time.length >>> 5) + 1)
    this.done = new Uint8Array(log.people)
    this.begins = cutter(log, plan)
  }

  private static readonly kept = new WeakMap<Float64Array, { key: string; starts: SessionStarts }>()

  /**
   * Those of a block, kept beside it where nothing lies after the moment: properties of many events ask for them.
   * @param now epoch ms; Infinity = whatever there is lies before the moment
   */
  static of(log: EventLog, plan: CutPlan, now: number): SessionStarts {
    if (now < Infinity) return new SessionStarts(log, plan, now)
    const key = JSON.stringify([plan.timeoutMs, [...(plan.bySource ?? [])], [...(plan.marks ?? [])], plan.onSource])
    const known = SessionStarts.kept.get(log.time)
    if (known?.key === key) return known.starts
    const starts = new SessionStarts(log, plan, now)
    SessionStarts.kept.set(log.time, { key, starts })
    return starts
  }

  /** Goes to the person whose row it is. */
  private reach(row: number): void {
    if (row >= this.from && row < this.to) return
    const { bits, begins, now, done } = this
    const { offsets, time } = this.log
    const index = personIndex(this.log, row)
    this.from = offsets[index]
    this.to = offsets[index + 1]
    if (done[index] === 1) return
    done[index] = 1
    let at = this.from
    bits[at >>> 5] |= 1 << (at & 31)
    for (at++; at < this.to; at++)
      if (begins(at) || (time[at] > now && time[at - 1] <= now)) bits[at >>> 5] |= 1 << (at & 31)
  }

  /** The first row of the session that a row lies in. */
  startOf(row: number): number {
    this.reach(row)
    const { bits } = this
    let word = row >>> 5
    let some = bits[word] & (0xffffffff >>> (31 - (row & 31)))
    while (some === 0) some = bits[--word]
    return word * 32 + 31 - Math.clz32(some)
  }

  /** The row after the last one of it. */
  endOf(row: number): number {
    this.reach(row)
    const { bits, to } = this
    let word = (row + 1) >>> 5
    let some = bits[word] & (0xffffffff << ((row + 1) & 31))
    while (some === 0 && (word + 1) * 32 < to) some = bits[++word]
    return some === 0 ? to : Math.min(to, word * 32 + 31 - Math.clz32(some & -some))
  }

  /** Which of the person's sessions a row lies in, from 1. */
  numberOf(row: number): number {
    this.reach(row)
    const { bits, from } = this
    let number = 0
    for (let at = this.startOf(row); at >= from; at--) number += (bits[at >>> 5] >>> (at & 31)) & 1
    return number
  }
}
