import type { EventLog } from '../log/log.js'
import { cutter, type CutPlan } from './cuts.js'

/**
 * Where sessions begin in a block, as a bit for each row, worked out only as far as it is asked about. What lies after the
 * moment begins anew, so that the last session that is seen ends before it.
 */
export class SessionStarts {
  private readonly bits: Uint32Array
  /** people that are done, and their rows */
  private people = 0
  private rows = 0
  private readonly begins: (row: number) => boolean

  private constructor(
    private readonly log: EventLog,
    plan: CutPlan,
    private readonly now: number,
  ) {
    this.bits = new Uint32Array((log.time.length >>> 5) + 1)
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

  /** Works them out up to the end of the person whose row it is. */
  private reach(row: number): void {
    const { bits, begins, now } = this
    const { offsets, time } = this.log
    while (this.rows <= row) {
      const end = offsets[++this.people]
      let at = this.rows
      bits[at >>> 5] |= 1 << (at & 31)
      for (at++; at < end; at++) {
        const unseen = time[at] > now
        if (begins(at) || (unseen && time[at - 1] <= now)) bits[at >>> 5] |= 1 << (at & 31)
      }
      this.rows = end
    }
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
    const { bits, rows } = this
    let word = (row + 1) >>> 5
    let some = bits[word] & (0xffffffff << ((row + 1) & 31))
    // The next person's first row is a start whether or not it has been worked out.
    while (some === 0 && (word + 1) * 32 < rows) some = bits[++word]
    return some === 0 ? rows : Math.min(rows, word * 32 + 31 - Math.clz32(some & -some))
  }
}
