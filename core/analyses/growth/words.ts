import { joinWords } from '../../words/format.js'
import { eventWords, groupWords, type Words } from '../../words/words.js'
import type { GrowthInterval, GrowthQuestion } from './question.js'
import type { GrowthMark } from './marks.js'

/** How selections of growth accounting are said. */

/** One interval by itself: `week`, `interval of 14 days`. */
export function intervalName(interval: GrowthInterval): string {
  if ('unit' in interval) return interval.unit
  return interval.days === 1 ? 'day' : `interval of ${interval.days} days`
}

/** Who a mark's people are, after "who": `lapsed in the week of 14 Sep`. */
export function stateMarkWords(
  question: GrowthQuestion,
  mark: GrowthMark,
  bucket: (key: string) => string,
  words: Words,
): string {
  const are = mark.states.filter((state) => state !== 'lapsed')
  const states = [
    ...(mark.states.includes('lapsed') ? ['lapsed'] : []),
    ...(are.length > 0 ? [`were ${joinWords(are, 'or')}`] : []),
  ].join(' or ')
  const from =
    mark.from === undefined ? '' : `, having been ${mark.from === 'unseen' ? 'never seen' : mark.from} before`
  const group = mark.group ? ` (${groupWords(mark.group)})` : ''
  const when = mark.interval === undefined ? `the last full ${intervalName(question.interval)}` : bucket(mark.interval)
  return `${states} in ${when}${from}, by doing ${eventWords(question.start.event, words)}${group}`
}

/** The same, so that it can be read back: `who were new or retained in the interval from 14 Sep, coming from idle`. */
export function exactState({ states, interval, from }: GrowthMark, day: (key: string) => string): string {
  return `who were ${joinWords(states, 'or')} in ${interval === undefined ? 'the last full interval' : `the interval from ${day(interval)}`}${from === undefined ? '' : `, coming from ${from}`}`
}
