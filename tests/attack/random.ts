/** A seeded source of chance, so that what was found can be found again. */
export class Random {
  private state: number
  constructor(seed: number) {
    this.state = seed >>> 0 || 1
  }
  /** 0 up to, not including, 1 */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0
    let t = this.state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
  below(n: number): number {
    return Math.floor(this.next() * n)
  }
  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)]
  }
  chance(share: number): boolean {
    return this.next() < share
  }
}
