import { joinWords } from '../../words/format.js'
import type { SentencePart } from '../../words/sentence.js'
import { propertyWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import { breakdownParts, tokenOf } from '../splitParts.js'
import type { AttributionQuestion } from './question.js'
import {
  exactTouchBy,
  halfLifeWords,
  lookBackWords,
  modelWords,
  pickedWords,
  touchByWords,
  valuesWords,
} from './words.js'

/** "What brought people to Pass bought over the last 90 days, by Channel, looking back 30 days, told by 3 models?" */
export function attributionSentence(question: AttributionQuestion, words: Words): SentencePart[] {
  const { goals, by, every, lookBack, models, worth, first, touches, leftOut, direct, halfLife, breakdowns, costs } =
    question
  const range = rangeWords(question.range, words)
  const extra = (lead: string, text: string | null, token: string, path = token): SentencePart[] =>
    text === null ? [] : [{ text: `, ${lead}` }, { text, token, tone: 'water', path }]
  return [
    { text: 'What brought people to ' },
    ...goals.flatMap((goal, index): SentencePart[] => [
      ...(index > 0 ? [{ text: ' and to ' }] : []),
      ...pickParts(goal, tokenOf('goal', index), tokenOf('where', index), `goals.${index}`, words),
    ]),
    { text: ` ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    { text: ', by ' },
    { text: (words.full ? exactTouchBy : touchByWords)(by, words), token: 'by', tone: 'water', path: 'by' },
    ...extra('touches are ', touches ? pickedWords(touches, words) : null, 'touches'),
    ...extra('leaving out ', leftOut ? valuesWords(leftOut) : null, 'leftOut'),
    { text: ', looking back ' },
    { text: lookBackWords(lookBack), token: 'lookBack', tone: 'hazel', path: 'lookBack' },
    ...extra('direct is ', direct ? valuesWords(direct) : null, 'direct'),
    { text: ', told by ' },
    {
      text: words.full || models.length < 3 ? joinWords(models.map(modelWords), 'and') : `${models.length} models`,
      ...{ token: 'models', tone: 'water', path: 'models' },
    },
    ...extra('half-life ', halfLife === undefined ? null : halfLifeWords(halfLife), 'halfLife'),
    ...extra(
      '',
      worth === undefined
        ? null
        : worth === 'people'
          ? 'counting people'
          : `adding up ${propertyWords(worth.sum, words)}`,
      'worth',
    ),
    ...extra('', first ? 'only the first of each person' : null, 'first'),
    ...extra('', every ? `each ${every}` : null, 'every'),
    ...extra('', costs ? 'beside what it cost' : null, 'costs'),
    ...breakdownParts(breakdowns, words),
    ...amongParts(question, words),
    { text: '?' },
  ]
}
