import { withDays, type HabitResult, type HabitRow } from '../../../core/analyses/habit/finish.js'
import { bucketUnit } from '../../../core/analyses/habit/sentence.js'
import { daysPhrase, placeWords } from '../../../core/analyses/habit/words.js'
import type { HabitQuestion } from '../../../core/analyses/habit/question.js'
import type { HabitMark } from '../../../core/analyses/habit/marks.js'
import { capital, countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { groupWords, WEEKDAYS, type Words } from '../../../core/words/words.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'

export function rowName({ key }: HabitRow, rest: number): string {
  return key === null ? 'Everybody' : groupWords(key, rest)
}

export function markOf(row: HabitRow, mark: Omit<HabitMark & { kind: 'days' }, 'kind' | 'group'>): HabitMark {
  return { kind: 'days', ...mark, ...(row.key ? { group: row.key } : {}) }
}

/** How many days are shown: up to the most that anybody came. */
export function shownDays({ all, most }: HabitResult): number {
  const last = all.exactly.findLastIndex((n) => n > 0) + 1
  return Math.max(Math.min(most, 7), last)
}

/** The share of person-periods with exactly d, or d or more; null where there are none. */
export function shareOf(row: HabitRow, days: number, more: boolean): number | null {
  return row.active > 0 ? withDays(row.exactly, days, more) / row.active : null
}

/** `person-weeks`. */
export function periodsName({ period }: HabitResult): string {
  return period === '4 weeks' || period === '8 weeks' ? `person-spans of ${period}` : `person-${period}s`
}

export function shareTells(row: HabitRow, days: number, more: boolean, result: HabitResult): string {
  const people = (more ? row.peopleMore : row.people)[days - 1]
  return `${formatPercent(shareOf(row, days, more))}, ${formatNumber(withDays(row.exactly, days, more))} of ${formatNumber(row.active)} ${periodsName(result)}, ${countOf(people, 'person', 'people')}`
}

/** A period's short name on the axis, and by itself. */
export function periodNames(question: HabitQuestion, result: HabitResult, words: Words) {
  const unit = bucketUnit(question.period)
  const wide = question.period === '4 weeks' || question.period === '8 weeks'
  return {
    axis: result.periods.map((key) => bucketLabel(key, unit, words)),
    titles: result.periods.map((key) =>
      wide ? `${question.period} from ${bucketLabel(key, 'day', words)}` : bucketTitle(key, unit, words),
    ),
  }
}

/** Weekdays, or hours of the day. */
export function placeNames({ unit, times }: HabitResult): { axis: string[]; titles: string[] } {
  return {
    axis: times.map((_n, place) => (unit === 'hour' ? String(place).padStart(2, '0') : WEEKDAYS[place].slice(0, 3))),
    titles: times.map((_n, place) => capital(placeWords(place, unit))),
  }
}

/** People on such a day, on average over the days of the time asked about. */
export function perDay(row: HabitRow, { times }: HabitResult, place: number): number | null {
  return times[place] > 0 ? row.pattern[place].days / times[place] : null
}

export function thresholdName({ core, period }: HabitQuestion, days: number, unit: string): string {
  const said = daysPhrase(days, unit, true)
  return core?.days === days
    ? `${core.name}: ${said} in ${period === '4 weeks' || period === '8 weeks' ? period : `a ${period}`}`
    : said
}
