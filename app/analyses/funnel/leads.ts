import { narrowest } from '../../../core/analyses/funnel/narrowest.js'
import { showOf, usualFunnel, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { Catalog, EventEntry } from '../../../server/engine/catalog.js'
import { propertyWords, type Words } from '../../../core/words/words.js'
import { usualPaths } from '../../../core/analyses/paths/question.js'
import { withAmong } from '../../study/common.js'
import { depthOf } from '../sessions/depth.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import type { Leads, Look } from '../leads.js'
import { funnelTable } from './funnelTable.js'

export const leads: Leads<FunnelQuestion, FunnelResult> = {
  start: steps,
  home: (events) => funnels(events),
  table: funnelTable,
  next: (question, result, { catalog, words }) => afterFunnel(question, result, catalog, words),
}

/** From the wide to the narrow: the most frequent event, then rarer ones. */
function steps([first, ...others]: EventEntry[]): FunnelQuestion {
  if (!first) return usualFunnel('…')
  const second = others.find((event) => event.recent < first.recent * 0.95) ?? others[0]
  const third = others.find((event) => second && event !== second && event.recent < second.recent * 0.95)
  const names = [first, second, third].flatMap((event) => (event ? [event.name] : []))
  return { ...usualFunnel(first.name), steps: names.map((name) => ({ event: { names: [name] } })) }
}

/** As an analyst goes: since when, what else, what sets them apart, who, and how long. */
function afterFunnel(question: FunnelQuestion, result: FunnelResult, catalog: Catalog, words: Words): Look[] {
  const looks: Look[] = []
  const { form } = showOf(question)
  const { show: _show, ...plain } = question
  if (question.steps.length < 2) return looks
  const narrow = narrowest(result.all)
  const property = goodBreakdown(catalog, question)
  const { jump } = result
  if (jump?.value && jump.value.of !== 'source') {
    const { of, property: name, at } = jump.value
    looks.push({
      label: `How does each ${propertyWords({ of, name }, words)} fare?`,
      question: {
        ...plain,
        breakdowns: [{ by: { of, name }, keep: 10 }],
        ...(at > 0 ? { readAt: at } : {}),
      },
    })
  }
  if (form !== 'apart')
    looks.push({ label: 'What sets those who got through apart?', question: { ...plain, show: { form: 'apart' } } })
  if (narrow !== null && form !== 'after') {
    const lost = result.all.steps[narrow].lost
    const next = question.steps.findIndex((each, i) => i > narrow && !each.optional)
    looks.push({
      label: `What did the ${lost.toLocaleString('en-GB')} lost before ${stepName(question, next, words)} do instead?`,
      question: { ...plain, show: { form: 'after', step: narrow, within: { count: 1, unit: 'hour' } } },
    })
  }
  if (form !== 'over time')
    looks.push({
      label: 'Has it changed week by week?',
      question: { ...plain, show: { form: 'over time', every: 'week' } },
    })
  if (narrow !== null) {
    const { event, where } = question.steps[narrow]
    looks.push({
      label: `Which way do they go from ${stepName(question, narrow, words)}?`,
      question: {
        ...usualPaths('…'),
        start: { event, ...(where ? { where } : {}) },
        window: question.window,
        range: question.range,
        ...withAmong(question),
      },
    })
  }
  if (!question.breakdowns && property && !jump)
    looks.push({
      label: `Who gets through more often, for each ${propertyWords(property, words)}?`,
      question: { ...plain, breakdowns: [{ by: property, keep: 10 }] },
    })
  const goal = question.steps.at(-1)!
  if ('names' in goal.event)
    looks.push(
      ...depthOf(
        { event: goal.event, ...(goal.where ? { where: goal.where } : {}) },
        stepName(question, question.steps.length - 1, words),
        { range: question.range, ...withAmong(question) },
      ).slice(0, 1),
    )
  const wider = { count: question.window.count * 2, unit: question.window.unit }
  if (wider.count <= 1000)
    looks.push({
      label: `Do more get through in ${wider.count} ${wider.unit}s?`,
      question: { ...plain, window: wider },
    })
  return looks.slice(0, 4)
}

function funnels([first, second, third, fourth]: EventEntry[]): Look[] {
  const from = (...events: EventEntry[]): FunnelQuestion => ({
    ...usualFunnel(events[0]!.name),
    steps: events.map(({ name }) => ({ event: { names: [name] } })),
  })
  const looks: Look[] = []
  if (first && second) looks.push({ label: `From ${first.label} to ${second.label}`, question: from(first, second) })
  if (first && second && third)
    looks.push({
      label: `From ${first.label} over ${second.label} to ${third.label}`,
      question: from(first, second, third),
    })
  if (third && fourth) looks.push({ label: `From ${third.label} to ${fourth.label}`, question: from(third, fourth) })
  return looks
}
