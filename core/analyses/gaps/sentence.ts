import type { Reading, SentencePart } from '../../words/sentence.js'
import { countOf, formatNumber } from '../../words/format.js'
import { eventWords, filterWords, plain, rangeWords, strong, type Finding, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import type { GapsResult } from './finish.js'
import type { GapsQuestion } from './question.js'

/** "How often do people naturally do X, over the last 26 weeks?" */
export function gapsSentence(question: GapsQuestion, words: Words): SentencePart[] {
  const { start } = question
  const range = rangeWords(question.range, words)
  const parts: SentencePart[] = [
    { text: 'How often do people naturally do ' },
    { text: eventWords(start.event, words), token: 'event', tone: 'water', path: 'start.event' },
  ]
  if (start.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(start.where, words), token: 'where', tone: 'water', path: 'start.where' },
    )
  parts.push({ text: `, ${range.lead}` }, { text: range.text, token: 'range', tone: 'hazel', path: 'range' })
  return [...parts, ...amongParts(question, words), { text: '?' }]
}

export function explainGaps(question: GapsQuestion, zone: string, words: Words): string[] {
  const event = eventWords(question.start.event, words)
  return [
    `A gap is the number of days from one day on which a person did ${event} to the next on which they did: 1 is the next day. Several on the same day count as one. Days are cut in ${zone}.`,
    'Only gaps that begin and end in the time asked about are known: whoever has not come back yet has no last gap, so a short time makes people look more frequent than they are.',
    '80 % of returns happen within so many days: the least number of days that at least 80 % of all gaps do not exceed. People who come often have many gaps and weigh more in it.',
    'Each person by their median gap counts once; the median of those medians is what a typical person does.',
  ]
}

/** What the gaps say: how often people come, and which interval that suggests. */
export function gapsFindings(result: GapsResult, question: GapsQuestion, words: Words): Reading {
  const { gaps, people, once, eighty, median, medianOfMedians, suggested } = result
  const event = eventWords(question.start.event, words)
  if (people + once === 0)
    return { findings: [[plain('Nobody did '), strong(event), plain(' in this time, as asked.')]], cautions: [] }
  if (gaps === 0 || eighty === null || !suggested)
    return {
      findings: [[plain('Nobody did it on '), strong('two different days'), plain(': there are no gaps to tell of.')]],
      cautions: [],
    }
  const findings: Finding[] = [
    [
      strong('80\u202f%'),
      plain(' of returns happen within '),
      strong(countOf(eighty, 'day', 'days')),
      plain(`; half of them within ${countOf(median!, 'day', 'days')}.`),
    ],
    [
      plain('A typical person comes back after '),
      strong(countOf(medianOfMedians!, 'day', 'days')),
      plain(': the median of each person’s own median gap.'),
    ],
    ...(once > 0
      ? [
          [
            strong(countOf(once, 'person', 'people')),
            plain(
              ` of ${formatNumber(people + once)} did it on one day only, and ${once === 1 ? 'has' : 'have'} no gap.`,
            ),
          ],
        ]
      : []),
    [
      plain('For retention and habit that suggests '),
      strong(suggested.unit === 'day' ? 'days' : `${suggested.unit}s`),
      plain('; for growth accounting intervals of '),
      strong(countOf(suggested.days, 'day', 'days')),
      plain('.'),
    ],
  ]
  return {
    findings,
    cautions: [[plain('Who has not come back yet has no last gap: gaps that are still running are not counted.')]],
  }
}
