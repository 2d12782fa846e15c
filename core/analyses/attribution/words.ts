import { keyWords } from '../../words/exact.js'
import { formatDuration, formatNumber, joinWords, MISSING } from '../../words/format.js'
import {
  bucketWords,
  eventPropertyWords,
  eventWords,
  filterWords,
  groupWords,
  propertyWords,
  rangeWords,
  type Words,
} from '../../words/words.js'
import type { EventPick, ValueKey } from '../../questions/parts.js'
import { exactBucket, exactDetails, exactGroup, ofGroup } from '../markWords.js'
import type { AttributionMark, TouchKey } from './marks.js'
import {
  AGES,
  MOST_TOLD,
  type AttributionQuestion,
  type LookBack,
  type Model,
  type PlainModel,
  type TouchBy,
} from './question.js'

/** Models by the trade's plain names, or by their numbers. */
export const MODEL_NAMES: Record<PlainModel, string> = {
  first: 'first touch',
  last: 'last touch',
  'last other': 'last other than direct',
  linear: 'linear',
  decay: 'time decay',
  '40-20-40': '40-20-40',
  '20-20-60': '20-20-60',
  '60-20-20': '60-20-20',
  participation: 'participation',
  removal: 'removal effect',
  shapley: 'Shapley value',
}

export const modelWords = (model: Model): string =>
  typeof model === 'string' ? MODEL_NAMES[model] : `own ${model.own.join('-')}`

export function lookBackWords({ count, unit }: LookBack): string {
  return `${formatNumber(count)} ${unit}${count === 1 ? '' : 's'}`
}

export const touchByWords = (by: TouchBy, words: Words): string =>
  by.of === 'event name' ? 'Event' : by.of === 'event' ? eventPropertyWords(by.name, words) : propertyWords(by, words)

/** In a sentence that is read back, where an event's property has to be told from the profile's. */
export const exactTouchBy = (by: TouchBy, words: Words): string =>
  by.of === 'event name' ? 'Event' : propertyWords(by, words)

export function pickedWords(pick: EventPick, words: Words): string {
  return `${eventWords(pick.event, words)}${pick.where ? ` where ${filterWords(pick.where, words)}` : ''}`
}

export const halfLifeWords = (days: number): string => `${formatNumber(days)} ${days === 1 ? 'day' : 'days'}`

export const valuesWords = (values: readonly ValueKey[]): string => joinWords(values.map(keyWords), 'and')

/** A value of a touch, as rows are named; of events by their display name. */
export function touchWords(key: TouchKey, by: TouchBy, rest: number | undefined, words: Words): string {
  if (by.of === 'event name' && 'value' in key && typeof key.value === 'string')
    return eventWords({ names: [key.value] }, words)
  return groupWords(key, rest)
}

/** Credits as they are read: whole where they are large, to a tenth where they are small. */
export function sayCredit(credit: number | null): string {
  if (credit === null) return MISSING
  const tenths = Math.round(credit * 10) / 10
  return Math.abs(credit) < 100 && !Number.isInteger(tenths) ? tenths.toFixed(1) : formatNumber(Math.round(credit))
}

/** What conversions are counted as, after a number: `conversions`, `people`, or the property they add up. */
export function worthWords({ worth }: Pick<AttributionQuestion, 'worth'>, words: Words): string {
  if (worth === undefined) return 'conversions'
  if (worth === 'people') return 'people'
  const { sum } = worth
  return sum.of === 'event' ? eventPropertyWords(sum.name, words) : propertyWords(sum, words)
}

/** `3 touches`, `10 touches or more`. */
export const manyWords = (many: number): string =>
  `${many} ${many === 1 ? 'touch' : 'touches'}${many === MOST_TOLD ? ' or more' : ''}`

/** `up to 1 h`, `1 h to 1 d`, `over 30 d`. */
export function ageWords(at: number): string {
  if (at === 0) return `up to ${formatDuration(AGES[0])}`
  return at === AGES.length
    ? `over ${formatDuration(AGES[at - 1])}`
    : `${formatDuration(AGES[at - 1])} to ${formatDuration(AGES[at])}`
}

/** Who a mark's people are, after "who": `did Pass bought over the last 90 days, credited to Search by last touch`. */
export function attributionMarkWords(study: AttributionQuestion, mark: AttributionMark, words: Words): string {
  const goal = study.goals[mark.goal ?? 0] ?? study.goals[0]
  const range = rangeWords(study.range, words)
  const name = (key: TouchKey) => touchWords(key, study.by, undefined, words)
  const bucket = mark.kind === 'credit' && mark.bucket !== undefined && study.every ? mark.bucket : null
  const when = bucket === null ? `${range.lead}${range.text}` : `in ${bucketWords(bucket, study.every!, words)}`
  const did = `did ${pickedWords(goal, words)} ${when}`
  if (mark.kind === 'touches') return `${did}, after ${mark.values.map(name).join(' › ')}`
  const { value, model, none, many, age } = mark
  const said = none
    ? ', with no touch found'
    : value === undefined
      ? ''
      : model === undefined
        ? `, after a touch of ${name(value)}`
        : `, credited to ${name(value)} by ${modelWords(model)}`
  const found = [
    ...(many === undefined ? [] : [`, with ${manyWords(many)}`]),
    ...(age === undefined ? [] : [`, ${ageWords(age)} after the first touch`]),
  ]
  return `${did}${said}${found.join('')}${ofGroup(mark.group)}`
}

/** The same, so that it can be read back: `who converted after Search by last touch in 14 Sep (Annual)`. */
export function exactAttributionMark(study: AttributionQuestion, mark: AttributionMark, words: Words): string {
  const head = `who converted${mark.goal === undefined ? '' : ` to conversion ${mark.goal + 1}`}`
  if (mark.kind === 'touches') return `${head} along ${mark.values.map(keyWords).join(' › ')}`
  const { value, model, none, many, age, bucket, group } = mark
  return [
    head,
    none ? ' without a touch' : '',
    many === undefined ? '' : ` with ${many} touches`,
    age === undefined ? '' : ` at age ${age}`,
    value === undefined ? '' : ` after ${keyWords(value)}`,
    model === undefined ? '' : ` by ${modelWords(model)}`,
    bucket === undefined ? '' : ` in ${exactBucket(bucket, study.every ?? 'week', words)}`,
    exactDetails(group && exactGroup(group)),
  ].join('')
}
