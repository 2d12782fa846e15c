import { eventWords, type Words } from '../../words/words.js'
import type { SessionsQuestion } from './question.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainSessions(question: SessionsQuestion, zone: string, words: Words): string[] {
  const { measure, every, holds, first, breakdowns, compare, target } = question
  const text = [
    `A session belongs to the ${every} of its first event, as ${every}s are cut in ${zone}. Events of every type make sessions, passive ones too. Its length is the time from its first to its last event: a session of one event has none.`,
  ]
  switch (measure) {
    case 'per person':
      text.push(`Sessions that begin in the ${every}, over the different people who began them.`)
      break
    case 'time per person':
      text.push(
        `The lengths of all sessions that begin in the ${every}, added up, over the different people who began them: five sessions of 10 s and three of 10 s by two people are 40 s a person.`,
      )
      break
    case 'single':
      text.push('Sessions of one event, of all sessions.')
      break
    case 'events':
      text.push('Events of all sessions, over their number.')
      break
    case 'median length':
      text.push('Half of the sessions are shorter, half are longer.')
      break
    default:
  }
  text.push(
    'A session in which something may still follow is still going on: it counts as a session, and is left out of average and median length.',
  )
  if (holds)
    text.push(
      `Only sessions that hold at least one ${eventWords(holds.event, words)} as asked count; all of their events count towards their length.`,
    )
  if (first) text.push('Only the very first session of each person counts, where it begins in the time asked about.')
  if (compare)
    text.push(
      'What it is compared with is counted by the same rules and stands beside it. Where the time runs up to now, the earlier time ends at the same moment; a session that begins in it counts with all of its length.',
    )
  if (target !== undefined)
    text.push(
      measure === 'single'
        ? 'The target is reached where the share is no more than it.'
        : 'The target is reached where the figure is at least as large.',
    )
  if (breakdowns?.length)
    text.push('Groups are read from the first event of each session. They are ranked by their number of sessions.')
  return text
}
