import { creditsOf } from '../../../core/analyses/attribution/credits.js'
import type { AttributionResult } from '../../../core/analyses/attribution/finish.js'
import {
  usualAttribution,
  type AttributionQuestion,
  type Model,
  type TouchBy,
} from '../../../core/analyses/attribution/question.js'
import {
  modelWords,
  pickedWords,
  touchByWords,
  touchWords,
  worthWords,
} from '../../../core/analyses/attribution/words.js'
import { usualRetention } from '../../../core/analyses/retention/question.js'
import { usualPaths } from '../../../core/analyses/paths/question.js'
import { capital } from '../../../core/words/format.js'
import { groupWords, propertyWords, type Words } from '../../../core/words/words.js'
import type { Catalog, EventEntry } from '../../../server/engine/catalog.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import { withAmong } from '../../study/common.js'
import type { Cell, Leads, Look, Near } from '../leads.js'
import { inOrder, sideCredits, sideModel } from './figures.js'

export const leads: Leads<AttributionQuestion, AttributionResult> = {
  start: (events, { catalog }) => ({ ...usualAttribution(goalsOf(events, catalog)[0] ?? '…'), by: touchOf(catalog) }),
  home: brought,
  table: creditTable,
  next: afterAttribution,
}

/** What people are brought to do: what is bought, or signed up for, where the names tell; else what is rarer. */
function goalsOf(events: EventEntry[], catalog: Catalog): string[] {
  const live = catalog.events.filter(({ deprecated, combined, events: many }) => !deprecated && !combined && many > 0)
  const named = [/bought|purchas|order|paid|subscri/i, /sign.?up|signed up|register/i].flatMap(
    (pattern) => live.filter(({ name }) => pattern.test(name)).sort((a, b) => b.events - a.events)[0]?.name ?? [],
  )
  return [...new Set([...named, ...events.slice(1).map(({ name }) => name), ...events.map(({ name }) => name)])]
}

/** Where they came from: channel rules, a campaign, a source. */
export function touchOf({ properties }: Catalog): TouchBy {
  const live = properties.filter(({ deprecated }) => !deprecated)
  const rules = live.find(({ channels }) => channels)
  const named = live.find(
    ({ property, kind, name }) =>
      property.of === 'event' && kind === 'text' && /utm_source|channel|referr|campaign/i.test(name),
  )
  return (rules ?? named)?.property ?? { of: 'source' }
}

function brought(events: EventEntry[], { catalog, words }: Near): Look[] {
  const [first, second] = goalsOf(events, catalog)
  if (!first) return []
  const by = touchOf(catalog)
  const label = (name: string) => catalog.events.find((event) => event.name === name)?.label ?? name
  const base = { ...usualAttribution(first), by }
  const told = touchByWords(by, words)
  return [
    { label: `What brought people to ${label(first)}, by ${told}?`, question: base },
    ...(second
      ? [
          {
            label: `What brought people to ${label(second)}, by ${told}?`,
            question: { ...usualAttribution(second), by },
          },
        ]
      : []),
    { label: `Which ways of touches lead to ${label(first)}?`, question: { ...base, show: { form: 'touches' } } },
  ]
}

/** Who begins and who closes, what stays of it, and another look at everybody's ways. */
function afterAttribution(question: AttributionQuestion, result: AttributionResult, { catalog, words }: Near): Look[] {
  const looks: Look[] = []
  const { show, models, range } = question
  const [pick] = question.goals
  const goal = result.goals[0]
  if (goal.all.conversions === goal.all.noneConversions) {
    const back = { count: Math.min(1000, question.lookBack.count * 3), unit: question.lookBack.unit }
    return [
      { label: `And looking back ${back.count} ${back.unit}s?`, question: { ...question, lookBack: back } },
      {
        label: `What do people do before ${pickedWords(pick, words)}?`,
        question: { ...usualPaths(''), start: pick, backward: true, range, ...withAmong(question) },
      },
    ]
  }
  if (show.form === 'table' && !question.every)
    looks.push({ label: 'Who begins, and who closes?', question: { ...question, show: { form: 'early' } } })
  if (!models.includes('removal') && models.length < 6)
    looks.push({
      label: 'What would be lost without each?',
      question: { ...withoutTime(question), models: [...models, 'removal'], show: { form: 'table' } },
    })
  if (show.form !== 'touches')
    looks.push({
      label: 'Which ways of touches are commonest?',
      question: { ...withoutTime(question), show: { form: 'touches' } },
    })
  const model = sideModel(question)
  const credits = model && creditsOf(goal, goal.all, model)
  const top = credits && inOrder(result, credits).find((place) => 'value' in result.values[place] && credits[place] > 0)
  if (top !== null && top !== undefined && model && 'names' in pick.event)
    looks.push({
      label: `Do those who came by ${touchWords(result.values[top], question.by, undefined, words)} stay?`,
      question: {
        ...usualRetention(pick.event.names[0]),
        among: {
          study: withoutTime({ ...question, show: { form: 'table' } }),
          marks: [{ kind: 'credit', value: result.values[top], model }],
        },
      },
    })
  const property = goodBreakdown(catalog, question)
  if (looks.length < 4 && !question.breakdowns && property)
    looks.push({
      label: `Is it otherwise for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 5 }] },
    })
  return looks.slice(0, 4)
}

function withoutTime(question: AttributionQuestion): AttributionQuestion {
  const { every: _every, ...rest } = question
  return rest
}

/** A row for each value, of each conversion, group or bucket; a column for each model. Or for each path, or place in it. */
function creditTable(question: AttributionQuestion, result: AttributionResult, words: Words): Cell[][] {
  const { models, goals: picks, by, every } = question
  const name = (place: number) => touchWords(result.values[place], by, result.restValues, words)
  const head = capital(touchByWords(by, words))
  const goals = result.goals.map((goal, at) => ({ goal, told: pickedWords(picks[at], words) }))
  if (!every && question.show.form === 'touches')
    return [
      ['Conversion', 'Touches', 'Conversions', capital(worthWords(question, words)), 'People', 'People not converted'],
      ...goals.flatMap(({ goal, told }) =>
        (goal.ways ?? []).map(({ values, conversions, worth, people, others }): Cell[] => [
          ...[told, values.map((key) => touchWords(key, by, undefined, words)).join(' › ')],
          ...[conversions, worth, people, others],
        ]),
      ),
    ]
  if (!every && question.show.form === 'early')
    return [
      ['Conversion', head, 'Conversions', 'People', 'First touches', 'Touches between', 'Last touches', 'Only touches'],
      ...goals.flatMap(({ goal, told }) =>
        goal.all.credit.map((own, place): Cell[] => [
          ...[told, name(place), own.conversions, own.people],
          ...[own.firstTouches, own.middleTouches, own.lastTouches, own.onlyTouches],
        ]),
      ),
    ]
  if (every)
    return sideRows(
      question,
      result,
      [`${capital(every)} from`, head],
      (goal) => goal.over.map((side, at) => ({ side, name: result.buckets[at].key })),
      name,
    )
  const { cost } = result
  const whole = [
    ['Conversion', head, ...(cost ? ['Paid'] : []), 'Conversions with it', ...models.map(modelWords)],
    ...goals.flatMap(({ goal, told }): Cell[][] => [
      ...result.values.map((_, place): Cell[] => [
        ...[told, name(place), ...(cost ? [cost.amounts[place]] : []), goal.all.credit[place].conversions],
        ...models.map((model) => creditsOf(goal, goal.all, model)?.[place] ?? null),
      ]),
      [told, 'no touch found', ...(cost ? [null] : []), goal.all.noneConversions, ...models.map(() => goal.all.none)],
    ]),
  ]
  if (result.goals[0].groups.length === 0) return whole
  return sideRows(
    question,
    result,
    ['Group', head],
    (goal) =>
      [...goal.groups, goal.all].map((side) => ({
        side,
        name: side.key ? groupWords(side.key, result.rest) : 'All together',
      })),
    name,
  )
}

function sideRows(
  question: AttributionQuestion,
  result: AttributionResult,
  heads: string[],
  sidesOf: (
    goal: AttributionResult['goals'][number],
  ) => { side: AttributionResult['goals'][number]['all']; name: string }[],
  name: (place: number) => string,
): Cell[][] {
  const model: Model = sideModel(question) ?? 'linear'
  return [
    ['Conversion', ...heads, modelWords(model)],
    ...result.goals.flatMap((goal, at) =>
      sidesOf(goal).flatMap(({ side, name: own }): Cell[][] => [
        ...result.values.map((_, place): Cell[] => [
          at + 1,
          own,
          name(place),
          sideCredits(goal, side, question)?.[place] ?? null,
        ]),
        [at + 1, own, 'no touch found', side.none],
      ]),
    ),
  ]
}
