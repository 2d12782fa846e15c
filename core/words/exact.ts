import type { NestedKey, ValueKey } from '../questions/parts.js'
import { formatNumber } from './format.js'

/** Values written so that whoever reads them, a reader of sentences too, gets back exactly what they are. */

/** Words that sentences are made of: a value that holds one of them stands in quotes. */
const OF_SENTENCES = new Set(
  `a after among and any as at before between compared each else everything exactly false fewer for from has in is more no not of on
   only or over since smoothed starting the then this to today true under where with within without yes`.split(/\s+/),
)
const SAFE = /^[\p{L}\p{N}][\p{L}\p{N}.+&'’/_@#%*-]*(?: [\p{L}\p{N}.+&'’/_@#%*-]+)*$/u

/** Whether a text can stand in a sentence as it is. */
export function isBare(text: string): boolean {
  return SAFE.test(text) && !text.split(' ').some((word) => OF_SENTENCES.has(word.toLowerCase()))
}

/** A text in quotes; one that holds quotes itself is written as JSON. */
export function quoted(text: string): string {
  return /[“”\n\r\\]/.test(text) ? JSON.stringify(text) : `“${text}”`
}

/** A text as a value: in quotes where it could be taken for something else. */
export function textWords(text: string): string {
  return isBare(text) ? text : quoted(text)
}

/** A number with all its digits; thousands are separated where that loses nothing. */
export function exactNumber(x: number): string {
  const written = formatNumber(x)
  return Number(written.replaceAll(',', '')) === x ? written : String(x)
}

const WEEKDAY_OR_HOUR = /^(?:(?:mon|tues|wednes|thurs|fri|satur|sun)day|\d\d:00)$/i

/** A group by its name: texts that look like something else stand in quotes. */
export function keyWords(key: ValueKey | NestedKey): string {
  if ('rest' in key) return 'everything else'
  if ('weekday' in key)
    return ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'][key.weekday - 1]
  if ('hour' in key) return `${String(key.hour).padStart(2, '0')}:00`
  if ('side' in key) return `side ${key.side + 1} ${quoted(key.name)}`
  if ('range' in key) {
    const [low, high] = key.range
    if (low === null) return `under ${exactNumber(high!)}`
    if (high === null) return `${exactNumber(low)} and more`
    return `${exactNumber(low)} to ${key.closed ? '' : 'under '}${exactNumber(high)}`
  }
  const { value } = key
  if (value === null) return 'no value'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return exactNumber(value)
  return /^[-\d]/.test(value) || WEEKDAY_OR_HOUR.test(value) ? quoted(value) : textWords(value)
}
