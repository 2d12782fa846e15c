import { countOf } from '../../words/format.js'
import { bucketWords, eventWords, groupWords, rangeWords, WEEKDAYS, type Words } from '../../words/words.js'
import { HABIT_UNITS, type HabitQuestion } from './question.js'
import type { HabitMark } from './marks.js'

/** How days, periods and selections of a habit are said. */

/** `a week`, `4 weeks`. */
export function periodPhrase(period: HabitQuestion['period']): string {
  return period === '4 weeks' || period === '8 weeks' ? period : `a ${period}`
}

/** `12 days or more`. */
export function daysPhrase(days: number, unit: string, more: boolean): string {
  return `${countOf(days, unit, `${unit}s`)}${more ? ' or more' : ''}`
}

/** `on Mondays`, `from 08:00 to 09:00`. */
export function placeWords(place: number, unit: 'hour' | 'day' | 'week'): string {
  const two = (n: number) => `${String(n).padStart(2, '0')}:00`
  return unit === 'hour' ? `from ${two(place)} to ${two((place + 1) % 24)}` : `on ${WEEKDAYS[place]}s`
}

/** Who a mark's people are, after "who": `did X on 3 days or more of October`. */
export function daysMarkWords(question: HabitQuestion, mark: HabitMark, words: Words): string {
  const { unit } = HABIT_UNITS[question.period]
  const event = eventWords(question.start.event, words)
  const group = mark.group ? ` (${groupWords(mark.group)})` : ''
  const range = rangeWords(question.range, words)
  if (mark.place !== undefined) return `did ${event} ${placeWords(mark.place, unit)} ${range.lead}${range.text}${group}`
  const days = mark.days === undefined ? `any ${unit}` : daysPhrase(mark.days, unit, mark.more === true)
  const when =
    mark.bucket === undefined
      ? `of ${periodPhrase(question.period)} ${range.lead}${range.text}`
      : `of ${spanWords(question.period, mark.bucket, words)}`
  return `did ${event} on ${days} ${when}${group}`
}

/** `October`, `the week of 14 Sep`, `the 4 weeks from 14 Sep`. */
export function spanWords(period: HabitQuestion['period'], key: string, words: Words): string {
  if (period === '4 weeks' || period === '8 weeks') return `the ${period} from ${bucketWords(key, 'day', words)}`
  return bucketWords(key, period, words)
}

/** The same, so that it can be read back: `who came on 3 or more of the period from 1 Oct, at place 2`. */
export function exactDays({ days, more, bucket, place }: HabitMark, day: (key: string) => string): string {
  return [
    'who came on ',
    days === undefined ? 'any' : `${days}${more ? ' or more' : ''}`,
    bucket === undefined ? ' of any period' : ` of the period from ${day(bucket)}`,
    place === undefined ? '' : `, at place ${place}`,
  ].join('')
}
