import type { CrosstabQuestion } from '../../core/analyses/crosstab/question.js'
import { usualFunnel } from '../../core/analyses/funnel/question.js'
import { usualGaps } from '../../core/analyses/gaps/question.js'
import { usualGrowth } from '../../core/analyses/growth/question.js'
import { usualHabit } from '../../core/analyses/habit/question.js'
import type { AnalysisKind, Question } from '../../core/analyses/registry.js'
import { usualRetention } from '../../core/analyses/retention/question.js'
import { usualTrend } from '../../core/analyses/trend/question.js'
import { propertyWords, splitWords, type Words } from '../../core/words/words.js'
import type { Catalog, EventEntry } from '../../server/engine/catalog.js'
import { goodBreakdown } from './breakdowns.js'
import { commonEvents, startingQuestion } from './starting.js'

export interface Start {
  label: string
  question: Question
}

/** One of the questions an analyst comes with, and finished first studies that answer it. */
export interface HomeCard {
  title: string
  kind: AnalysisKind
  looks: Start[]
}

/** In the order an analyst asks: how many, how far, do they come back, how often, and what is left of it all. */
export function homeCards(catalog: Catalog, words: Words): HomeCard[] {
  const events = commonEvents(catalog)
  return [
    { title: 'How many?', kind: 'trend', looks: [...trends(events), ...tables(catalog, words)].slice(0, 3) },
    { title: 'How far do they get?', kind: 'funnel', looks: funnels(events) },
    { title: 'Do they come back?', kind: 'retention', looks: retentions(events) },
    { title: 'How often?', kind: 'habit', looks: habits(events, catalog, words) },
    { title: 'Are we growing or leaking?', kind: 'growth', looks: growths(events) },
  ]
}

function trends([first]: EventEntry[]): Start[] {
  return [
    ...(first ? [{ label: `People who did ${first.label} each week`, question: usualTrend(first.name) }] : []),
    {
      label: 'Active people each month',
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' }],
        every: 'month',
        range: { last: 12, unit: 'month' },
      },
    },
  ]
}

/** A table of the commonest event by what tells most about people. */
function tables(catalog: Catalog, words: Words): Start[] {
  const question = startingQuestion('crosstab', catalog) as CrosstabQuestion
  const [row] = question.rows
  if (!row) return []
  const name = splitWords(row.by, words)
  return [{ label: question.column ? `${name} by ${splitWords(question.column.by, words)}` : `By ${name}`, question }]
}

function funnels([first, second, third, fourth]: EventEntry[]): Start[] {
  const from = (...events: EventEntry[]): Question => ({
    ...usualFunnel(events[0]!.name),
    steps: events.map(({ name }) => ({ event: { names: [name] } })),
  })
  const looks: Start[] = []
  if (first && second) looks.push({ label: `From ${first.label} to ${second.label}`, question: from(first, second) })
  if (first && second && third)
    looks.push({
      label: `From ${first.label} over ${second.label} to ${third.label}`,
      question: from(first, second, third),
    })
  if (third && fourth) looks.push({ label: `From ${third.label} to ${fourth.label}`, question: from(third, fourth) })
  return looks
}

function retentions(events: EventEntry[]): Start[] {
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

function habits([first]: EventEntry[], catalog: Catalog, words: Words): Start[] {
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

function growths([first]: EventEntry[]): Start[] {
  if (!first) return []
  const usual = usualGrowth(first.name)
  return [
    { label: 'New, retained, revived, lapsed', question: usual },
    { label: 'Who lapsed last week?', question: { ...usual, show: { form: 'one', state: 'lapsed' } } },
    { label: 'How long between uses?', question: usualGaps(first.name) },
  ]
}
