import { own } from '../names.js'
import type { Range } from '../time/range.js'
import { Temporal } from 'temporal-polyfill'
import { LONG_MONTHS } from '../words/format.js'
import type { Unit } from '../time/range.js'
import { dayText, lastDayOfMonth } from './atoms.js'

/** Times as people type them. Patterns take the text in lower case, from a place on. */

const NUMBERS = [
  'zero',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
]
export const NUMBER = `\\d{1,4}|${NUMBERS.slice(1).join('|')}`
export const readNumber = (text: string) => (NUMBERS.includes(text) ? NUMBERS.indexOf(text) : Number(text))

const MONTH = LONG_MONTHS.map(
  (month) => `${month.slice(0, 3).toLowerCase()}(?:${month.slice(3).toLowerCase()}|t)?`,
).join('|')
const NTH = '(?:st|nd|rd|th)?'
const DAY = `\\d{4}-\\d{2}-\\d{2}|\\d{1,2}${NTH} (?:of )?(?:${MONTH})(?:,? \\d{4})?|(?:${MONTH}) \\d{1,2}${NTH}(?!\\d)(?:,? \\d{4})?`
const MONTH_YEAR = `(?:${MONTH})(?: \\d{4})?`
const UNIT = 'hour|day|week|month|quarter|year'

/** A day or month as typed; without a year it is the last one that has begun. */
function readDay(text: string, today: string): string | null {
  if (/^\d{4}-/.test(text)) {
    const [year, month, day] = text.split('-').map(Number)
    return dayText(year!, month!, day!)
  }
  const name = new RegExp(MONTH).exec(text)![0]
  const month = LONG_MONTHS.findIndex((each) => each.toLowerCase().startsWith(name.slice(0, 3))) + 1
  const year = /\d{4}/.exec(text)?.[0]
  const number = /\d{1,2}(?!\d)/.exec(text.replace(/\d{4}/, ''))?.[0]
  const thisYear = Number(today.slice(0, 4))
  const of = (inYear: number) => dayText(inYear, month, Number(number ?? 1))
  const read = of(year ? Number(year) : thisYear)
  return !year && read && read > today ? of(thisYear - 1) : read
}

/** @param first its number alone. @param last with its month */
function daysOfOneMonth(first: string, last: string, today: string): Range | null {
  const to = readDay(last, today)
  const from = to === null ? null : dayText(Number(to.slice(0, 4)), Number(to.slice(5, 7)), Number(first))
  return from !== null && to !== null && from <= to ? { from, to } : null
}

/** The whole unit before the one that runs now. */
function lastWhole(unit: string, today: string, firstDayOfWeek: number): Range {
  const now = Temporal.PlainDate.from(today)
  const from =
    unit === 'day'
      ? now.subtract({ days: 1 })
      : unit === 'week'
        ? now.subtract({ days: ((now.dayOfWeek - firstDayOfWeek + 7) % 7) + 7 })
        : unit === 'month'
          ? now.with({ day: 1 }).subtract({ months: 1 })
          : unit === 'quarter'
            ? now.with({ day: 1, month: Math.floor((now.month - 1) / 3) * 3 + 1 }).subtract({ months: 3 })
            : now.with({ day: 1, month: 1 }).subtract({ years: 1 })
  const long = {
    day: { days: 1 },
    week: { weeks: 1 },
    month: { months: 1 },
    quarter: { months: 3 },
    year: { years: 1 },
  }
  const to = from.add(long[unit as keyof typeof long]).subtract({ days: 1 })
  return { from: from.toString(), to: to.toString() }
}

const last = (n: number, unit: string): Range | null => {
  if (!(n >= 1 && n <= 1000)) return null
  return unit === 'year' ? { last: Math.min(1000, n * 12), unit: 'month' } : { last: n, unit: unit as Unit }
}

type Rule = [RegExp, (match: RegExpExecArray, today: string, firstDayOfWeek: number) => Range | null]
const rule = (source: string, read: Rule[1]): Rule => [new RegExp(`(?:${source})(?![\\p{L}\\p{N}])`, 'uy'), read]
const LEAD = '(?:over |in |during |for |within |of )?(?:the |this )?'

const RULES: Rule[] = [
  rule('(?:in |during |over |for )?(?:the )?(last|this)? ?(spring|summer|autumn|winter)', ([, which, name], today) =>
    season(name!, today, which === 'last'),
  ),
  rule('(?:in|during|over|last|this) (?:the )?(fall)', ([, name], today) => season(name!, today, false)),
  rule(`${LEAD}(?:last|past|previous|recent) (${NUMBER}) (${UNIT})s?`, ([, n, unit]) => last(readNumber(n!), unit!)),
  rule(`${LEAD}(?:last|past|previous) (day|week|month|quarter|year)`, ([, unit], today, first) =>
    lastWhole(unit!, today, first),
  ),
  rule('yesterday', (_match, today, first) => lastWhole('day', today, first)),
  rule('today', () => ({ last: 1, unit: 'day' })),
  rule(`(?:in |during )?this (hour|week|month|quarter)`, ([, unit]) => ({ last: 1, unit: unit as Unit })),
  rule('(?:in |during )?this year|year to date', (_match, today) => ({ from: `${today.slice(0, 4)}-01-01` })),
  rule(`(?:from |between )?(${DAY})(?: (?:to|and|until|till|through) | ?[–-] ?)(${DAY})`, ([, a, b], today) => {
    const [from, to] = [readDay(a!, today), readDay(b!, today)]
    return from && to && from <= to ? { from, to } : null
  }),
  // "between 3 and 9 Sept", "Sept 3 to 9": the month is said once.
  rule(
    `(?:from |between )?(\\d{1,2})${NTH}(?: (?:to|and|until|till|through) | ?[–-] ?)(\\d{1,2}${NTH} (?:of )?(?:${MONTH})(?:,? \\d{4})?)`,
    ([, a, b], today) => daysOfOneMonth(a!, b!, today),
  ),
  rule(
    `(?:from |between )?((?:${MONTH}) \\d{1,2})${NTH}(?: (?:to|and|until|till|through) | ?[–-] ?)(\\d{1,2})${NTH}(?!\\d| (?:${MONTH}))`,
    ([, a, b], today) => daysOfOneMonth(/\d+/.exec(a!)![0], a!.replace(/\d+/, b!), today),
  ),
  rule(`(?:from |between )?(${MONTH_YEAR}) (?:to|and|until|till|through) (${MONTH_YEAR})`, ([, a, b], today) => {
    const [from, to] = [readDay(a!, today), readDay(b!, today)]
    return from && to && from <= to ? { from, to: lastDayOfMonth(to) } : null
  }),
  rule(`(?:since|from|after|starting) (${DAY}|${MONTH_YEAR})(?: on)?`, ([, text], today) => {
    const read = readDay(text!, today)
    return read === null ? null : { from: read }
  }),
  rule('since (\\d{4})', ([, year]) => ({ from: `${year}-01-01` })),
  rule('(?:in|during) (20\\d{2})', ([, year]) => ({ from: `${year}-01-01`, to: `${year}-12-31` })),
  rule(`(?:on )?(${DAY})`, ([, text], today) => {
    const read = readDay(text!, today)
    return read === null ? null : { from: read, to: read }
  }),
  rule(`(?:in|during|of) (${MONTH_YEAR})`, ([, text], today) => {
    const read = readDay(text!, today)
    return read === null ? null : { from: read, to: lastDayOfMonth(read) }
  }),
]

/** A time, whether it is one day that is over or runs, and whether it is a season. */
export interface TimeRead {
  range: Range
  end: number
  isDay: boolean
  season: boolean
}

const SEASONS: Record<string, [from: number, months: number]> = {
  spring: [3, 3],
  summer: [6, 3],
  autumn: [9, 3],
  fall: [9, 3],
  winter: [12, 3],
}

/** The last such season that has begun, in the northern half of the world: spring is March to May. */
function season(name: string, today: string, before: boolean): Range {
  const now = Temporal.PlainDate.from(today)
  const [month, months] = own(SEASONS, name)!
  let from = Temporal.PlainDate.from({ year: now.year, month, day: 1 })
  if (Temporal.PlainDate.compare(from, now) > 0) from = from.subtract({ years: 1 })
  if (before && Temporal.PlainDate.compare(from.add({ months }), now) > 0) from = from.subtract({ years: 1 })
  return { from: from.toString(), to: from.add({ months }).subtract({ days: 1 }).toString() }
}

/** A time that is typed from a place on. @param text in lower case */
export function readTime(text: string, at: number, today: string, firstDayOfWeek = 1): TimeRead | null {
  for (const [regex, read] of RULES) {
    regex.lastIndex = at
    const match = regex.exec(text)
    const range = match && read(match, today, firstDayOfWeek)
    if (match && range)
      return {
        ...{ range, end: at + match[0].length },
        isDay: /^(?:yesterday|today)/.test(match[0]),
        season: /spring|summer|autumn|winter|\bfall/.test(match[0]),
      }
  }
  return null
}
