import { MOST_STEPS, usualFunnel } from '../../../core/analyses/funnel/question.js'
import { usualRetention } from '../../../core/analyses/retention/question.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import type { TippingResult } from '../../../core/analyses/tipping/finish.js'
import { beginningOf, usualTipping, type TippingQuestion } from '../../../core/analyses/tipping/question.js'
import { timesWords } from '../../../core/analyses/tipping/words.js'
import { eventWords, type Words } from '../../../core/words/words.js'
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
  const { event, counts, best } = first
  const { times } = counts[best!]
  const name = eventWords({ names: [event] }, words)
  const pick = { event: { names: [event] } }
  const { start, range, days } = question
  const reached = { study: question, marks: [{ kind: 'early', event, times }] }
  return [
    ...(question.show.open === event
      ? []
      : [
          {
            label: `What if just once, twice, or more: ${name}?`,
            question: { ...question, show: { ...question.show, open: event } },
          },
        ]),
    {
      label: `How many get as far as ${name}?`,
      question: {
        ...{ ...usualFunnel('…'), range, steps: [start, pick], window: { count: days, unit: 'day' as const } },
        ...withAmong(question),
      },
    },
    ...(times < MOST_STEPS
      ? [
          {
            label: `What part of new people do ${name} ${timesWords(times)} each week?`,
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
      label: `Do those stay who did it ${timesWords(times)}?`,
      question: { ...usualRetention('…'), start, first: true, back: question.goal, range, among: reached },
    },
    {
      label: `What do those do who did it ${timesWords(times)}?`,
      question: {
        ...usualTrend('…'),
        ...{ series: [{ ...question.goal, measure: 'people' as const }], range, among: reached },
      },
    },
  ]
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
    ...behaviours.flatMap(({ event, counts, best, trivial }) =>
      counts.map(({ times, people, came, share, rate, otherRate, lift, recall, phi, p }, place): Cell[] => [
        ...[eventWords({ names: [event] }, words), times, place === best ? 'best' : ''],
        ...[people, came, share, rate, otherRate, lift, recall],
        ...[phi?.value ?? null, phi?.low ?? null, phi?.high ?? null, p, trivial ?? ''],
      ]),
    ),
  ]
}
