import type { Question, Result } from '../../core/analyses/registry.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import { lineWords } from '../../core/analyses/trend/sentence.js'
import { shownAll, shownLines, visibleLines } from '../../core/analyses/trend/shown.js'
import type { CrosstabColumn, CrosstabResult } from '../../core/analyses/crosstab/finish.js'
import type { CrosstabQuestion } from '../../core/analyses/crosstab/question.js'
import { measureName } from '../../core/analyses/crosstab/sentence.js'
import { sentenceText } from '../../core/analyses/analysis.js'
import type { OverlapQuestion } from '../../core/analyses/overlap/question.js'
import type { OverlapResult } from '../../core/analyses/overlap/finish.js'
import { figureParts } from '../../core/analyses/trend/sentence.js'
import { funnelTable } from '../analyses/funnel/funnelTable.js'
import type { GapsResult } from '../../core/analyses/gaps/finish.js'
import { growthTable } from '../analyses/growth/growthTable.js'
import { habitTable } from '../analyses/habit/habitTable.js'
import { retentionTable } from '../analyses/retention/retentionTable.js'
import type { GroupKey } from '../../core/questions/parts.js'
import { groupWords, splitHead, type Words } from '../../core/words/words.js'

type Cell = string | number | null

/** A study's numbers as rows of cells, heads first: unrounded, times in seconds. */
export function tableOf(question: Question, result: Result, words: Words): Cell[][] {
  if (question.kind === 'trend' && result.kind === 'trend') return trendTable(question, result, words)
  if (question.kind === 'funnel' && result.kind === 'funnel') return funnelTable(question, result, words)
  if (question.kind === 'crosstab' && result.kind === 'crosstab') return crosstabTable(question, result, words)
  if (question.kind === 'overlap' && result.kind === 'overlap') return overlapTable(question, result, words)
  if (question.kind === 'retention' && result.kind === 'retention') return retentionTable(question, result, words)
  if (question.kind === 'habit' && result.kind === 'habit') return habitTable(question, result, words)
  if (question.kind === 'growth' && result.kind === 'growth') return growthTable(result)
  if (question.kind === 'gaps' && result.kind === 'gaps') return gapsTable(result)
  throw new RangeError(`a ${question.kind} with the result of a ${result.kind}`)
}

/** A row for each length of gaps: how many there are, and people whose median it is. */
function gapsTable({ bins, once }: GapsResult): Cell[][] {
  return [
    ['Days, least', 'Days, most', 'Gaps', 'People by their median'],
    ...bins.map(({ least, most, gaps, people }): Cell[] => [least, most, gaps, people]),
    ['on one day only', null, null, once],
  ]
}

/** A row for each line and group as they are read, then all groups together; a period beside it has rows of its own. */
function trendTable(question: TrendQuestion, result: TrendResult, words: Words): Cell[][] {
  const grouped = result.keys.length > 0
  const lines = visibleLines(result)
  const rows = [
    ...shownLines(result, question, words),
    ...(grouped ? lines.map((line) => shownAll(result, question, words, line)) : []),
  ]
  const names = result.buckets.map(({ key, open, cut }) => `${key}${open ? ' (still open)' : cut ? ' (in part)' : ''}`)
  const beside = result.beforeBuckets !== null
  const head = [
    ...(lines.length > 1 || !grouped ? [lines.length > 1 ? 'Line' : 'Event'] : []),
    ...(question.breakdowns ?? []).map(({ by }) => splitHead(by, words)),
    ...(beside ? ['Time'] : []),
    'Whole time',
    ...names,
  ]
  const groupCells = (key: GroupKey | null): string[] => {
    const width = question.breakdowns?.length ?? 0
    if (key && 'each' in key) return key.each.map((each) => groupWords(each))
    const name = key ? groupWords(key, result.rest) : 'All together'
    return Array.from({ length: width }, (_, i) => (i === 0 ? name : ''))
  }
  const cells = rows.flatMap((row) => {
    const names = [
      ...(lines.length > 1 || !grouped ? [lineWords(question, row.line.of, words)] : []),
      ...groupCells(row.key),
    ]
    const own = [...names, ...(beside ? ['asked about'] : []), row.total, ...row.values]
    if (!row.before) return [own]
    const { before } = row
    return [own, [...names, 'compared with', before.total, ...result.buckets.map((_, b) => before.values[b] ?? null)]]
  })
  return [head, ...cells]
}

/** A row for each row of the table at every depth, outer ones with what they hold together; all together last. */
function crosstabTable(question: CrosstabQuestion, result: CrosstabResult, words: Words): Cell[][] {
  const measured = ({ series }: CrosstabColumn) => measureName(question, series, words)
  const head = [
    ...question.rows.map(({ by }) => splitHead(by, words)),
    ...result.columns.map((column) =>
      question.column ? (column.key ? groupWords(column.key, column.rest) : 'All together') : measured(column),
    ),
  ]
  const cells = [...result.rows, result.all].map(({ path, rest, values }) => [
    ...question.rows.map((_, depth) => {
      if (depth < path.length) return groupWords(path[depth], rest)
      return depth === path.length ? (depth === 0 ? 'All together' : 'all') : ''
    }),
    ...values,
  ])
  return [head, ...cells]
}

/** A row for each part: which segments it lies in, its people, and the figure. */
function overlapTable(question: OverlapQuestion, result: OverlapResult, words: Words): Cell[][] {
  const { figure } = question
  const head = [...result.segments.map(({ name }) => name), 'People', 'Of all in any']
  return [
    [...head, ...(figure ? [sentenceText(figureParts(figure, words))] : [])],
    ...result.regions.map((region): Cell[] => [
      ...result.segments.map((_segment, place) => (region.in.includes(place) ? 'in' : 'not in')),
      ...[region.people, result.any > 0 ? region.people / result.any : null],
      ...(figure ? [region.figure] : []),
    ]),
  ]
}
