import { quoted } from '../../words/exact.js'
import { countOf, formatPercent, joinWords } from '../../words/format.js'
import { eventWords, filterWords, groupWords, propertyWords, type Words } from '../../words/words.js'
import type { FeatureOf } from './features.js'
import type { LikelihoodMark } from './marks.js'
import { USUAL_BACK, type Kept, type LikelihoodQuestion } from './question.js'

export const daysWords = (days: number): string => (days === 1 ? 'the next day' : `the next ${days} days`)
export const backWords = (back: number = USUAL_BACK): string => `their last ${countOf(back, 'day', 'days')}`

export const latelyWords = ({ back }: Pick<LikelihoodQuestion, 'back'>): string =>
  back === undefined ? `only people seen in the ${USUAL_BACK} days before` : 'only people seen in those days'

/** A likelihood, as far as it can be told apart from none. */
export function chanceWords(chance: number): string {
  if (chance > 0 && chance < 0.000005) return 'under 0.001\u202f%'
  return formatPercent(chance, chance === 0 ? 0 : chance < 0.001 ? 3 : chance < 0.1 ? 1 : 0)
}

/** A share of pairs in the right order: what is nearly all is not said to be all. */
export const pairsWords = (share: number): string => formatPercent(share, share > 0.985 && share < 1 ? 1 : 0)

/** What is foretold, after "do": `Pass bought where Plan is Annual in the next 14 days`. */
export function goalWords(
  { goal, days }: Pick<LikelihoodQuestion, 'goal' | 'days'>,
  words: Words,
  time = daysWords(days),
): string {
  return `${eventWords(goal.event, words)}${goal.where ? ` where ${filterWords(goal.where, words)}` : ''} in ${time}`
}

const nameOf = (event: string, words: Words) => eventWords({ names: [event] }, words)
const propertyName = (name: string, words: Words) => propertyWords({ of: 'person', name }, words)

export function keptWords(kept: readonly Kept[], words: Words): string {
  return joinWords(
    kept.map((each) => {
      if ('event' in each) return words.full ? `event ${quoted(each.event)}` : nameOf(each.event, words)
      return words.full ? `property ${quoted(each.property)}` : propertyName(each.property, words)
    }),
    'and',
  )
}

/** What is known of people: `how often Ride completed`, `Plan is Annual`. */
export function featureWords(feature: FeatureOf, words: Words): string {
  switch (feature.of) {
    case 'count':
      return `how often ${nameOf(feature.event, words)}`
    case 'last':
      return `days since the last ${nameOf(feature.event, words)}`
    case 'days':
      return `on how many days ${nameOf(feature.event, words)}`
    case 'seen':
      return 'how long they have been known'
    case 'value':
      return `${propertyName(feature.property, words)} is ${groupWords({ value: feature.value })}`
    case 'none':
      return `${propertyName(feature.property, words)} has no value`
    case 'number':
      return propertyName(feature.property, words)
  }
}

/** The same as it speaks for doing it, or against: `Ride completed more often`. */
export function speaksWords(feature: FeatureOf, more: boolean, words: Words): string {
  switch (feature.of) {
    case 'count':
      return `${nameOf(feature.event, words)} ${more ? 'more often' : 'less often'}`
    case 'last':
      return `${nameOf(feature.event, words)} ${more ? 'longer ago' : 'more lately'}`
    case 'days':
      return `${nameOf(feature.event, words)} on ${more ? 'more' : 'fewer'} days`
    case 'seen':
      return more ? 'known for longer' : 'known for less long'
    case 'value':
      return `${propertyName(feature.property, words)} is ${more ? '' : 'not '}${groupWords({ value: feature.value })}`
    case 'none':
      return `${propertyName(feature.property, words)} has ${more ? 'no' : 'a'} value`
    case 'number':
      return `${more ? 'higher' : 'lower'} ${propertyName(feature.property, words)}`
  }
}

/** Which part of people a mark means, by place: `the likeliest 20 %`. */
export function partWords({ from, to }: { from: number; to: number }): string {
  if (from === 0) return to === 100 ? 'everybody there is a likelihood of' : `the likeliest ${to} %`
  return to === 100 ? `all but the likeliest ${from} %` : `the likeliest ${to} % without the likeliest ${from} %`
}

/** Who a mark's people are, after "who". */
export function likelihoodMarkWords(study: LikelihoodQuestion, mark: LikelihoodMark, words: Words): string {
  return `are ${partWords(mark)} to do ${goalWords(study, words)}`
}

/** The same, so that it can be read back. */
export const exactLikelihoodMark = ({ from, to }: LikelihoodMark): string =>
  `who are from ${from} % to ${to} % of people from the likeliest on`
