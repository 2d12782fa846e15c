import { rankedValues } from './select.js'

/** An octave of times is told in so many parts, up to 2³² ms. */
const PARTS = 8
const BINS = (32 - 3) * PARTS + PARTS

/** Which part of the octaves a time lies in: later times never lie in an earlier one. */
function binOf(ms: number): number {
  const whole = ms < 4_294_967_295 ? ms >>> 0 : 4_294_967_295
  const octave = 28 - Math.clz32(whole)
  return octave > 0 ? octave * PARTS + (whole >>> octave) : whole
}

/**
 * Medians of times of many groups at once, which are gone through twice: counted by octaves first, then only those are
 * collected that lie where a group's middle is. No time is moved but these.
 */
export class GroupMedians {
  private readonly counts: Uint32Array
  /** by group: the parts that its middle, or its two middles, lie in */
  private readonly low: Int16Array
  private readonly high: Int16Array
  /** by group: where what is collected of it starts, and is filled to */
  private readonly starts: Uint32Array
  private readonly filled: Uint32Array
  private readonly ranks: Float64Array
  private collected = new Float64Array(0)

  constructor(private readonly groups: number) {
    this.counts = new Uint32Array(groups * BINS)
    this.low = new Int16Array(groups).fill(-1)
    this.high = new Int16Array(groups).fill(-1)
    this.starts = new Uint32Array(groups + 1)
    this.filled = new Uint32Array(groups)
    this.ranks = new Float64Array(groups)
  }

  /** @param ms 0 or more */
  count(group: number, ms: number): void {
    this.counts[group * BINS + binOf(ms)]++
  }

  /** All are counted: the same are collected next. */
  narrow(): void {
    const { counts, groups, low, high, starts, filled, ranks } = this
    for (let group = 0; group < groups; group++) {
      const own = counts.subarray(group * BINS, (group + 1) * BINS)
      let many = 0
      for (let bin = 0; bin < BINS; bin++) many += own[bin]
      filled[group] = starts[group]
      starts[group + 1] = starts[group]
      if (many === 0) continue
      const rank = (many - 1) / 2
      let before = 0
      let bin = 0
      for (; before + own[bin] <= Math.floor(rank); bin++) before += own[bin]
      ranks[group] = rank - before
      low[group] = high[group] = bin
      let kept = own[bin]
      if (before + kept <= Math.ceil(rank)) {
        do bin++
        while (own[bin] === 0)
        high[group] = bin
        kept += own[bin]
      }
      starts[group + 1] += kept
    }
    this.collected = new Float64Array(starts[groups])
  }

  /** @param ms one that was counted */
  collect(group: number, ms: number): void {
    const bin = binOf(ms)
    if (bin === this.low[group] || bin === this.high[group]) this.collected[this.filled[group]++] = ms
  }

  /** ms by group; NaN of none */
  medians(): Float64Array {
    const { collected, starts, ranks } = this
    return Float64Array.from(ranks, (rank, group) =>
      starts[group + 1] > starts[group]
        ? rankedValues(collected.subarray(starts[group], starts[group + 1]), rank)
        : NaN,
    )
  }
}
