import { keyWords, quoted } from '../../words/exact.js'
import { countOf, formatNumber, joinWords } from '../../words/format.js'
import { eventWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
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

type Often = Pick<TippingMark, 'times' | 'exactly' | 'not'>

const oftenWords = ({ times, exactly }: Often): string =>
  exactly === undefined
    ? `at least ${timesWords(times ?? 1)}`
    : exactly === 0
      ? 'not at all'
      : `just ${timesWords(exactly)}`

/** ` at least 3 times`, ` just 0 times`, or nothing. */
const exactOften = ({ times, exactly }: Often): string =>
  exactly === undefined ? (times === undefined ? '' : ` at least ${times} times`) : ` just ${exactly} times`

/** Who a mark's people are, after "who": `first did Signed up over the last 6 months and Ride rated at least 3 times in the first 7 days`. */
export function tippingMarkWords(study: TippingQuestion, mark: TippingMark, words: Words): string {
  const range = rangeWords(study.range, words)
  const { event, also, of, left, outcome } = mark
  const named = (name: string) => eventWords({ names: [name] }, words)
  const did = (name: string, many: Often) =>
    ` and ${many.not ? 'did not do' : 'did'} ${named(name)} ${oftenWords(many)}`
  const early = `${event === undefined ? '' : did(event, mark)}${also ? did(also.event, also) : ''}`
  const goal = eventWords(study.goal.event, words)
  return [
    `first did ${eventWords(study.start.event, words)} ${range.lead}${range.text}`,
    left ? `, for whom ${daysWords(study.days)} are not over,` : '',
    of ? `, of ${propertyWords(of.property, words)} ${keyWords({ value: of.value })},` : '',
    early && `${early} ${left ? 'so far' : `in ${daysWords(study.days)}`}`,
    outcome === undefined
      ? ''
      : ` and ${outcome === 'came' ? `did ${goal}` : `did not do ${goal}`} ${outcomeWords(study.outcome)}`,
  ]
    .join('')
    .replace(/,$/, '')
}

/** The same, so that it can be read back: `who did “Ride rated” at least 3 times early and for whom it came`. */
export function exactTippingMark(mark: TippingMark): string {
  const { event, not, also, of, left, outcome } = mark
  return [
    event === undefined ? 'who began' : `who ${not ? 'did not do' : 'did'} ${quoted(event)}${exactOften(mark)} early`,
    also ? ` and ${also.not ? 'did not do' : 'did'} ${quoted(also.event)}${exactOften(also)}` : '',
    of ? ` with ${quoted(of.property.name)} ${keyWords({ value: of.value })}` : '',
    left ? ' with days left' : '',
    outcome === undefined ? '' : outcome === 'came' ? ' and for whom it came' : ' and for whom it did not come',
  ].join('')
}
