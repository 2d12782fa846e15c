import { usualCrosstab, type CrosstabQuestion } from '../../core/analyses/crosstab/question.js'
import type { AnalysisKind, Question } from '../../core/analyses/registry.js'
import { usualOverlap } from '../../core/analyses/overlap/question.js'
import { usualFunnel } from '../../core/analyses/funnel/question.js'
import { usualGaps } from '../../core/analyses/gaps/question.js'
import { usualGrowth } from '../../core/analyses/growth/question.js'
import { usualHabit } from '../../core/analyses/habit/question.js'
import { usualRetention } from '../../core/analyses/retention/question.js'
import { usualTrend } from '../../core/analyses/trend/question.js'
import type { Catalog, EventEntry } from '../../server/engine/catalog.js'
import { goodBreakdown } from './breakdowns.js'

/** The events an analyst would start from: live, counted as activity, the most frequent of the last 30 days first. */
export function commonEvents(catalog: Catalog): EventEntry[] {
  return catalog.events
    .filter((event) => !event.deprecated && !event.passive && event.events > 0)
    .sort((a, b) => b.recent - a.recent || b.events - a.events || (a.name < b.name ? -1 : 1))
}

const USUAL = {
  trend: usualTrend,
  funnel: usualFunnel,
  crosstab: usualCrosstab,
  retention: usualRetention,
  habit: usualHabit,
  growth: usualGrowth,
  gaps: usualGaps,
} satisfies Record<Exclude<AnalysisKind, 'overlap'>, (event: string) => Question>

/** A first study of a kind that already shows a result. */
export function startingQuestion(
  kind: AnalysisKind,
  catalog: Catalog,
  segments: readonly { id: string; tags: readonly string[] }[] = [],
): Question {
  if (kind === 'overlap') return startingOverlap(segments)
  const [first, ...others] = commonEvents(catalog)
  const usual = USUAL[kind]
  if (!first) return usual('…')
  if (kind === 'crosstab') return startingCrosstab(first.name, catalog)
  if (kind !== 'funnel') return usual(first.name)
  // Steps from the wide to the narrow: the most frequent event, then rarer ones.
  const second = others.find((event) => event.recent < first.recent * 0.95) ?? others[0]
  const third = others.find((event) => second && event !== second && event.recent < second.recent * 0.95)
  const names = [first, second, third].flatMap((event) => (event ? [event.name] : []))
  return { ...usualFunnel(first.name), steps: names.map((name) => ({ event: { names: [name] } })) }
}

/** Rows and columns by the two profile properties that tell most; by source, where there are none. */
function startingCrosstab(event: string, catalog: Catalog): Question {
  const usual = usualCrosstab(event)
  const rows = goodBreakdown(catalog, usual)
  if (!rows) return usual
  const once: CrosstabQuestion = { ...usual, rows: [{ by: rows, keep: 10 }] }
  const column = goodBreakdown(catalog, once)
  return column ? { ...once, column: { by: column, keep: 10 } } : once
}

/** Three segments that share a tag, so that they are of one kind; else the first ones there are. */
function startingOverlap(segments: readonly { id: string; tags: readonly string[] }[]): Question {
  const usual = usualOverlap('…')
  if (segments.length < 2) return usual
  const tags = [...new Set(segments.flatMap(({ tags: own }) => own))]
  const groups = tags.map((tag) => segments.filter((segment) => segment.tags.includes(tag)))
  const most = groups.reduce((best, group) => (group.length > best.length ? group : best), [] as typeof segments)
  const chosen = most.length >= 2 ? most : segments
  return { ...usual, sides: chosen.slice(0, 3).map(({ id }) => ({ segment: id })) }
}
