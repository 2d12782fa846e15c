import type { FunnelQuestion } from '../../core/analyses/funnel/question.js'
import type { FunnelResult } from '../../core/analyses/funnel/finish.js'
import type { Question, Result } from '../../core/analyses/registry.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import { eventWords, groupWords, propertyWords, type Words } from '../../core/words/words.js'

type Cell = string | number | null

/** A study's numbers as rows of cells, heads first: unrounded, times in seconds. */
export function tableOf(question: Question, result: Result, words: Words): Cell[][] {
  if (question.kind === 'trend' && result.kind === 'trend') return trendTable(question, result, words)
  if (question.kind === 'funnel' && result.kind === 'funnel') return funnelTable(question, result, words)
  throw new RangeError(`a ${question.kind} with the result of a ${result.kind}`)
}

function trendTable(question: TrendQuestion, result: TrendResult, words: Words): Cell[][] {
  const head = question.breakdowns?.[0] ? propertyWords(question.breakdowns[0].by, words) : 'Event'
  const rows = [...result.groups, result.all].map((row) => [
    row.key
      ? groupWords(row.key, result.rest)
      : result.groups.length > 0
        ? 'All together'
        : eventWords(question.series[0].event, words),
    row.total,
    ...row.values,
  ])
  const names = result.buckets.map(({ key, open, cut }) => `${key}${open ? ' (still open)' : cut ? ' (in part)' : ''}`)
  return [[head, 'Whole time', ...names], ...rows]
}

function funnelTable(question: FunnelQuestion, result: FunnelResult, words: Words): Cell[][] {
  const grouped = result.groups.length > 0
  const head = [
    ...(grouped ? [propertyWords(question.breakdowns![0].by, words)] : []),
    'Step',
    'Event',
    'People',
    'Of the start',
    'Of the start, low',
    'Of the start, high',
    'Of the step before',
    'Lost here',
    'Still open',
    'Median seconds',
    'Mean seconds',
    '10th percentile seconds',
    '90th percentile seconds',
    'Median seconds from the start',
  ]
  const seconds = (ms: number | null) => (ms === null ? null : ms / 1000)
  const rows = [...result.groups, result.all].flatMap((row) =>
    row.steps.map((step, i) => [
      ...(grouped ? [row.key ? groupWords(row.key, result.rest) : 'All together'] : []),
      i + 1,
      eventWords(question.steps[i].event, words),
      step.people,
      step.ofStart,
      step.ofStartInterval?.low ?? null,
      step.ofStartInterval?.high ?? null,
      i === 0 ? null : step.ofPrevious,
      step.lost,
      step.open,
      seconds(step.fromPrevious.median),
      seconds(step.fromPrevious.mean),
      seconds(step.fromPrevious.p10),
      seconds(step.fromPrevious.p90),
      seconds(step.fromEntry.median),
    ]),
  )
  return [head, ...rows]
}
