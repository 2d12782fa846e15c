import { nearest } from '../../core/questions/faults.js'
import { formatNumber } from '../../core/words/format.js'

/** The commonest values that hold a text. */
export interface FoundValues {
  values: readonly { value: string; count: number }[]
  search: string
}

/**
 * What can be taken while a value is typed: values that have been seen, then one that is nearly the same, and last what
 * is typed itself.
 * @param found of an earlier text, until the answer to this one has come
 * @param samples the property's commonest values
 */
export function valueOptions(
  typed: string,
  found: FoundValues | undefined,
  samples: readonly string[],
): { options: string[]; sideOf: (option: string) => string } {
  const holds = (value: string) => value.toLowerCase().includes(typed.toLowerCase())
  const seen = (found?.values ?? []).filter(({ value }) => holds(value))
  const values = seen.map(({ value }) => value)
  const whole = found?.search === typed
  const near = whole && typed !== '' && seen.length === 0 ? nearest(typed, samples) : undefined
  const unseen = whole && typed !== '' && !values.includes(typed) ? [typed] : []
  return {
    options: [...values, ...(near === undefined ? [] : [near]), ...unseen],
    sideOf(option) {
      const count = seen.find(({ value }) => value === option)?.count
      if (count !== undefined) return formatNumber(count)
      return option === near ? 'did you mean this?' : 'not seen so far'
    },
  }
}
