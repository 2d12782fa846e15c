import type { EventPick } from '../../questions/parts.js'
import { joinWords } from '../../words/format.js'
import { limitWords } from '../../words/limitWords.js'
import type { SentencePart } from '../../words/sentence.js'
import { eventWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import { breakdownParts } from '../splitParts.js'
import { MOST_KEEP, USUAL_KEEP, type PathsQuestion } from './question.js'
import { namesWords, nodeWords, pickWords } from './words.js'

/** "After Card refused, what do people do next, 3 steps, within 1 day, over the last 12 weeks?" */
export function pathsSentence(question: PathsQuestion, words: Words): SentencePart[] {
  const { start, end, backward, count, window, steps, breakdowns } = question
  const range = rangeWords(question.range, words)
  const far = steps === 1 ? '1 step' : `${steps} steps`
  const stepped = (text: string): SentencePart => ({ text, token: 'steps', tone: 'hazel', path: 'steps' })
  const counted: SentencePart = {
    text: count ? 'every time' : 'people',
    token: 'count',
    tone: 'water',
    path: 'count',
  }
  const from = pickParts(start, 'event', 'where', 'start', words)
  const head: SentencePart[] = end
    ? [
        { text: 'Between ' },
        ...from,
        { text: ' and ' },
        ...pickParts(end, 'end', 'where end', 'end', words),
        { text: count ? ', what happens ' : ', what do ' },
        counted,
        { text: count ? ', ' : ' do, ' },
        stepped(far),
      ]
    : backward
      ? [
          { text: count ? 'What leads ' : 'What brings ' },
          counted,
          { text: ' to ' },
          ...from,
          { text: ', ' },
          stepped(`${far} back`),
        ]
      : [
          { text: 'After ' },
          ...from,
          { text: count ? ', what comes ' : ', what do ' },
          counted,
          { text: count ? ' ' : ' do ' },
          stepped(`next, ${far}`),
        ]
  return [
    ...head,
    { text: ', within ' },
    { text: limitWords(window), token: 'window', tone: 'hazel', path: 'window' },
    { text: `, ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    ...settingParts(question, words),
    ...breakdownParts(breakdowns, words),
    ...amongParts(question, words),
    { text: '?' },
  ]
}

/** What is not the usual, each with the word that leads to it. */
function settingParts(question: PathsQuestion, words: Words): SentencePart[] {
  const { session, unfolded, keep, wide, leaveOut, contains, lacks, open, through } = question
  const list = (picks: readonly EventPick[]) =>
    joinWords(
      picks.map((pick) => pickWords(pick, words)),
      'and',
    )
  const settings: [string, string, string | null][] = [
    ['session', '', session ? 'within one session' : null],
    ['unfolded', '', unfolded ? 'every repeat by itself' : null],
    [
      'keep',
      '',
      keep === USUAL_KEEP && !wide
        ? null
        : `at most ${keep} ${keep === 1 ? 'way' : 'ways'} a step${wide ? `, up to ${MOST_KEEP} at step ${joinWords(wide.map(String), 'and')}` : ''}`,
    ],
    ['leaveOut', 'leaving out ', leaveOut ? namesWords(leaveOut.event.names, words) : null],
    ['contains', 'only ways with ', contains ? list(contains) : null],
    ['lacks', 'no ways with ', lacks ? list(lacks) : null],
    [
      'open',
      'opening ',
      open
        ? joinWords(
            open.map(({ event, by }) => `${eventWords(event, words)} by ${propertyWords(by, words)}`),
            'and',
          )
        : null,
    ],
    [
      'through',
      'only ways through ',
      through
        ? joinWords(
            through.map(({ step, node }) => `${nodeWords(node, words)} at step ${step}`),
            'and',
          )
        : null,
    ],
  ]
  return settings.flatMap(([token, lead, text]): SentencePart[] =>
    text === null ? [] : [{ text: `, ${lead}` }, { text, token, tone: 'water', path: token }],
  )
}
