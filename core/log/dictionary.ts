/** A value of a property that is neither a number nor a date-time. */
export type CodedValue = string | boolean | readonly string[]

/**
 * The values of one property with their codes. Code 0 stands for no value; codes are given in order of first
 * sight and never change, so columns made earlier stay right. A list's elements have codes of their own, those of the
 * same texts, because a breakdown puts an event into the group of each element.
 */
export class Dictionary {
  readonly values: (CodedValue | null)[] = [null]
  /** for a list's code: the codes of its different elements */
  readonly elements = new Map<number, number[]>()
  private readonly texts = new Map<string, number>()
  private readonly lists = new Map<string, number>()
  private no = 0
  private yes = 0

  get size(): number {
    return this.values.length
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
