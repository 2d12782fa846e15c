import { formatNumber } from '../../words/format.js'
import { eventWords, groupWords, rangeWords, type Words } from '../../words/words.js'
import type { RetentionQuestion } from './question.js'
import type { RetentionMark } from './marks.js'

/** How periods and selections of a retention are said. */

/** `week 4`, `days 8 to 30`, `the start`. */
export function periodWords(
  question: Pick<RetentionQuestion, 'every' | 'brackets'>,
  [low, high]: [number, number],
): string {
  if (question.brackets) return low === high ? `day ${low}` : `days ${low} to ${high}`
  return `${question.every} ${low}`
}

/** `in week 4`, `on days 8 to 30`. */
export function duringWords(question: Pick<RetentionQuestion, 'every' | 'brackets'>, period: [number, number]): string {
  return `${question.brackets ? 'on' : 'in'} ${periodWords(question, period)}`
}

/** As `periodWords`, where there is little room. */
export function shortPeriod(
  question: Pick<RetentionQuestion, 'every' | 'brackets'>,
  [low, high]: [number, number],
): string {
  if (question.brackets) return low === high ? `d${low}` : `d${low}–${high}`
  return `${question.every === 'month' ? 'm' : question.every === 'week' ? 'w' : question.every === 'day' ? 'd' : 'h'}${low}`
}

/** Who a mark's people are, after "who": `first did Signed up in the week of 14 Sep and came back in week 4`. */
export function cohortMarkWords(
  question: RetentionQuestion,
  mark: RetentionMark,
  bucket: (key: string) => string,
  words: Words,
): string {
  const range = rangeWords(question.range, words)
  const when = mark.cohort === undefined ? `${range.lead}${range.text}` : `in ${bucket(mark.cohort)}`
  const started = `first did ${eventWords(question.start.event, words)} ${when}`
  const group = mark.group ? ` (${groupWords(mark.group)})` : ''
  if (mark.what === 'started' || mark.period === undefined) return started + group
  const period: [number, number] = question.brackets?.[mark.period] ?? [mark.period, mark.period]
  const during = `${duringWords(question, period)}${question.count === 'from' ? ' or later' : ''}`
  const back = question.back ? `did ${eventWords(question.back.event, words)}` : 'did it again'
  if (mark.what === 'returned') return `${started} and ${back} ${during}${group}`
  const not = question.back ? `did not do ${eventWords(question.back.event, words)}` : 'did not do it again'
  return `${started} and ${not} ${during}${group}`
}

/** The same, so that it can be read back: `who came back in period 4, begun in the week of 14 Sep (Annual)`. */
export function exactCohort({ cohort, period, what }: RetentionMark, bucket: (key: string) => string): string {
  const begun = cohort === undefined ? '' : `, begun in ${bucket(cohort)}`
  const when = period === undefined ? '' : ` in period ${formatNumber(period)}`
  const did = {
    started: 'who started',
    returned: 'who came back',
    not: 'who did not come back',
    gone: 'gone for good',
  }[what]
  return `${did}${when}${begun}`
}
