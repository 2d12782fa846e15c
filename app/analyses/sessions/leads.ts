import { usualPaths } from '../../../core/analyses/paths/question.js'
import type { SessionsResult, SessionsRow } from '../../../core/analyses/sessions/finish.js'
import { sessionMeasures, usualSessions, type SessionsQuestion } from '../../../core/analyses/sessions/question.js'
import { lengthWords, MEASURED, MEASURE_UNIT } from '../../../core/analyses/sessions/words.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import { eventWords, splitsHead, type Words } from '../../../core/words/words.js'
import type { EventEntry } from '../../../server/engine/catalog.js'
import { withAmong } from '../../study/common.js'
import type { Cell, Leads, Look, Near } from '../leads.js'
import { chartValue, rowName } from './figures.js'

export const leads: Leads<SessionsQuestion, SessionsResult> = {
  start: () => usualSessions(),
  home: visits,
  table: sessionsTable,
  next: afterSessions,
}

const POSITION = { of: 'event' as const, name: 'position in session' }

/** How long, for how much time, and how deep. */
function visits([, second]: EventEntry[]): Look[] {
  return [
    { label: 'How long is a typical session?', question: usualSessions() },
    {
      label: 'How much time does a person spend each week?',
      question: { ...usualSessions(), measure: 'time per person' },
    },
    ...(second ? [depthOf(second.name, second.label)] : []),
  ]
}

/** At which place of a session something is done. */
function depthOf(event: string, label: string): Look {
  return {
    label: `How deep into a session is ${label} done?`,
    question: {
      ...usualTrend(event),
      breakdowns: [{ by: POSITION, keep: 10, cuts: { at: [1, 2, 3, 4, 6, 11, 21] } }],
      show: { form: 'bars', as: 'number' },
    },
  }
}

/** Where they leave, who stays longer, what leads to what. */
function afterSessions(question: SessionsQuestion, result: SessionsResult, { words }: Near): Look[] {
  const looks: Look[] = []
  const [entry] = result.entries
  const [exit] = result.exits
  const { show } = question
  if (show.form !== 'lengths')
    looks.push({
      label: 'What part of sessions lasts how long?',
      question: { ...question, show: { ...show, form: 'lengths' } },
    })
  if (show.form !== 'ways')
    looks.push({
      label: 'What do they begin and end with?',
      question: { ...question, show: { ...show, form: 'ways' } },
    })
  if (!question.breakdowns && entry)
    looks.push({
      label: 'Which beginning keeps them longest?',
      question: {
        ...question,
        measure: 'average length',
        breakdowns: [{ by: { of: 'event', name: 'entry event' }, keep: 5 }],
      },
    })
  if (exit)
    looks.push({
      label: `What leads to ${eventWords({ names: [exit.event] }, words)}, the commonest end?`,
      question: {
        ...usualPaths(exit.event),
        backward: true,
        session: true,
        range: question.range,
        ...withAmong(question),
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
  const measures = sessionMeasures.filter((measure) => measure !== 'sessions')
  const unit = (measure: (typeof measures)[number]) => (MEASURE_UNIT[measure] === 'duration' ? ', seconds' : '')
  return [
    [
      ...head,
      `${question.every} from`,
      'Sessions',
      'People',
      'Seconds in all',
      ...measures.map((m) => MEASURED[m] + unit(m)),
    ],
    ...rows.flatMap((row) =>
      [...row.values, row.total].map((sums, at): Cell[] => [
        ...group(row),
        result.buckets[at]?.key ?? 'all together',
        sums.sessions,
        sums.people,
        sums.ms / 1000,
        ...measures.map((measure) => chartValue(sums, measure)),
      ]),
    ),
  ]
}
