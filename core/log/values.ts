/** A value as the data carries it: text, number, boolean, list of text; a date-time is an ISO text. */
export type Value = string | number | boolean | readonly string[]

const DATE = /^\d{4}-\d{2}-\d{2}(?:T\d{2}:\d{2}(?::\d{2}(?:\.\d{1,9})?)?(?:Z|[+-]\d{2}:?\d{2}))?$/

/**
 * Reads a text that is a whole ISO 8601 date (`2026-10-08`) or a date-time with its offset (`2026-10-08T07:12:03Z`).
 * A text of any other form is text, however much it may look like a date to a reader.
 * @param dayStart gives the first moment of a local day, for texts without a time
 * @returns epoch ms, cut to whole ms; NaN where it is no date
 */
export function readDate(text: string, dayStart: (day: string) => number): number {
  const length = text.length
  if (length < 10 || length > 35 || text.charCodeAt(4) !== 45 || !DATE.test(text)) return NaN
  // The round trip refuses days that do not exist: Date.parse would carry 31 February over into March.
  const day = Date.parse(text.slice(0, 10) + 'T00:00:00Z')
  if (Number.isNaN(day) || new Date(day).toISOString().slice(0, 10) !== text.slice(0, 10)) return NaN
  return length === 10 ? dayStart(text) : Math.floor(Date.parse(text))
}

export type ValueKind = 'text' | 'number' | 'boolean' | 'date' | 'list'

/** The kind of a value; null for what is no value at all (null, undefined, NaN, an empty list). */
export function kindOf(value: unknown): ValueKind | null {
  switch (typeof value) {
    case 'string':
      return Number.isNaN(readDate(value, () => 0)) ? 'text' : 'date'
    case 'number':
      return Number.isFinite(value) ? 'number' : null
    case 'boolean':
      return 'boolean'
    default:
      return Array.isArray(value) && value.length > 0 ? 'list' : null
  }
}
