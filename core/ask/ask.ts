import { readPrinted } from './printed.js'
import { readingsOf } from './readings.js'
import type { AskReading } from './understood.js'
import type { Vocabulary } from './vocabulary.js'

/**
 * Understands a plain question in English over a workspace's own names: the best reading first, then the next best ones.
 * A sentence as Dowser prints it has one reading, and is the very question it was printed from. Deterministic; an empty
 * list where nothing there is to ask about is named.
 */
export function ask(text: string, vocabulary: Vocabulary, firstDayOfWeek = 1): AskReading[] {
  const printed = readPrinted(text, vocabulary)
  if (printed) return [{ question: printed, understood: [], unused: [], notes: [] }]
  const seen = new Set<string>()
  return readingsOf(text, vocabulary, firstDayOfWeek).filter(({ question, rule }) => {
    const key = JSON.stringify(question ?? rule)
    return !seen.has(key) && seen.add(key)
  })
}
