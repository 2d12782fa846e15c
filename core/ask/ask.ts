import { printedOf } from '../analyses/inWords.js'
import type { Question } from '../analyses/registry.js'
import { readPrinted } from './printed.js'
import { readingsOf } from './readings.js'
import type { Vocabulary } from './vocabulary.js'

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

/**
 * Understands a plain question in English over a workspace's own names: the best reading first, then the next best ones.
 * A sentence as Dowser prints it has one reading, and is the very question it was printed from. Deterministic; an empty
 * list where nothing there is to ask about is named.
 */
export function ask(text: string, vocabulary: Vocabulary, firstDayOfWeek = 1): AskReading[] {
  const printed = readPrinted(text, vocabulary)
  if (printed) return [{ question: printed, understood: [], unused: [] }]
  const seen = new Set<string>()
  return readingsOf(text, vocabulary, firstDayOfWeek).filter(({ question }) => {
    const key = JSON.stringify(question)
    return !seen.has(key) && seen.add(key)
  })
}

/** The sentence that a reading would be printed as. */
export function sentenceFor({ question }: AskReading, words: Parameters<typeof printedOf>[1]): string {
  return printedOf(question, words)
}
