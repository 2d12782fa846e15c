import type { EventPick } from '../../questions/parts.js'
import { DEPTHS, POSITION } from '../../sessions/depth.js'
import { usualTrend, type TrendQuestion } from '../trend/question.js'

const MINUTES = { of: 'event' as const, name: 'minutes into the session' }
export const FROM_END = { of: 'event' as const, name: 'position from the end of the session' }

/** Trends that tell of an event's place in its session. */
export const DEPTH = {
  /** At which place of a session it is done: people by its position. */
  place: (pick: EventPick): TrendQuestion => ({
    ...peopleWho(pick),
    breakdowns: [{ by: POSITION, keep: 10, cuts: { at: DEPTHS } }],
    show: { form: 'bars', as: 'number' },
  }),
  /** How many minutes after a session's start it is done. */
  minutes: (pick: EventPick): TrendQuestion => ({
    ...peopleWho(pick),
    breakdowns: [{ by: MINUTES, keep: 10, cuts: { at: [1, 3, 5, 10, 30] } }],
    show: { form: 'bars', as: 'share' },
  }),
  /** How many times in a session that holds it, by hour of the day. */
  often: (pick: EventPick): TrendQuestion => ({
    ...usualTrend(''),
    series: [
      { ...pick, measure: 'events', hidden: true },
      { ...pick, measure: 'sessions', hidden: true },
    ],
    formulas: [{ name: 'times a session', formula: 'a / b', unit: 'number' }],
    breakdowns: [{ by: { of: 'hour' }, keep: 24 }],
    show: { form: 'ranked', as: 'number' },
  }),
  /** At which place sessions end: those who give up do so there. */
  end: (): TrendQuestion => ({
    ...usualTrend(''),
    series: [
      { event: { activity: true }, where: { property: FROM_END, op: '=', number: 1 }, measure: 'events' as const },
    ],
    breakdowns: [{ by: POSITION, keep: 10, cuts: { at: DEPTHS } }],
    show: { form: 'bars', as: 'number' },
  }),
}

const peopleWho = (pick: EventPick): TrendQuestion => ({
  ...usualTrend(''),
  series: [{ ...pick, measure: 'people' }],
})
