import { Temporal } from 'temporal-polyfill'

/** Thin no-break space: stands before % and keeps it on the number's line. */
const THIN = '\u202f'
/** What is missing; never 0. */
export const MISSING = '–'

const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 })
const decimals = [0, 1, 2, 3].map(
  (digits) => new Intl.NumberFormat('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits }),
)

/** A count or other number: whole with thousands separated, fractions with up to two decimals. */
export function formatNumber(x: number | null): string {
  if (x === null || !Number.isFinite(x)) return MISSING
  if (Number.isInteger(x)) return whole.format(x)
  return decimals[Math.abs(x) < 10 ? 2 : Math.abs(x) < 1000 ? 1 : 0].format(x)
}

/** A share as a percentage, 0.184 → `18.4 %`. */
export function formatPercent(share: number | null, digits = 1): string {
  if (share === null || !Number.isFinite(share)) return MISSING
  if (share === 0 || share === 1) return `${share * 100}${THIN}%`
  return `${decimals[digits].format(share * 100)}${THIN}%`
}

/** A share in prose: at most three significant figures, and none that pretend. */
export function proseShare(share: number): string {
  const percent = share * 100
  if (percent > 0 && percent < 0.1) return `under 0.1${THIN}%`
  const digits = percent >= 99.5 || percent < 10 ? 1 : percent >= 20 ? 0 : 1
  return `${decimals[Number.isInteger(percent) ? 0 : digits].format(percent)}${THIN}%`
}

/** A share without its sign, which the heading of its table or chart has: to a tenth under 10 %. */
export function shareFigure(share: number): string {
  const tenths = Math.round(share * 1000)
  if (share > 0 && tenths === 0) return '<0.1'
  return tenths > 0 && tenths < 100 ? (tenths / 10).toFixed(1) : String(Math.round(share * 100))
}

/** A relative change with its sign, 0.062 → `+6.2 %`. */
export function formatChange(change: number | null): string {
  if (change === null || !Number.isFinite(change)) return MISSING
  const text = formatPercent(Math.abs(change), Math.abs(change) >= 10 ? 0 : 1)
  return change > 0 ? `+${text}` : change < 0 ? `−${text}` : text
}

/** A difference of rates in points, 0.019 → `+1.9 points`. */
export function formatPoints(difference: number): string {
  const text = `${decimals[1].format(Math.abs(difference) * 100)} points`
  return difference > 0 ? `+${text}` : difference < 0 ? `−${text}` : text
}

/** A length of time by its two largest units: `3 m 10 s`, `1 d 2 h`; under ten seconds with one decimal. */
export function formatDuration(ms: number | null): string {
  if (ms === null || !Number.isFinite(ms)) return MISSING
  if (ms < 1000) return ms < 1 ? '0 s' : `${Math.round(ms)} ms`
  if (ms < 10_000) return `${decimals[1].format(ms / 1000)} s`.replace('.0 s', ' s')
  let rest = Math.round(ms / 1000)
  const parts: string[] = []
  for (const [unit, seconds] of [
    ['d', 86_400],
    ['h', 3600],
    ['m', 60],
    ['s', 1],
  ] as const) {
    const n = Math.floor(rest / seconds)
    rest -= n * seconds
    if (parts.length === 1) {
      if (n > 0) parts.push(`${n} ${unit}`)
      break
    }
    if (n > 0) parts.push(`${n} ${unit}`)
  }
  return parts.join(' ').replace(/ /g, '\u00a0')
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
export const LONG_MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
]

/** `14 Sep`, with the year only where it is not this one. */
export function formatDay(day: string, thisYear: number): string {
  const date = Temporal.PlainDate.from(day)
  const text = `${date.day} ${MONTHS[date.month - 1]}`
  return date.year === thisYear ? text : `${text} ${date.year}`
}

/** `September`, with the year only where it is not this one. */
export function formatMonth(day: string, thisYear: number): string {
  const date = Temporal.PlainDate.from(day)
  return date.year === thisYear ? LONG_MONTHS[date.month - 1] : `${LONG_MONTHS[date.month - 1]} ${date.year}`
}

/** `22 Nov 23:58` in a zone. */
export function formatMoment(ms: number, zone: string, thisYear: number): string {
  const local = Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone)
  const two = (n: number) => String(n).padStart(2, '0')
  return `${formatDay(local.toPlainDate().toString(), thisYear)} ${two(local.hour)}:${two(local.minute)}`
}

/** `day pass, monthly or annual`: the last joined by a word. */
export function joinWords(items: readonly string[], word: 'and' | 'or'): string {
  if (items.length < 2) return items[0] ?? ''
  return `${items.slice(0, -1).join(', ')} ${word} ${items.at(-1)}`
}

/** `1 person`, `2 people`; what is written as 1 is one. */
export function countOf(n: number, one: string, many: string): string {
  const written = formatNumber(n)
  return `${written} ${written === '1' ? one : many}`
}

/** What a number counts or measures: decides how it is written. */
export type NumberUnit = 'people' | 'count' | 'number' | 'percent' | 'money' | 'duration' | 'index'

const moneys = new Map<string, Intl.NumberFormat>()

/**
 * A number of a unit. A share is given as 0.184, a duration in seconds.
 * @param digits decimals of a plain number; left out: as many as it needs
 */
export function formatAs(x: number | null, unit: NumberUnit, currency = 'EUR', digits?: number): string {
  if (x === null || !Number.isFinite(x)) return MISSING
  switch (unit) {
    case 'percent':
      return formatPercent(x)
    case 'duration':
      return x < 0 ? `−${formatDuration(-x * 1000)}` : formatDuration(x * 1000)
    case 'money': {
      const digits = Math.abs(x) >= 1000 ? 0 : 2
      const key = `${currency} ${digits}`
      let money = moneys.get(key)
      if (!money) {
        const fraction = { minimumFractionDigits: digits, maximumFractionDigits: digits }
        money = new Intl.NumberFormat('en-GB', { style: 'currency', currency, ...fraction })
        moneys.set(key, money)
      }
      return money.format(x)
    }
    default:
      return digits === undefined ? formatNumber(x) : decimals[digits].format(x)
  }
}

/** How many decimals numbers that stand together have: none where all are whole, else by the largest. */
export function digitsFor(values: readonly (number | null)[]): number {
  const numbers = values.filter((x) => x !== null && Number.isFinite(x))
  if (numbers.every((x) => Number.isInteger(x))) return 0
  const most = Math.max(...numbers.map((x) => Math.abs(x!)))
  return most < 10 ? 2 : most < 1000 ? 1 : 0
}

/** The same with a capital at its beginning. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
