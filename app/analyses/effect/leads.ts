import type { EffectFigures, EffectResult } from '../../../core/analyses/effect/finish.js'
import { usualEffect, type EffectQuestion } from '../../../core/analyses/effect/question.js'
import { usualFunnel } from '../../../core/analyses/funnel/question.js'
import { usualRetention } from '../../../core/analyses/retention/question.js'
import { MESSAGE_EVENTS, MESSAGE_PROPERTIES } from '../../../core/outreach/events.js'
import type { EventPick } from '../../../core/questions/parts.js'
import { groupWords, propertyWords, splitsHead, type Words } from '../../../core/words/words.js'
import { withAmong } from '../../study/common.js'
import type { Cell, Leads, Look, Near } from '../leads.js'

export const leads: Leads<EffectQuestion, EffectResult> = {
  start: ([first]) => usualEffect(first?.name ?? '…'),
  table: effectTable,
  next: afterEffect,
}

/** Coming into the message, as an event like any other. */
const cameIn = ({ message }: EffectQuestion): EventPick => ({
  event: { names: [MESSAGE_EVENTS.entered] },
  where: { property: { of: 'event', name: MESSAGE_PROPERTIES.message }, op: 'is', values: [message] },
})
const byVariant = { by: { of: 'event' as const, name: MESSAGE_PROPERTIES.variant }, keep: 10 }

function afterEffect(question: EffectQuestion, _result: EffectResult, { catalog, words }: Near): Look[] {
  const people = withAmong(question)
  const kind = catalog.properties.find(
    ({ property, kind: values, made, deprecated, samples }) =>
      property.of === 'person' && values === 'text' && !made && !deprecated && samples.length > 1,
  )
  const looks: Look[] = [
    {
      label: 'Do they come back, reached and left alone?',
      question: {
        ...usualRetention('…'),
        ...{ start: cameIn(question), back: question.goal, every: 'week', range: question.range },
        ...{ breakdowns: [byVariant], ...people },
      },
    },
    {
      label: 'How long do they take?',
      question: {
        ...usualFunnel('…'),
        ...{ steps: [cameIn(question), question.goal], window: question.within, range: question.range, ...people },
        breakdowns: [byVariant],
      } as Look['question'],
    },
  ]
  if (kind?.property.of === 'person' && !question.breakdowns)
    looks.unshift({
      label: `For whom does it work, by ${propertyWords(kind.property, words)}?`,
      question: { ...question, breakdowns: [{ by: kind.property, keep: 10 }] },
    })
  return looks
}

/** A row for each variant, of each group and of all together. */
function effectTable({ breakdowns }: EffectQuestion, result: EffectResult, words: Words): Cell[][] {
  const rows = ({ rows: own, effects, effect }: EffectFigures, group: Cell[]): Cell[][] => [
    ...own.map((row, place): Cell[] => {
      const { name, entered, sent, delivered, opened, pressed, optedOut, counted, goal, rate } = row
      const each = effects[place] ?? null
      return [
        ...[...group, name ?? 'left alone', entered, sent, delivered, opened, pressed, optedOut, counted, goal, rate],
        ...[each?.difference ?? null, each?.interval?.low ?? null, each?.interval?.high ?? null, each?.p ?? null],
      ]
    }),
    [
      ...[...group, 'all variants', ...Array.from({ length: 9 }, () => null)],
      ...[effect?.difference ?? null, effect?.interval?.low ?? null, effect?.interval?.high ?? null, effect?.p ?? null],
    ],
  ]
  return [
    [
      ...(breakdowns ? [splitsHead(breakdowns, words)] : []),
      ...['Variant', 'Entered', 'Sent', 'Delivered', 'Opened', 'Pressed', 'Declined', 'Time is over', 'Goal', 'Rate'],
      ...['Effect', 'Effect, low', 'Effect, high', 'p'],
    ],
    ...result.groups.flatMap((row) => rows(row, [groupWords(row.key, result.rest)])),
    ...rows(result, breakdowns ? ['All together'] : []),
  ]
}
