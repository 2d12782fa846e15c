import { DEPTH } from '../../../core/analyses/sessions/depth.js'
import { usualSessions } from '../../../core/analyses/sessions/question.js'
import type { Among } from '../../../core/analyses/people.js'
import type { EventPick } from '../../../core/questions/parts.js'
import type { Range } from '../../../core/time/range.js'
import type { Look } from '../leads.js'

/** Over which time, and among whom, a question goes on. */
interface Within {
  range?: Range
  among?: Among
}

/** What is asked of an event by its place in sessions: how deep, how late, how often and when, and how much is done around it. */
export function depthOf(pick: EventPick, label: string, within: Within = {}): Look[] {
  return [
    { label: `How deep into a session is ${label} done?`, question: { ...DEPTH.place(pick), ...within } },
    { label: `How many minutes into a session is ${label} done?`, question: { ...DEPTH.minutes(pick), ...within } },
    { label: `When, and how often in a session, is ${label} done?`, question: { ...DEPTH.often(pick), ...within } },
    {
      label: `How much is done in sessions with ${label}?`,
      question: { ...usualSessions(), measure: 'events', holds: pick, ...within },
    },
  ]
}

/** At which place sessions end: those who give up do so there. */
export function givenUp(within: Within = {}): Look {
  return { label: 'At which place of a session do they stop?', question: { ...DEPTH.end(), ...within } }
}

/** How thoroughly they look around. */
export function explored(within: Within = {}): Look {
  return {
    label: 'How much do they do in a session?',
    question: { ...usualSessions(), measure: 'events', ...within },
  }
}
