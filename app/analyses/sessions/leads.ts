import { usualPaths } from '../../../core/analyses/paths/question.js'
import type { SessionsResult, SessionsRow } from '../../../core/analyses/sessions/finish.js'
import {
  sessionMeasures,
  usualSessions,
  type SessionMeasure,
  type SessionsQuestion,
} from '../../../core/analyses/sessions/question.js'
import { lengthWords, MEASURED, MEASURE_UNIT } from '../../../core/analyses/sessions/words.js'
import { eventWords, splitsHead, type Words } from '../../../core/words/words.js'
import type { EventEntry } from '../../../server/engine/catalog.js'
import { withAmong } from '../../study/common.js'
import type { Cell, Leads, Look, Near } from '../leads.js'
import { depthOf, explored, givenUp } from './depth.js'
import { chartValue, rowName } from './figures.js'

export const leads: Leads<SessionsQuestion, SessionsResult> = {
  start: () => usualSessions(),
  home: visits,
  table: sessionsTable,
  next: afterSessions,
}

/** How long, how deep, how much, where they stop: of the event that comes after the commonest. */
function visits([first, second]: EventEntry[]): Look[] {
  const deep = second ?? first
  const [how, minutes, often] = deep ? depthOf({ event: { names: [deep.name] } }, deep.label) : []
  return [
    { label: 'How long is a typical session?', question: usualSessions() },
    ...(how && minutes && often ? [how, minutes, often] : []),
    explored(),
    givenUp(),
  ]
}

/** Where they leave, how deep they go, what leads to what. */
function afterSessions(question: SessionsQuestion, result: SessionsResult, near: Near): Look[] {
  const { words } = near
  const { show, holds, range } = question
  const within = { range, ...withAmong(question) }
  const looks: Look[] = []
  if (show.form !== 'ways')
    looks.push({
      label: 'What do they begin and end with?',
      question: { ...question, show: { ...show, form: 'ways' } },
    })
  if (show.form !== 'lengths')
    looks.push({
      label: 'What part of sessions lasts how long?',
      question: { ...question, show: { ...show, form: 'lengths' } },
    })
  if (holds && 'names' in holds.event) {
    looks.push(...depthOf(holds, eventWords(holds.event, words), within).slice(0, 3))
    return looks.slice(0, 4)
  }
  looks.push(givenUp(within))
  const [exit] = result.exits
  if (show.form === 'ways' && exit)
    looks.unshift({
      label: `What leads to ${eventWords({ names: [exit.event] }, words)}, the commonest end?`,
      question: { ...usualPaths(exit.event), backward: true, session: true, ...within },
    })
  if (question.measure !== 'events' && show.form === 'over time') looks.push(explored(within))
  else if (!question.breakdowns && result.entries.length > 0)
    looks.push({
      label: 'Which beginning keeps them longest?',
      question: {
        ...question,
        measure: 'average length',
        breakdowns: [{ by: { of: 'event', name: 'entry event' }, keep: 5 }],
        show: { ...show, form: 'over time' },
      },
    })
  return looks.slice(0, 4)
}

/** A row for each bucket and all of them, of each group; or for each range of length, or first and last event. Seconds. */
function sessionsTable(question: SessionsQuestion, result: SessionsResult, words: Words): Cell[][] {
  const { groups, all, rest } = result
  const by = question.breakdowns
  const grouped = groups.length > 0
  const group = (row: SessionsRow): Cell[] => (grouped ? [row.key ? rowName(row, rest) : 'All together'] : [])
  const head: Cell[] = grouped ? [splitsHead(by!, words)] : []
  const rows = [...groups, all]
  if (question.show.form === 'ways')
    return [
      ['End', 'Event', 'Sessions', 'Average seconds', 'Commonest beside'],
      ...(['entries', 'exits'] as const).flatMap((which) =>
        result[which].map(({ event, sessions, averageMs, beside }): Cell[] => [
          which === 'entries' ? 'first' : 'last',
          eventWords({ names: [event] }, words),
          sessions,
          averageMs === null ? null : averageMs / 1000,
          beside?.event ? eventWords({ names: [beside.event] }, words) : null,
        ]),
      ),
    ]
  if (question.show.form === 'lengths')
    return [
      [...head, 'It lasts', 'Sessions'],
      ...rows.flatMap((row) => row.lengths.map((n, range): Cell[] => [...group(row), lengthWords(range), n])),
    ]
  const valueBefore = (place: number, at: number | null): Cell => {
    const { groups: list, all: whole } = result.before!
    const row = [...list, whole][place]
    const sums = at === null ? row.total : row.values.at(at)
    return sums ? chartValue(sums, question.measure) : null
  }
  const measures = sessionMeasures.filter((measure) => measure !== 'sessions')
  const unit = (measure: SessionMeasure) => (MEASURE_UNIT[measure] === 'duration' ? ', seconds' : '')
  return [
    [
      ...head,
      `${question.every} from`,
      'Sessions',
      'People',
      'Seconds in all',
      ...measures.map((m) => MEASURED[m] + unit(m)),
      ...(result.before ? [`${MEASURED[question.measure]} before${unit(question.measure)}`] : []),
    ],
    ...rows.flatMap((row, place) =>
      [...row.values, row.total].map((sums, at): Cell[] => [
        ...group(row),
        result.buckets[at]?.key ?? 'all together',
        sums.sessions,
        sums.people,
        sums.ms / 1000,
        ...measures.map((measure) => chartValue(sums, measure)),
        ...(result.before ? [valueBefore(place, at < row.values.length ? at : null)] : []),
      ]),
    ),
  ]
}
