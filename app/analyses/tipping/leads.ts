import { MOST_STEPS, usualFunnel } from '../../../core/analyses/funnel/question.js'
import { usualRetention } from '../../../core/analyses/retention/question.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { TippingResult } from '../../../core/analyses/tipping/finish.js'
import {
  beginningOf,
  doneKey,
  doneOf,
  usualTipping,
  type Done,
  type TippingQuestion,
} from '../../../core/analyses/tipping/question.js'
import { doneWords, oftenWords } from '../../../core/analyses/tipping/words.js'
import type { Words } from '../../../core/words/words.js'
import type { EventPick } from '../../../core/questions/parts.js'
import { withAmong } from '../../study/common.js'
import type { Cell, Leads, Look } from '../leads.js'

export const leads: Leads<TippingQuestion, TippingResult> = {
  start: (events) => usualTipping(beginningOf(events.map(({ name }) => name)) ?? '…'),
  home: (events) => {
    const begins = beginningOf(events.map(({ name }) => name))
    return begins === undefined
      ? []
      : [{ label: 'What done in the first days goes with staying?', question: usualTipping(begins) }]
  },
  table: tippingTable,
  next: (question, result, { words }) => afterTipping(question, result, words),
}

function afterTipping(question: TippingQuestion, result: TippingResult, words: Words): Look[] {
  const first = result.behaviours.find(
    ({ trivial, best, counts }) => !trivial && best !== null && counts[best].phi!.value > 0,
  )
  if (!first) return []
  const { counts, best } = first
  const { times } = counts[best!]
  const often = oftenWords(times, question)
  const name = doneWords(first, words)
  const pick = pickOf(first)
  const isWeekly = pick !== null && times < MOST_STEPS && question.count === undefined
  const { start, range, days } = question
  const reached = { study: question, marks: [{ kind: 'early', ...doneOf(first), times }] }
  return [
    ...(question.show.open === doneKey(first)
      ? []
      : [
          {
            label: `What if just once, twice, or more: ${name}?`,
            question: { ...question, show: { ...question.show, open: doneKey(first) } },
          },
        ]),
    ...(pick && !isWeekly
      ? [
          {
            label: `How many get as far as ${name}?`,
            question: {
              ...{ ...usualFunnel('…'), range, steps: [start, pick], window: { count: days, unit: 'day' as const } },
              ...withAmong(question),
            },
          },
        ]
      : []),
    ...(isWeekly
      ? [
          {
            label: `What part of new people do ${name} ${often} each week?`,
            question: {
              ...{ ...usualFunnel('…'), range, first: true as const, window: { count: days, unit: 'day' as const } },
              steps: [start, ...Array.from({ length: times }, () => pick)],
              show: { form: 'over time' as const, every: 'week' as const },
              ...withAmong(question),
            },
          },
        ]
      : []),
    {
      label: `Do those stay who did it ${often}?`,
      question: { ...usualRetention('…'), start, first: true, back: question.goal, range, among: reached },
    },
    {
      label: `What do those do who did it ${often}?`,
      question: {
        ...usualTrend('…'),
        ...{ series: [{ ...question.goal, measure: 'people' as const }], range, among: reached },
      },
    },
  ]
}

/** What was done as a funnel's step; null where it is of different values, which no one event is. */
function pickOf({ event, by, is }: Done): EventPick | null {
  const pick = { event: { names: [event] } }
  if (by === undefined) return pick
  if (is === undefined) return null
  if (is === null) return { ...pick, where: { property: by, op: 'has no value' } }
  return {
    ...pick,
    where:
      typeof is === 'boolean'
        ? { property: by, op: is ? 'is true' : 'is false' }
        : { property: by, op: 'is', values: [is] },
  }
}

/** A row for each event at each count. */
function tippingTable(question: TippingQuestion, { behaviours }: TippingResult, words: Words): Cell[][] {
  return [
    [
      ...[
        'Event',
        'Times at least',
        'Best',
        'People',
        'Of them with outcome',
        'Share of all',
        'Rate',
        'Rate of others',
      ],
      ...['Lift', 'Recall', 'Phi', 'Phi, low', 'Phi, high', 'p, adjusted', 'Tells nothing'],
    ],
    ...behaviours.flatMap(({ event, by, is, counts, best, trivial }) =>
      counts.map(({ times, people, came, share, rate, otherRate, lift, recall, phi, p }, place): Cell[] => [
        ...[doneWords({ event, by, is }, words), times, place === best ? 'best' : ''],
        ...[people, came, share, rate, otherRate, lift, recall],
        ...[phi?.value ?? null, phi?.low ?? null, phi?.high ?? null, p, trivial ?? ''],
      ]),
    ),
  ]
}
