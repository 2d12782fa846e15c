import { usualGrowth } from '../../../core/analyses/growth/question.js'
import { withDays, type HabitResult } from '../../../core/analyses/habit/finish.js'
import { daysOf, usualHabit, type HabitQuestion } from '../../../core/analyses/habit/question.js'
import { daysPhrase } from '../../../core/analyses/habit/words.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { Catalog, EventEntry } from '../../../server/engine/catalog.js'
import { propertyWords, type Words } from '../../../core/words/words.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import { withAmong } from '../../study/common.js'
import type { Leads, Look } from '../leads.js'
import { habitTable } from './habitTable.js'

export const leads: Leads<HabitQuestion, HabitResult> = {
  start: ([first]) => usualHabit(first?.name ?? '…'),
  home: (events, { catalog, words }) => habits(events, catalog, words),
  table: habitTable,
  next: (question, result, { catalog, words }) => afterHabit(question, result, catalog, words),
}

/** Who does it more, since when, who are the core, and whether they stay. */
function afterHabit(question: HabitQuestion, result: HabitResult, catalog: Catalog, words: Words): Look[] {
  const looks: Look[] = []
  const days = daysOf(question)
  const said = daysPhrase(days, result.unit, true)
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property)
    looks.push({
      label: `Who turns up more, for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 10 }], show: { form: 'at least' } },
    })
  if (question.show.form !== 'over time')
    looks.push({
      label: `Has the share with ${said} changed?`,
      question: { ...question, show: { form: 'over time', days } },
    })
  const last = result.periods.at(-1)
  if (last !== undefined && withDays(result.all.periods.at(-1)!, days, true) > 0)
    looks.push({
      label: `What else do those with ${said} do?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'events per person' }],
        among: { study: question, marks: [{ kind: 'days', days, more: true, bucket: last }] },
      },
    })
  looks.push({
    label: 'Are we growing or leaking?',
    question: { ...usualGrowth('…'), start: question.start, ...withAmong(question) },
  })
  return looks.slice(0, 4)
}

function habits([first]: EventEntry[], catalog: Catalog, words: Words): Look[] {
  if (!first) return []
  const usual = usualHabit(first.name)
  const by = goodBreakdown(catalog, usual)
  return [
    { label: `Days in a month with ${first.label}`, question: usual },
    ...(by
      ? [
          {
            label: `Days in a week, for each ${propertyWords(by, words)}`,
            question: {
              ...usual,
              ...{ period: 'week' as const, range: { last: 12, unit: 'week' as const } },
              breakdowns: [{ by, keep: 10 }],
            },
          },
        ]
      : []),
    {
      label: 'Core people over time',
      question: { ...usual, core: { days: 8, name: 'Core' }, show: { form: 'over time' } },
    },
  ]
}
