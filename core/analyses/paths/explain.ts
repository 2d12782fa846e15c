import { limitWords } from '../../words/limitWords.js'
import type { Words } from '../../words/words.js'
import { MOST_KEEP, type PathsQuestion } from './question.js'
import { namesWords, pickWords } from './words.js'

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
