import { periodAt } from '../../../core/analyses/retention/periodAt.js'
import { usualFunnel } from '../../../core/analyses/funnel/question.js'
import { backOf, usualRetention, type RetentionQuestion } from '../../../core/analyses/retention/question.js'
import type { RetentionResult } from '../../../core/analyses/retention/finish.js'
import { duringWords, periodWords } from '../../../core/analyses/retention/words.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { Catalog, EventEntry } from '../../../server/engine/catalog.js'
import { eventWords, propertyWords, type Words } from '../../../core/words/words.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import type { Leads, Look } from '../leads.js'
import { retentionTable } from './retentionTable.js'

export const leads: Leads<RetentionQuestion, RetentionResult> = {
  start: ([first]) => usualRetention(first?.name ?? '…'),
  home: (events) => retentions(events),
  table: retentionTable,
  next: (question, result, { catalog, words }) => afterRetention(question, result, catalog, words),
}

/** As an analyst goes: who, what sets those who stay apart, since when, and how much they bring. */
function afterRetention(question: RetentionQuestion, result: RetentionResult, catalog: Catalog, words: Words): Look[] {
  const looks: Look[] = []
  const { show: _show, ...asked } = question
  const at = periodAt(question, result)
  const when = periodWords(question, result.periods[at])
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property)
    looks.push({
      label: `Who comes back more, for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 10 }], show: { form: 'curve' } },
    })
  if (question.show.form !== 'over time')
    looks.push({
      label: `Has ${when} changed from cohort to cohort?`,
      question: { ...asked, show: { form: 'over time', at } },
    })
  const back = backOf(question)
  if (question.back && JSON.stringify(question.back) !== JSON.stringify(question.start))
    looks.push({
      label: `How far do they get from ${eventWords(question.start.event, words)} to ${eventWords(back.event, words)}?`,
      question: {
        ...usualFunnel('…'),
        range: question.range,
        steps: [question.start, back],
        window: { count: 28, unit: 'day' },
        ...(question.among ? { among: question.among } : {}),
      },
    })
  const point = result.all.line[at]
  if (point && point.people > point.returned)
    looks.push({
      label: `What did those do who did not come back ${duringWords(question, result.periods[at])}?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' }],
        range: question.range,
        among: { study: question, marks: [{ kind: 'cohort', period: at, what: 'not' }] },
      },
    })
  if (!question.first)
    looks.push({
      label: 'And new people only: their first ever?',
      question: { ...question, first: true },
    })
  return looks.slice(0, 4)
}

function retentions(events: EventEntry[]): Look[] {
  const [first] = events
  if (!first) return []
  // What people do once to begin with, where there is such a thing; else the commonest event itself.
  const begin = events.find(({ name }) => /sign(ed)?[ _-]?up|regist|join|install/iu.test(name))
  const usual = usualRetention(first.name)
  const start = begin ? { event: { names: [begin.name] } } : usual.start
  const back = begin ? { back: usual.start } : {}
  return [
    { label: `Week by week after the first ${(begin ?? first).label}`, question: { ...usual, start, ...back } },
    {
      label: 'New people, month by month',
      question: { ...usual, first: true, every: 'month', range: { last: 8, unit: 'month' } },
    },
    {
      label: 'In days 1 to 7, 8 to 30, 31 to 90',
      question: {
        ...usual,
        ...{ start, ...back, range: { last: 24, unit: 'week' } },
        brackets: [
          [1, 7],
          [8, 30],
          [31, 90],
        ],
        show: { form: 'cohorts' },
      },
    },
  ]
}
