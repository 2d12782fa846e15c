import { countOf, formatChange, formatNumber, formatPercent } from '../../words/format.js'
import { bucketWords, eventWords, groupWords, plain, strong, type Finding, type Words } from '../../words/words.js'
import type { Reading } from '../analysis.js'
import type { TrendResult, TrendRow } from './finish.js'
import type { TrendQuestion } from './question.js'

/** A change is called clear when it is over this many usual changes (standard deviations of earlier ones). */
const CLEAR = 1.959964
/** Fewer earlier changes than this say nothing of what is usual. */
const LEAST_CHANGES = 4

/** What the result says, from its whole buckets only: an open or cut bucket never counts as a fall. */
export function trendFindings(result: TrendResult, question: TrendQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const cautions: Finding[] = []
  const [series] = question.series
  const full = result.buckets.flatMap((bucket, index) => (bucket.open || bucket.cut ? [] : [index]))

  if (result.all.totalPeople === 0) {
    findings.push([plain('Nobody did '), strong(eventWords(series.event)), plain(' in this time, as asked.')])
  } else if (full.length === 0) {
    findings.push([
      strong(amount(result.all.total, question)),
      plain(` so far; no ${question.every} of this time is over yet.`),
    ])
  } else {
    findings.push(lastFull(result, question, full, words))
    const mover = largestMove(result, full)
    if (mover) findings.push(moveWords(mover, result, question, words))
    else if (full.length > LEAST_CHANGES + 1 && series.measure !== 'events per person')
      findings.push([strong('No clear change'), plain(`: no ${question.every} moved more than is usual here.`)])
    const largest = largestGroup(result, question)
    if (largest) findings.push(largest)
  }

  const open = result.buckets.at(-1)
  if (open?.open && result.buckets.length > 1)
    cautions.push([plain(`This ${question.every} is still open: drawn dashed, left out of the changes above.`)])
  const cut = result.buckets.filter((bucket) => bucket.cut).length
  if (cut > 0)
    cautions.push([
      plain(`The time asked about cuts ${cut === 1 ? `one ${question.every}` : `two ${question.every}s`}: only the part inside is counted.`),
    ])
  const small = result.groups.filter((group) => group.totalPeople > 0 && group.totalPeople < 30)
  if (small.length > 0)
    cautions.push([
      plain(
        small.length === 1
          ? `${groupWords(small[0].key!, result.rest)} has under 30 people: read it with care.`
          : `${small.length} groups have under 30 people: read them with care.`,
      ),
    ])
  if (result.overlap && series.measure === 'people')
    cautions.push([
      plain(
        `A person can be in several groups: together they are ${formatNumber(result.all.totalPeople)} people, not the sum of the rows.`,
      ),
    ])
  return { findings, cautions }
}

function amount(value: number | null, question: TrendQuestion): string {
  if (value === null) return 'nothing'
  switch (question.series[0].measure) {
    case 'people':
      return countOf(value, 'person', 'people')
    case 'events':
      return countOf(value, 'time', 'times')
    case 'events per person':
      return `${formatNumber(value)} times per person`
  }
}

function lastFull(result: TrendResult, question: TrendQuestion, full: number[], words: Words): Finding {
  const last = full.at(-1)!
  const first = full[0]
  const value = result.all.values[last]
  const before = result.all.values[first]
  const finding: Finding = [
    strong(amount(value, question)),
    plain(` in the last full ${question.every}`),
  ]
  if (value === null || before === null || before === 0 || first === last) return [...finding, plain('.')]
  const change = value / before - 1
  if (Math.abs(change) < 0.0005) return [...finding, plain(`, as in ${bucketWords(result.buckets[first].key, question.every, words)}.`)]
  return [
    ...finding,
    plain(', '),
    strong(`${formatPercent(Math.abs(change))} ${change > 0 ? 'more' : 'less'}`, change > 0 ? 'gain' : 'loss'),
    plain(` than ${last - first} ${question.every}${last - first === 1 ? '' : 's'} before.`),
  ]
}

interface Move {
  row: TrendRow
  /** index of the bucket that differs from the one before */
  at: number
  from: number
  to: number
  /** the change in usual changes */
  size: number
}

/** The change between two neighbouring whole buckets that is largest by the row's own usual change; null if none is clear. */
function largestMove(result: TrendResult, full: number[]): Move | null {
  let best: Move | null = null
  const rows = result.groups.length > 0 ? result.groups.filter((row) => row.key && !('rest' in row.key)) : [result.all]
  for (const row of rows) {
    if (row.totalPeople < 30) continue
    const changes = full.slice(1).map((at, i) => ({
      at,
      from: row.values[full[i]] ?? 0,
      to: row.values[at] ?? 0,
    }))
    if (changes.length <= LEAST_CHANGES) continue
    for (const change of changes) {
      // What is usual is told by the other changes, so that a jump does not excuse itself.
      const others = changes.filter((other) => other !== change).map((other) => other.to - other.from)
      const middle = others.reduce((sum, x) => sum + x, 0) / others.length
      const spread = Math.sqrt(others.reduce((sum, x) => sum + (x - middle) ** 2, 0) / (others.length - 1))
      const size = Math.abs(change.to - change.from - middle) / Math.max(spread, 1e-9)
      const relative = change.from > 0 ? Math.abs(change.to / change.from - 1) : 1
      // Several rows and buckets are looked at, so the bar rises with their number (Bonferroni on the normal scale).
      const bar = CLEAR + Math.log10(rows.length * changes.length)
      if (size > bar && relative >= 0.05 && (!best || size > best.size)) best = { row, size, ...change }
    }
  }
  return best
}

function moveWords(move: Move, result: TrendResult, question: TrendQuestion, words: Words): Finding {
  const name = move.row.key ? groupWords(move.row.key) : eventWords(question.series[0].event)
  const fell = move.to < move.from
  const relative = move.from > 0 ? ` (${formatChange(move.to / move.from - 1)})` : ''
  return [
    strong(name),
    plain(' moved most: '),
    strong(`${formatNumber(move.from)} → ${formatNumber(move.to)}${relative}`, fell ? 'loss' : 'gain'),
    plain(
      ` in ${bucketWords(result.buckets[move.at].key, question.every, words)}, a ${fell ? 'fall' : 'rise'} larger than its usual change from ${question.every} to ${question.every}.`,
    ),
  ]
}

function largestGroup(result: TrendResult, question: TrendQuestion): Finding | null {
  const [first, second] = result.groups.filter((row) => row.key && !('rest' in row.key))
  if (!first || !second || first.total === null || result.all.total === null) return null
  const measure = question.series[0].measure
  if (measure === 'events per person')
    return [
      strong(groupWords(first.key!)),
      plain(' comes first with '),
      strong(amount(first.total, question)),
      plain(`, against ${formatNumber(result.all.total)} for all.`),
    ]
  return [
    strong(groupWords(first.key!)),
    plain(' is the largest group with '),
    strong(formatPercent(first.total / result.all.total, 0)),
    plain(measure === 'people' ? ' of the people.' : ' of the events.'),
  ]
}
