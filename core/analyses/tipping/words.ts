import { quoted } from '../../words/exact.js'
import { countOf, formatNumber, joinWords } from '../../words/format.js'
import { eventWords, rangeWords, type Words } from '../../words/words.js'
import type { TippingMark } from './marks.js'
import type { Outcome, TippingQuestion } from './question.js'

/** `in week 4`, `from week 4 on`, `within 30 days thereafter`, `at least 3 times within 30 days thereafter`. */
export function outcomeWords(outcome: Outcome): string {
  if ('days' in outcome)
    return `${outcome.times === undefined ? '' : `at least ${outcome.times} times `}within ${countOf(outcome.days, 'day', 'days')} thereafter`
  const { unit, period, from, by } = outcome
  return `${from ? `from ${unit} ${period} on` : `in ${unit} ${period}`}${by ? ' from the very moment' : ''}`
}

export const daysWords = (days: number): string => `the first ${days === 1 ? 'day' : `${formatNumber(days)} days`}`

export const leftOutWords = (names: readonly string[], words: Words): string =>
  joinWords(
    names.map((name) => (words.full ? quoted(name) : eventWords({ names: [name] }, words))),
    'and',
  )

/** `3 times`, `once`. */
export const timesWords = (times: number): string => (times === 1 ? 'once' : `${times} times`)

/** A p-value, as it is shown. */
export const pWords = (p: number): string => (p < 0.001 ? 'under 0.001' : p.toFixed(3))

/** Who a mark's people are, after "who": `first did Signed up over the last 6 months and Ride rated at least 3 times in the first 7 days`. */
export function tippingMarkWords(study: TippingQuestion, mark: TippingMark, words: Words): string {
  const range = rangeWords(study.range, words)
  const { event, times, exactly, not, outcome } = mark
  const start = `first did ${eventWords(study.start.event, words)} ${range.lead}${range.text}`
  const often =
    exactly === undefined
      ? `at least ${timesWords(times ?? 1)}`
      : exactly === 0
        ? 'not at all'
        : `just ${timesWords(exactly)}`
  const name = event === undefined ? '' : eventWords({ names: [event] }, words)
  const early =
    event === undefined ? '' : ` and ${not ? `did not do ${name}` : `did ${name}`} ${often} in ${daysWords(study.days)}`
  const goal = eventWords(study.goal.event, words)
  const after =
    outcome === undefined
      ? ''
      : ` and ${outcome === 'came' ? `did ${goal}` : `did not do ${goal}`} ${outcomeWords(study.outcome)}`
  return `${start}${early}${after}`
}

/** The same, so that it can be read back: `who did “Ride rated” at least 3 times early and for whom it came`. */
export function exactTippingMark({ event, times, exactly, not, outcome }: TippingMark): string {
  const often =
    exactly === undefined ? (times === undefined ? '' : ` at least ${times} times`) : ` just ${exactly} times`
  return [
    event === undefined ? 'who began' : `who ${not ? 'did not do' : 'did'} ${quoted(event)}${often} early`,
    outcome === undefined ? '' : outcome === 'came' ? ' and for whom it came' : ' and for whom it did not come',
  ].join('')
}
