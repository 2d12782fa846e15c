import { usualSessions } from '../../../core/analyses/sessions/question.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { Among } from '../../../core/analyses/people.js'
import type { EventPick } from '../../../core/questions/parts.js'
import { DEPTHS, POSITION } from '../../../core/sessions/depth.js'
import type { Range } from '../../../core/time/range.js'
import type { Look } from '../leads.js'

const MINUTES = { of: 'event' as const, name: 'minutes into the session' }
const FROM_END = { of: 'event' as const, name: 'position from the end of the session' }

/** Over which time, and among whom, a question goes on. */
interface Within {
  range?: Range
  among?: Among
}

/** What is asked of an event by its place in sessions: how deep, how late, how often and when, and how much is done around it. */
export function depthOf(pick: EventPick, label: string, within: Within = {}): Look[] {
  const usual = usualTrend('')
  const base = { ...usual, series: [{ ...pick, measure: 'people' as const }], ...within }
  return [
    {
      label: `How deep into a session is ${label} done?`,
      question: {
        ...base,
        breakdowns: [{ by: POSITION, keep: 10, cuts: { at: DEPTHS } }],
        show: { form: 'bars', as: 'number' },
      },
    },
    {
      label: `How many minutes into a session is ${label} done?`,
      question: {
        ...base,
        breakdowns: [{ by: MINUTES, keep: 10, cuts: { at: [1, 3, 5, 10, 30] } }],
        show: { form: 'bars', as: 'share' },
      },
    },
    {
      label: `When, and how often in a session, is ${label} done?`,
      question: {
        ...base,
        series: [
          { ...pick, measure: 'events', hidden: true },
          { ...pick, measure: 'sessions', hidden: true },
        ],
        formulas: [{ name: 'times a session', formula: 'a / b', unit: 'number' }],
        breakdowns: [{ by: { of: 'hour' }, keep: 24 }],
        show: { form: 'ranked', as: 'number' },
      },
    },
    {
      label: `How much is done in sessions with ${label}?`,
      question: { ...usualSessions(), measure: 'events', holds: pick, ...within },
    },
  ]
}

/** At which place sessions end: those who give up do so there. */
export function givenUp(within: Within = {}): Look {
  return {
    label: 'At which place of a session do they stop?',
    question: {
      ...usualTrend(''),
      series: [
        {
          event: { activity: true },
          where: { property: FROM_END, op: '=', number: 1 },
          measure: 'events',
        },
      ],
      breakdowns: [{ by: POSITION, keep: 10, cuts: { at: DEPTHS } }],
      ...within,
      show: { form: 'bars', as: 'number' },
    },
  }
}

/** How thoroughly they look around. */
export function explored(within: Within = {}): Look {
  return {
    label: 'How much do they do in a session?',
    question: { ...usualSessions(), measure: 'events', ...within },
  }
}
