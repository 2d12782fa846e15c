/** Seeded random numbers: the same on every machine (mulberry32 steps). */
export class Random {
  private state: number

  constructor(seed: number) {
    this.state = seed >>> 0
  }

  /** 0 ≤ x < 1 */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0
    let t = this.state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }

  chance(p: number): boolean {
    return this.next() < p
  }

  /** whole number, both ends included */
  whole(from: number, to: number): number {
    return from + Math.floor(this.next() * (to - from + 1))
  }

  between(from: number, to: number): number {
    return from + this.next() * (to - from)
  }

  /** about normal, by the sum of uniforms */
  normal(mean: number, deviation: number): number {
    let sum = 0
    for (let i = 0; i < 6; i++) sum += this.next()
    return mean + ((sum - 3) / Math.SQRT1_2) * deviation
  }

  /** number of events of a given mean (Knuth's product method) */
  poisson(mean: number): number {
    const limit = Math.exp(-mean)
    let n = 0
    for (let product = this.next(); product > limit; product *= this.next()) n++
    return n
  }

  pick<T>(items: readonly T[]): T {
    return items[Math.floor(this.next() * items.length)]
  }

  /** picks by weight */
  weighted<T extends string>(weights: Record<T, number>): T {
    const entries = Object.entries(weights) as [T, number][]
    let at = this.next() * entries.reduce((sum, [, weight]) => sum + weight, 0)
    for (const [item, weight] of entries) if ((at -= weight) < 0) return item
    return entries[entries.length - 1][0]
  }
}
