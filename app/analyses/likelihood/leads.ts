import type { LikelihoodResult } from '../../../core/analyses/likelihood/finish.js'
import {
  cutsOf,
  MOST_DAYS,
  usualLikelihood,
  type LikelihoodQuestion,
} from '../../../core/analyses/likelihood/question.js'
import { placesOf } from '../../../core/analyses/likelihood/slices.js'
import { heaviest, isTelling } from '../../../core/analyses/likelihood/weights.js'
import { partWords, featureWords } from '../../../core/analyses/likelihood/words.js'
import { usualTrend } from '../../../core/analyses/trend/question.js'
import { capital } from '../../../core/words/format.js'
import { eventWords, type Words } from '../../../core/words/words.js'
import type { Cell, Leads, Look } from '../leads.js'

/** What people are wanted to do, by its name. */
const WANTED = /\b(?:bought|buy|purchased?|paid|order(?:ed)?|subscribed?|completed|upgraded?|booked)\b/i

export const leads: Leads<LikelihoodQuestion, LikelihoodResult> = {
  start: (events) => usualLikelihood(wantedOf(events.map(({ name }) => name)) ?? '…'),
  home: (events, { words }) => {
    const goal = wantedOf(events.map(({ name }) => name))
    return goal === undefined
      ? []
      : [
          {
            label: `Who is likely to do ${eventWords({ names: [goal] }, words)} in the next 14 days?`,
            question: usualLikelihood(goal),
          },
        ]
  },
  table,
  next: (question, result, { words }) => after(question, result, words),
}

const wantedOf = (names: readonly string[]) => names.find((name) => WANTED.test(name)) ?? names[0]

function after(question: LikelihoodQuestion, { model }: LikelihoodResult, words: Words): Look[] {
  if (!model) return withMore(question, words)
  const { form } = question.show
  const show = (next: LikelihoodQuestion['show']['form']) => ({ ...question, show: { ...question.show, form: next } })
  if (!isTelling(model)) return [{ label: 'What does it look at, all the same?', question: show('features') }]
  const [cut] = cutsOf(question)
  const top = partWords({ from: 0, to: cut })
  const likely = { study: question, marks: [{ kind: 'likely', from: 0, to: cut }] }
  return [
    ...(form === 'people' ? [] : [{ label: 'Who are they?', question: show('people') }]),
    ...(form === 'features'
      ? []
      : [
          {
            label: `Why does ${featureWords(heaviest(model)[0].feature, words)} weigh so much?`,
            question: show('features'),
          },
        ]),
    {
      label: `What did ${top} do lately?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' as const }],
        among: likely,
      },
    },
  ]
}

/** Where there are too few to learn from: more of them, or how many there are. */
function withMore(question: LikelihoodQuestion, words: Words): Look[] {
  const { goal, days, again, among } = question
  const name = eventWords(goal.event, words)
  const longer = Math.min(MOST_DAYS, days * 3)
  return [
    ...(longer > days ? [{ label: `In the next ${longer} days?`, question: { ...question, days: longer } }] : []),
    ...(again ? [] : [{ label: 'With those who did it before?', question: { ...question, again: true as const } }]),
    {
      label: `How many people do ${name}?`,
      question: {
        ...{ ...usualTrend('…'), series: [{ ...goal, measure: 'people' as const }] },
        ...(among ? { among } : {}),
      },
    },
  ]
}

/** Everyone's tenths as they were told, then what weighs. */
function table(_question: LikelihoodQuestion, { model, scored }: LikelihoodResult, words: Words): Cell[][] {
  if (!model || !scored) return [['Part', 'Value']]
  const { told, features } = model
  return [
    ['What', 'Name', 'People', 'Did it', 'Rate', 'Rate, low', 'Rate, high', 'Foretold', 'Lift', 'Weight', 'Expected'],
    ...told.tenths.map(({ people, did, happened, foretold, lift }, place): Cell[] => [
      ...['tenth, told', place + 1, people, did, people > 0 ? did / people : null],
      ...[happened?.low ?? null, happened?.high ?? null, people > 0 ? foretold : null, lift, null, null],
    ]),
    ...Array.from({ length: 10 }, (_, i): Cell[] => {
      const [from, to] = [i * 10, (i + 1) * 10]
      const people = placesOf(to, scored.people) - placesOf(from, scored.people)
      const expected = scored.expected[to] - scored.expected[from]
      return [
        ...['tenth, now', i + 1, people, null, null, null, null],
        ...[people > 0 ? expected / people : null, null, null, expected],
      ]
    }),
    ...features.map((feature): Cell[] => [
      ...['looked at', capital(featureWords(feature, words)), null, null, null, null, null, null, null],
      ...[feature.weight, null],
    ]),
  ]
}
