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

/** Exactly how the numbers are counted, with the settings in force. */
export function explainPaths(question: PathsQuestion, zone: string, words: Words): string[] {
  const { end, backward, count, window, steps, unfolded, keep, wide, session, leaveOut, contains, lacks, through } =
    question
  const start = pickWords(question.start, words)
  const way = count
    ? end
      ? `Every ${start} in the time asked about begins a way, which ends before the next one.`
      : `Every ${start} in the time asked about ${backward ? 'ends' : 'begins'} a way, which goes no further than the ${backward ? 'one before' : 'next one'}.`
    : `Each person counts once, by their ${backward ? 'last' : 'first'} ${start} in the time asked about.`
  const text = [
    way,
    end
      ? `A way goes from there to the earliest ${pickWords(end, words)} within ${limitWords(window)}. Ways that do not reach it are counted as “did not get there”, and are in no step.`
      : `A way is the ${steps === 1 ? 'one event' : `${steps} events`} ${backward ? 'before' : 'after'} it, within ${limitWords(window)}: exactly that long still counts. Who has no further event in that time ends there.`,
    `Steps may lie ${backward ? 'before' : 'after'} the time asked about, up to now. A ${start} outside of it is an event like others. Events of one moment stand in the order they arrived. Days begin in ${zone}.`,
    unfolded
      ? 'Every event is a step, also where one is repeated.'
      : 'Repeats of one event in a row are one step, the start included; they are folded before steps are counted.',
    `At each step the ${keep}${wide ? ` (where it is opened, ${MOST_KEEP})` : ''} most frequent stand by themselves, all others together are everything else. An event is the same node at a step whatever came before it. The first share is of all who began, the second of those who took the step before${end ? ', and only ways that got there are counted' : ''}.`,
    'A whole way is the list of its steps. Its time is the median from the start to its last step.',
  ]
  if (session)
    text.push('Only events of the session that the start lies in; every event counts for where a session ends.')
  if (leaveOut)
    text.push(`${namesWords(leaveOut.event.names, words)}: left out as if they had not happened, as hidden events are.`)
  if (contains || lacks || through)
    text.push(
      'Ways that lack what is asked for, or have what they must not have, are left out whole. That is read on the steps that are followed, without the start, after a person’s way has been chosen.',
    )
  return text
}
