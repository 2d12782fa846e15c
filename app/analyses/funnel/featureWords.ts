import type { Feature } from '../../../core/analyses/funnel/question.js'
import { eventPropertyWords, eventWords, type Words } from '../../../core/words/words.js'

/** `Card refused, Reason form error`. */
export function featureWords({ event, property, value }: Feature, words: Words): string {
  const name = eventWords({ names: [event] }, words)
  if (property === undefined) return name
  const said = typeof value === 'boolean' ? (value ? 'yes' : 'no') : value
  return `${name}, ${eventPropertyWords(property, words)} ${said}`
}
