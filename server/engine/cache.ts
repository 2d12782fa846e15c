/** Keeps the entries used last. */
export class LruCache<T> {
  private readonly entries = new Map<string, T>()

  constructor(private readonly most: number) {}

  get(key: string): T | undefined {
    const value = this.entries.get(key)
    if (value === undefined) return undefined
    this.entries.delete(key)
    this.entries.set(key, value)
    return value
  }

  set(key: string, value: T): void {
    this.entries.delete(key)
    this.entries.set(key, value)
    if (this.entries.size > this.most) this.entries.delete(this.entries.keys().next().value!)
  }
}
