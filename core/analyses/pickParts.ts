import type { EventPick } from '../questions/parts.js'
import type { SentencePart } from '../words/sentence.js'
import { eventWords, filterWords, type Words } from '../words/words.js'

/** An event and the condition on it, each a word of the question. @param path where the event stands in the definition */
export function pickParts(pick: EventPick, event: string, where: string, path: string, words: Words): SentencePart[] {
  const parts: SentencePart[] = [
    { text: eventWords(pick.event, words), token: event, tone: 'water', path: `${path}.event` },
  ]
  if (pick.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(pick.where, words), token: where, tone: 'water', path: `${path}.where` },
    )
  return parts
}
