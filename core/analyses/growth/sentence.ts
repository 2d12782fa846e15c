import type { SentencePart } from '../../words/sentence.js'
import { eventWords, filterWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts } from '../splitParts.js'
import type { GrowthInterval, GrowthQuestion, GrowthState } from './question.js'

/** `each week`, `every 14 days`. */
export function intervalWords(interval: GrowthInterval): string {
  if ('unit' in interval) return `each ${interval.unit}`
  return interval.days === 1 ? 'every day' : `every ${interval.days} days`
}

/** "Who is new, retained, revived, lapsed and idle each week over the last 12 weeks, by doing X?" */
export function growthSentence(question: GrowthQuestion, words: Words): SentencePart[] {
  const { start } = question
  const range = rangeWords(question.range, words)
  const parts: SentencePart[] = [
    { text: 'Who is new, retained, revived, lapsed and idle ' },
    { text: intervalWords(question.interval), token: 'interval', tone: 'hazel', path: 'interval' },
    { text: ` ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    { text: ', by doing ' },
    { text: eventWords(start.event, words), token: 'event', tone: 'water', path: 'start.event' },
  ]
  if (start.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(start.where, words), token: 'where', tone: 'water', path: 'start.where' },
    )
  return [...parts, ...breakdownParts(question.breakdowns, words), ...amongParts(question, words), { text: '?' }]
}

export const STATE_MEANS: Record<GrowthState, string> = {
  new: 'did it for the first time ever',
  retained: 'did it, and in the one before as well',
  revived: 'did it again after a break',
  lapsed: 'did it in the one before and not in this one',
  idle: 'did it before, and in neither of the two',
}
