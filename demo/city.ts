import { Temporal } from 'temporal-polyfill'

/** Port Alder, an invented harbour city, and the year of its invented bike-share. */
export const ZONE = 'Europe/Lisbon'
export const DAY = 86_400_000
export const MINUTE = 60_000
export const HOUR = 60 * MINUTE

/** first moment of a local day */
export const at = (day: string): number => Temporal.PlainDate.from(day).toZonedDateTime(ZONE).epochMilliseconds

export const START = at('2026-01-02')
/** the demo's last moment: the end of Sunday 22 November */
export const END = at('2026-11-23') - 1
export const PRICE_RISE = at('2026-10-08')
export const BROKEN_FORM = at('2026-09-21')
export const FORM_FIXED = at('2026-10-19')
const VERSION_531 = at('2026-09-28')
const VERSION_520 = at('2026-06-08')
const VERSION_510 = at('2026-03-16')

/** First moments of the local days from the first to the last, so that both clock changes are in it. */
export const DAYS: readonly number[] = (() => {
  const days: number[] = []
  const last = Temporal.PlainDate.from('2026-11-22')
  for (
    let day = Temporal.PlainDate.from('2026-01-02');
    Temporal.PlainDate.compare(day, last) <= 0;
    day = day.add({ days: 1 })
  )
    days.push(day.toZonedDateTime(ZONE).epochMilliseconds)
  return days
})()

/** index of the local day of a moment; clamped to the year */
export function dayIndex(ms: number): number {
  let index = Math.min(DAYS.length - 1, Math.max(0, Math.floor((ms - START) / DAY)))
  while (index + 1 < DAYS.length && DAYS[index + 1] <= ms) index++
  while (index > 0 && DAYS[index] > ms) index--
  return index
}

/** 0 = Monday; 2 January 2026 was a Friday */
export const weekday = (day: number): number => (day + 4) % 7

/** Weeks of rain, counted from the first: fewer rides. */
const RAIN_WEEKS = new Set([1, 4, 5, 8, 11, 15, 22, 40, 43, 45])
export const isRainy = (day: number): boolean => RAIN_WEEKS.has(Math.floor((day + 4) / 7))

/** How much people ride for pleasure: more in summer. Day 181 is the first of July. */
export const season = (day: number): number => 0.75 + 0.5 * Math.exp(-(((day - 195) / 55) ** 2))

export const DISTRICTS = {
  Quayside: 22,
  'Old Mint': 16,
  'Lantern Hill': 12,
  'Marsh End': 10,
  'College Green': 18,
  Ropewalk: 13,
  Northgate: 9,
} as const
export type District = keyof typeof DISTRICTS

export const FIRST_NAMES = [
  'Ada',
  'Bela',
  'Caio',
  'Dora',
  'Edda',
  'Filip',
  'Gita',
  'Hugo',
  'Ines',
  'Joel',
  'Kaja',
  'Luis',
  'Mina',
  'Nuno',
  'Olga',
  'Pere',
  'Rosa',
  'Sven',
  'Tilda',
  'Udo',
  'Vera',
  'Wim',
  'Yara',
  'Zeno',
] as const

/** The app's version on a phone at a moment. 5.3.0, with the broken card form, was for Android only. */
export function appVersion(platform: 'iOS' | 'Android', ms: number): string {
  if (ms >= FORM_FIXED) return '5.3.2'
  if (platform === 'Android' && ms >= BROKEN_FORM) return '5.3.0'
  if (platform === 'iOS' && ms >= VERSION_531) return '5.3.1'
  if (ms >= VERSION_520) return '5.2.0'
  return ms >= VERSION_510 ? '5.1.0' : '5.0.0'
}
