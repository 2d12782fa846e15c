import type { Question } from '../analyses/registry.js'

/** How one part of a typed question was understood. */
export interface Understood {
  /** where it stands in the text; `to` is not included */
  from: number
  to: number
  as:
    | 'measure'
    | 'event'
    | 'property'
    | 'value'
    | 'time'
    | 'unit'
    | 'groups'
    | 'comparison'
    | 'window'
    | 'reading'
    | 'kind'
    | 'people'
  /** in the words of the workspace */
  means: string
}

/** One way to understand a typed question. */
export interface AskReading {
  question: Question
  understood: Understood[]
  /** words that say nothing to it */
  unused: { from: number; to: number }[]
}
