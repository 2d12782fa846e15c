import { keyWords, quoted } from '../../words/exact.js'
import { countOf, formatNumber, joinWords } from '../../words/format.js'
import { eventWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import type { TippingMark } from './marks.js'
import type { Done, OpenedEvent, Outcome, TippingQuestion } from './question.js'

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

/** `3 times`, `on 3 days`, by how it is counted. */
export const oftenWords = (times: number, { count }: Pick<TippingQuestion, 'count'>): string =>
  count === 'days' ? `on ${countOf(times, 'day', 'days')}` : timesWords(times)

/** `Ride completed`, `Ride completed with Bike type electric`, `different From district of Ride completed`. */
export function doneWords({ event, by, is }: Done, words: Words): string {
  const name = eventWords({ names: [event] }, words)
  if (by === undefined) return name
  const property = propertyWords(by, words)
  return is === undefined ? `different ${property} of ${name}` : `${name} with ${property} ${keyWords({ value: is })}`
}

/** `for each Bike type of Ride completed`, `how many different From district of Ride completed`. */
export function openedWords({ event, by, as }: OpenedEvent, words: Words): string {
  const [name, property] = words.full
    ? [quoted(event.names[0]), quoted(by.name)]
    : [eventWords(event, words), propertyWords(by, words)]
  return `${as ? 'how many different' : 'each'} ${property} of ${name}`
}

/** A p-value, as it is shown. */
export const pWords = (p: number): string => (p < 0.001 ? 'under 0.001' : p.toFixed(3))

type Often = Pick<TippingMark, 'times' | 'exactly' | 'not'>

const manyWords = ({ times, exactly }: Often, study: TippingQuestion): string =>
  exactly === undefined
    ? `at least ${oftenWords(times ?? 1, study)}`
    : exactly === 0
      ? 'not at all'
      : `just ${oftenWords(exactly, study)}`

/** ` at least 3 times`, ` just 0 times`, or nothing. */
const exactOften = ({ times, exactly }: Often): string =>
  exactly === undefined ? (times === undefined ? '' : ` at least ${times} times`) : ` just ${exactly} times`

/** Who a mark's people are, after "who": `first did Signed up over the last 6 months and Ride rated at least 3 times in the first 7 days`. */
export function tippingMarkWords(study: TippingQuestion, mark: TippingMark, words: Words): string {
  const range = rangeWords(study.range, words)
  const { event, also, of, left, outcome } = mark
  const did = (done: Done, many: Often) =>
    ` and ${many.not ? 'did not do' : 'did'} ${doneWords(done, words)} ${manyWords(many, study)}`
  const early = `${event === undefined ? '' : did({ ...mark, event }, mark)}${also ? did(also, also) : ''}`
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
/** A value before further words: a text always in quotes, whatever it may hold. */
const exactIs = (value: string | boolean | null): string =>
  typeof value === 'string' ? quoted(value) : keyWords({ value })

/** ` of “bike_type” “electric”`, ` of different “district”`, or nothing. */
const exactValue = ({ by, is }: Partial<Done>): string =>
  by === undefined
    ? ''
    : is === undefined
      ? ` of different ${quoted(by.name)}`
      : ` of ${quoted(by.name)} ${exactIs(is)}`

export function exactTippingMark(mark: TippingMark): string {
  const { event, not, also, of, left, outcome } = mark
  return [
    event === undefined
      ? 'who began'
      : `who ${not ? 'did not do' : 'did'} ${quoted(event)}${exactValue(mark)}${exactOften(mark)} early`,
    also ? ` and ${also.not ? 'did not do' : 'did'} ${quoted(also.event)}${exactValue(also)}${exactOften(also)}` : '',
    of ? ` with ${quoted(of.property.name)} ${exactIs(of.value)}` : '',
    left ? ' with days left' : '',
    outcome === undefined ? '' : outcome === 'came' ? ' and for whom it came' : ' and for whom it did not come',
  ].join('')
}
