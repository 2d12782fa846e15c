import type { Said } from './said.js'
import type { Understood } from './understood.js'

/** Words that mean the same in every workspace, and what they say. */
export interface Phrase {
  regex: RegExp
  as: Understood['as']
  /** only where no event goes by these words */
  unlessNamed?: true
  take(match: RegExpExecArray, said: Said): string | null
}

export const phrase = (as: Phrase['as'], source: string, take: Phrase['take']): Phrase => ({
  ...{ as, take },
  regex: new RegExp(`(?:${source})(?![\\p{L}\\p{N}])`, 'uy'),
})

/** People as such: whoever else is named says something. */
export const ANYBODY =
  '(?:people|persons?|users?|they|riders?|customers?|members?|visitors?|teams?|companies|clients?|accounts|shoppers?|somebody|someone|everybody|everyone)'
