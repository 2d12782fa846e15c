import jStat from 'jstat'
import { SMALL } from '../../stats/proportion.js'
import { mean } from '../../stats/quantile.js'
import { countOf, formatChange, formatNumber, formatPercent } from '../../words/format.js'
import { bucketWords, eventWords, groupWords, plain, strong, type Finding, type Words } from '../../words/words.js'
import type { Reading } from '../analysis.js'
import { comparedBuckets } from './compare.js'
import type { TrendResult, TrendRow } from './finish.js'
import type { TrendQuestion } from './question.js'

/** A change of level is called clear under this p-value, after adjusting for all that was looked at. */
const CLEAR = 0.01
/** Whole buckets on each side of a change, at least. */
const LEAST_SIDE = 3
/** Changes smaller than this share are not worth a sentence. */
const LEAST_CHANGE = 0.1

/** What the result says, from its whole buckets only: an open or cut bucket never counts as a fall. */
export function trendFindings(result: TrendResult, question: TrendQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const cautions: Finding[] = []
  const [series] = question.series
  const full = result.buckets.flatMap((bucket, index) => (bucket.open || bucket.cut ? [] : [index]))

  if (result.all.totalPeople === 0) {
    findings.push([plain('Nobody did '), strong(eventWords(series.event, words)), plain(' in this time, as asked.')])
  } else if (full.length === 0) {
    findings.push([
      strong(amount(result.all.total, question)),
      plain(` so far; no ${question.every} of this time is over yet.`),
    ])
  } else {
    findings.push(lastFull(result, question, full, words))
    const mover = largestMove(result, full)
    if (mover) findings.push(moveWords(mover, result, question, words))
    else if (full.length >= 2 * LEAST_SIDE && series.measure !== 'events per person')
      findings.push([
        strong('No clear change'),
        plain(`: the level of the whole ${question.every}s has not moved by more than their usual ups and downs.`),
      ])
    const largest = largestGroup(result, question)
    if (largest) findings.push(largest)
  }

  const open = result.buckets.at(-1)
  if (open?.open && result.buckets.length > 1)
    cautions.push([plain(`This ${question.every} is still open: drawn dashed, left out of the changes above.`)])
  const cut = result.buckets.filter((bucket) => bucket.cut).length
  if (cut > 0)
    cautions.push([
      plain(
        `The time asked about cuts ${cut === 1 ? `one ${question.every}` : `two ${question.every}s`}: only the part inside is counted.`,
      ),
    ])
  const small = result.groups.filter((group) => group.totalPeople > 0 && group.totalPeople < SMALL)
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
  const compared = comparedBuckets(result.buckets, question.every)
  const value = result.all.values[full.at(-1)!]
  const finding: Finding = [strong(amount(value, question)), plain(` in the last full ${question.every}`)]
  const before = compared && result.all.values[compared.first]
  if (!compared || value === null || !before) return [...finding, plain('.')]
  const change = value / before - 1
  if (Math.abs(change) < 0.0005)
    return [...finding, plain(`, as in ${bucketWords(result.buckets[compared.first].key, question.every, words)}.`)]
  const apart = compared.last - compared.first
  return [
    ...finding,
    plain(', '),
    strong(`${formatPercent(Math.abs(change))} ${change > 0 ? 'more' : 'less'}`, change > 0 ? 'gain' : 'loss'),
    plain(` than ${apart} ${question.every}${apart === 1 ? '' : 's'} before.`),
  ]
}

interface Move {
  row: TrendRow
  /** index of the first bucket of the new level */
  at: number
  /** mean of the whole buckets before it, and from it on */
  before: number
  after: number
  /** p-value of the difference, adjusted for all rows and places looked at */
  p: number
}

/**
 * The clearest change of level: for each row and each place between whole buckets, the mean before is compared with the
 * mean after by a t-test with pooled variance; p-values are multiplied by the number of comparisons (Bonferroni).
 * @returns null when none is clear
 */
function largestMove(result: TrendResult, full: number[]): Move | null {
  const rows = result.groups.length > 0 ? result.groups.filter((row) => row.key && !('rest' in row.key)) : [result.all]
  const looked = rows.filter((row) => row.totalPeople >= SMALL)
  const places = full.length - 2 * LEAST_SIDE + 1
  let best: Move | null = null
  for (const row of looked) {
    const values = full.map((bucket) => row.values[bucket] ?? 0)
    for (let cut = LEAST_SIDE; cut <= values.length - LEAST_SIDE; cut++) {
      const test = levels(values.slice(0, cut), values.slice(cut))
      if (!test) continue
      const p = Math.min(1, test.p * looked.length * places)
      const relative = test.before > 0 ? Math.abs(test.after / test.before - 1) : 1
      if (p < CLEAR && relative >= LEAST_CHANGE && (!best || p < best.p)) best = { row, at: full[cut], ...test, p }
    }
  }
  return best
}

function levels(
  first: readonly number[],
  second: readonly number[],
): { before: number; after: number; p: number } | null {
  const before = mean(first)!
  const after = mean(second)!
  const squares = (values: readonly number[], middle: number) => values.reduce((sum, x) => sum + (x - middle) ** 2, 0)
  const freedom = first.length + second.length - 2
  const variance = (squares(first, before) + squares(second, after)) / freedom
  if (!(variance > 0)) return before === after ? null : { before, after, p: 0 }
  const t = (after - before) / Math.sqrt(variance * (1 / first.length + 1 / second.length))
  return { before, after, p: 2 * jStat.studentt.cdf(-Math.abs(t), freedom) }
}

function moveWords(move: Move, result: TrendResult, question: TrendQuestion, words: Words): Finding {
  const name = move.row.key ? groupWords(move.row.key) : eventWords(question.series[0].event, words)
  const fell = move.after < move.before
  const relative = move.before > 0 ? ` (${formatChange(move.after / move.before - 1)})` : ''
  const round = (x: number) => formatNumber(x >= 20 ? Math.round(x) : x)
  return [
    strong(name),
    plain(`${result.groups.length > 1 ? ' moved most' : ' moved'}: from `),
    strong(round(move.before)),
    plain(` a ${question.every} on the average to `),
    strong(`${round(move.after)}${relative}`, fell ? 'loss' : 'gain'),
    plain(
      ` since ${bucketWords(result.buckets[move.at].key, question.every, words)}, more than its usual ups and downs.`,
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
