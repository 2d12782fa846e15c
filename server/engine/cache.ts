import { LRUCache } from 'lru-cache'

/**
 * What was worked out before, the least used let go of first: by the bytes it takes, for one answer may be a thousand
 * times as large as another. What is larger than the whole is not kept.
 */
export class ByteCache<T extends object> {
  private readonly entries: LRUCache<string, T>

  constructor(megabytes: number) {
    const maxSize = megabytes * 1_048_576
    this.entries = new LRUCache({ maxSize, maxEntrySize: maxSize, sizeCalculation: (value) => roughBytes(value) })
  }

  get(key: string): T | undefined {
    return this.entries.get(key)
  }

  set(key: string, value: T): void {
    this.entries.set(key, value)
  }

  get bytes(): number {
    return this.entries.calculatedSize
  }
}

/** About how much memory a value takes: arrays and texts to the byte, the rest of an object by the number of its fields. */
export function roughBytes(value: unknown): number {
  let bytes = 0
  const waiting: unknown[] = [value]
  while (waiting.length > 0) {
    const next = waiting.pop()
    bytes += 16
    if (typeof next === 'string') bytes += next.length * 2
    else if (ArrayBuffer.isView(next)) bytes += next.byteLength
    else if (Array.isArray(next)) {
      bytes += next.length * 8
      // A long list is of things alike: some of them tell of all.
      const step = Math.max(1, Math.floor(next.length / 64))
      let some = 0
      let looked = 0
      for (let i = 0; i < next.length; i += step, looked++) some += shallow(next[i], waiting, next.length <= 64)
      bytes += looked === 0 ? 0 : (some / looked) * next.length
    } else if (next instanceof Map || next instanceof Set) waiting.push([...next.values()])
    else if (typeof next === 'object' && next !== null) for (const inner of Object.values(next)) waiting.push(inner)
  }
  return Math.max(1, Math.round(bytes))
}

/** A list's element: of a short list it is looked at whole, later; of a long one at once, as a sample. */
function shallow(value: unknown, waiting: unknown[], whole: boolean): number {
  if (typeof value !== 'object' || value === null) return typeof value === 'string' ? value.length * 2 : 0
  if (!whole) return roughBytes(value)
  waiting.push(value)
  return 0
}
