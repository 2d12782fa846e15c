/** A value of a property that is neither a number nor a date-time. */
export type CodedValue = string | boolean | readonly string[]

/** The values of one property as they can be read. */
export interface Values {
  readonly size: number
  /** by code; entry 0 is no value */
  readonly values: readonly (CodedValue | null)[]
  /** for a list's code: the codes of its different elements */
  readonly elements: ReadonlyMap<number, readonly number[]>
}

/**
 * The values of one property with their codes. Code 0 stands for no value; codes are given in order of first
 * sight and never change, so columns made earlier stay right. A list's elements have codes of their own, those of the
 * same texts, because a breakdown puts an event into the group of each element.
 */
export class Dictionary implements Values {
  readonly values: (CodedValue | null)[] = [null]
  /** for a list's code: the codes of its different elements */
  readonly elements = new Map<number, number[]>()
  private readonly texts = new Map<string, number>()
  private readonly lists = new Map<string, number>()
  private last: Values | null = null
  private no = 0
  private yes = 0

  get size(): number {
    return this.values.length
  }

  /** The values there are now, and no later ones. While there are no later ones it is the same each time. */
  state(): Values {
    if (this.last?.size !== this.size) this.last = new KnownValues(this.values, this.elements)
    return this.last
  }

  /** The code of a value, given out now if it is new. An empty list is no value: 0. */
  code(value: CodedValue): number {
    if (typeof value === 'string') {
      const known = this.texts.get(value)
      if (known !== undefined) return known
      const code = this.add(value)
      this.texts.set(value, code)
      return code
    }
    if (typeof value === 'boolean') {
      if (value) return (this.yes ||= this.add(true))
      return (this.no ||= this.add(false))
    }
    if (value.length === 0) return 0
    const key = JSON.stringify(value)
    const known = this.lists.get(key)
    if (known !== undefined) return known
    const elements = [...new Set(value)].map((element) => this.code(element))
    const code = this.add(value)
    this.lists.set(key, code)
    this.elements.set(code, elements)
    return code
  }

  private add(value: CodedValue): number {
    return this.values.push(value) - 1
  }
}

/** The first values of a dictionary that may have grown since. They are copied when somebody looks at them. */
class KnownValues implements Values {
  readonly size: number
  private copied: readonly (CodedValue | null)[] | null = null
  private known: ReadonlyMap<number, readonly number[]> | null = null

  constructor(
    private readonly all: readonly (CodedValue | null)[],
    private readonly lists: ReadonlyMap<number, readonly number[]>,
  ) {
    this.size = all.length
  }

  get values(): readonly (CodedValue | null)[] {
    return (this.copied ??= this.all.slice(0, this.size))
  }

  get elements(): ReadonlyMap<number, readonly number[]> {
    // A list's elements have smaller codes than the list.
    return (this.known ??= new Map([...this.lists].filter(([list]) => list < this.size)))
  }
}
