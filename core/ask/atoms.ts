import type { Range } from '../time/range.js'
import { Temporal } from 'temporal-polyfill'
import { isBare } from '../words/exact.js'
import { LONG_MONTHS } from '../words/format.js'
import type { Unit } from '../time/range.js'
import { units } from '../time/range.js'
import { chain, either, literal, map, maybe, pattern, type Reader } from './reader.js'

/** The smallest parts of sentences: numbers, days, times, values. */

export const number: Reader<number> = pattern(
  /[-−]?(?:\d{1,3}(?:,\d{3})+|\d+)(?:\.\d+)?(?:e[+-]?\d+)?(?![\d\p{L}])/iuy,
  ([text]) => Number(text.replaceAll(',', '').replace('−', '-')),
)
export const count: Reader<number> = pattern(/\d{1,4}(?![\d\p{L}.])/uy, ([text]) => Number(text))

export const unit: Reader<Unit> = either(...units.map((each) => map(literal(each), () => each)))
/** `weeks`, or `week` after a 1. */
export const unitsOf: Reader<Unit> = map(chain<[Unit, string | null]>(unit, maybe(literal('s'))), ([each]) => each)

/** A text in quotes. */
export const quotedText: Reader<string> = either(
  pattern(/“([^“”]*)”/uy, ([, text]) => text!),
  pattern(/"(?:[^"\\]|\\.)*"/uy, ([text]) => {
    try {
      return JSON.parse(text) as string
    } catch {
      return null
    }
  }),
)

/** A text as sentences write it: in quotes, or words that can stand alone; the most of them first. */
export const plainText: Reader<string> = function* (text, at) {
  yield* quotedText(text, at)
  const ends: number[] = []
  const word = /[\p{L}\p{N}.+&'’/_@#%*-]+/uy
  for (let from = at; ; from = word.lastIndex + 1) {
    word.lastIndex = from
    if (!word.test(text)) break
    ends.push(word.lastIndex)
    if (text[word.lastIndex] !== ' ') break
  }
  for (const end of ends.reverse()) if (isBare(text.slice(at, end))) yield [text.slice(at, end), end]
}

const SHORT = LONG_MONTHS.map((month) => month.slice(0, 3))
/** A year, where none is said the one that dates need not name. */
const inYear = (year: string | undefined, thisYear: number) => (year === undefined ? thisYear : Number(year))

/** `14 Sep`, `14 Sep 2025`. */
export function day(thisYear: number): Reader<string> {
  return map(
    pattern(new RegExp(`(\\d{1,2}) (${SHORT.join('|')})(?![\\p{L}])(?: (\\d{4}))?`, 'iuy'), (match) => match),
    ([, number, month, year]) =>
      dayText(
        inYear(year, thisYear),
        SHORT.findIndex((each) => each.toLowerCase() === month!.toLowerCase()) + 1,
        Number(number),
      ),
  )
}

/** `October`, `October 2025`: its first day. */
export function month(thisYear: number): Reader<string> {
  return map(
    pattern(new RegExp(`(${LONG_MONTHS.join('|')})(?![\\p{L}])(?: (\\d{4}))?`, 'iuy'), (match) => match),
    ([, name, year]) =>
      dayText(
        inYear(year, thisYear),
        LONG_MONTHS.findIndex((each) => each.toLowerCase() === name!.toLowerCase()) + 1,
        1,
      ),
  )
}

/** `the year 2025`: its first day. */
export const year: Reader<string> = map(
  pattern(/the year (\d{4})(?!\d)/uy, (match) => match),
  ([, number]) => dayText(Number(number), 1, 1),
)

export function dayText(year: number, month: number, day: number): string | null {
  try {
    return Temporal.PlainDate.from({ year, month, day }, { overflow: 'reject' }).toString()
  } catch {
    return null
  }
}

export const lastDayOfMonth = (first: string) => {
  const date = Temporal.PlainDate.from(first)
  return date.with({ day: date.daysInMonth }).toString()
}

/** `the last 12 weeks`, `this week`, `today`. */
export const lastUnits: Reader<{ last: number; unit: Unit }> = either(
  map(chain<[string, number, string, Unit]>(literal('the last '), count, literal(' '), unitsOf), ([, last, , each]) =>
    last >= 1 ? { last, unit: each } : null,
  ),
  map(literal('today'), () => ({ last: 1, unit: 'day' as const })),
  map(chain<[string, Unit]>(literal('this '), unit), ([, each]) => ({ last: 1, unit: each })),
)

/** A time with the word that leads to it, as sentences print it. @param leads `over`, `since`; a funnel says otherwise */
export function range(thisYear: number, leads: { since: string; from: string }): Reader<Range> {
  const date = day(thisYear)
  const among = (text: string): Reader<string | null> => (text === '' ? (_text, at) => [[null, at]] : literal(text))
  return either<Range>(
    map(chain<[string | null, { last: number; unit: Unit }]>(maybe(literal('over ')), lastUnits), ([, last]) => last),
    map(
      chain<[string | null, string, string, string]>(among(leads.from), date, literal(' to '), date),
      ([, from, , to]) => ({
        from,
        to,
      }),
    ),
    map(chain<[string, string]>(literal(leads.since), date), ([, from]) => ({ from })),
    map(chain<[string, string]>(literal('in '), month(thisYear)), ([, from]) => ({ from, to: lastDayOfMonth(from) })),
    map(chain<[string, string]>(literal('on '), date), ([, from]) => ({ from, to: from })),
  )
}
