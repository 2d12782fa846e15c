import { SMALL } from '../../stats/small.js'
import type { Reading } from '../../words/sentence.js'
import { rhythmFinding } from '../rhythmFinding.js'
import { weekRhythm } from '../../stats/weekRhythm.js'
import { mean } from '../../stats/quantile.js'
import { mannKendall } from '../../stats/trendTest.js'
import { capital, countOf, formatAs, formatChange, formatNumber, formatDay, formatPercent } from '../../words/format.js'
import {
  bucketWords,
  eventWords,
  propertyWords,
  plain,
  strong,
  toldGroup,
  type Finding,
  type Piece,
  type Words,
} from '../../words/words.js'
import { Temporal } from 'temporal-polyfill'
import { annotationsIn } from './annotations.js'
import { clearestSpan, CLEAR, isUsualDifference, LEAST_CHANGE, LEAST_SIDE, type Span } from './changes.js'
import { comparedBuckets } from '../../time/comparison.js'
import { fewIn, fewWords, type Few } from '../few.js'
import { units } from '../../time/range.js'
import { topContribution } from './contribution.js'
import type { TrendLine, TrendResult, TrendRow } from './finish.js'
import { MEASURES } from './measures.js'
import { DEFAULT_DAYS, type TrendQuestion } from './question.js'
import { lineWords, measureWords } from './sentence.js'
import { visibleLines } from './shown.js'
import { unusualPoints, type UnusualPoint } from './unusual.js'

const MOST_FINDINGS = 5

/** The line that the findings are about: the first that is shown. */
interface Subject {
  line: TrendLine
  question: TrendQuestion
  result: TrendResult
  words: Words
  /** buckets that are neither open nor cut */
  full: number[]
  /** people are few in each of them; null where they are not */
  few: Few | null
}

/** What the result says, from its whole buckets only: an open or cut bucket never counts as a fall. */
export function trendFindings(result: TrendResult, question: TrendQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const [line] = visibleLines(result)
  const full = result.buckets.flatMap((bucket, index) => (bucket.open || bucket.cut ? [] : [index]))
  const few = fewOf(line, full, question)
  const subject: Subject = { line, question, result, words, full, few }

  if (line.all.total === null || (line.all.total === 0 && line.all.totalPeople === 0)) {
    findings.push(nothing(subject))
  } else if (full.length === 0) {
    findings.push([
      strong(capital(amount(line.all.total, subject))),
      plain(` so far; no ${question.every} of this time is over yet.`),
    ])
  } else {
    findings.push(lastFull(subject))
    if (line.before) findings.push(...compared(subject, line.before.all))
    const mover = largestMove(subject)
    const direction = mover ? null : steadyDirection(subject)
    if (mover) findings.push(moveWords(mover, subject))
    else if (direction) findings.push(direction)
    // What the last whole bucket does beyond the usual is told above, and is no clear change of level yet.
    else if (full.length >= 2 * LEAST_SIDE && !line.before && line.unit !== 'number' && isUsualPair(subject) !== false)
      findings.push([
        strong('No clear change'),
        plain(`: the level of the whole ${question.every}s has not moved by more than their usual ups and downs.`),
      ])
    const largest = largestGroup(subject)
    if (largest) findings.push(largest)
    const odd = few ? null : mostUnusual(subject)
    if (odd) findings.push(odd)
    const rhythm = weeklyRhythm(subject)
    if (rhythm) findings.push(rhythm)
  }
  return { findings: findings.slice(0, MOST_FINDINGS), cautions: cautionsOf(subject) }
}

function nothing({ line, question, words }: Subject): Finding {
  if ('formula' in line.of)
    return [
      strong(lineWords(question, line.of, words)),
      plain(' has no value in this time: a part of it is missing, or it would divide by zero.'),
    ]
  const series = question.series[line.of.series]
  if (line.all.totalPeople > 0) return [plain('No number to work from: none of the events carries one there.')]
  return [plain('Nobody did '), strong(eventWords(series.event, words)), plain(' in this time, as asked.')]
}

function cautionsOf({ line, question, result, words, few }: Subject): Finding[] {
  const cautions: Finding[] = []
  const measure = 'series' in line.of ? question.series[line.of.series].measure : null
  const open = result.buckets.at(-1)
  if (open?.open && result.buckets.length > 1 && !words.stopped)
    cautions.push([plain(`This ${question.every} is still open: drawn dashed, left out of the changes above.`)])
  if (few) cautions.push(fewWords(few, question.every))
  const cut = result.buckets.filter((bucket) => bucket.cut).length
  if (cut > 0)
    cautions.push([
      plain(
        `The time asked about cuts ${cut === 1 ? `one ${question.every}` : `two ${question.every}s`}: only the part inside is counted.`,
      ),
    ])
  const small = line.groups.filter((group) => group.totalPeople > 0 && group.totalPeople < SMALL)
  if (small.length > 0)
    cautions.push([
      plain(
        small.length === 1
          ? `${toldGroup(small[0].key!, question.breakdowns, words, result.rest)} has under 30 people: read it with care.`
          : `${small.length} groups have under 30 people: read them with care.`,
      ),
    ])
  if (result.overlap && measure !== null && MEASURES[measure].unit === 'people')
    cautions.push([
      plain(
        `A person can be in several groups: together they are ${formatNumber(line.all.totalPeople)} people, not the sum of the rows.`,
      ),
    ])
  return cautions
}

/** People of a line in its full buckets, where they are few; formulas have none of their own. */
export function fewOf(line: TrendLine, full: readonly number[], { every }: Pick<TrendQuestion, 'every'>): Few | null {
  if ('formula' in line.of || full.length === 0) return null
  return fewIn(
    full.map((bucket) => line.all.people[bucket]),
    every,
    units,
  )
}

/** What a line is called at the start of a sentence. */
function lineName(line: TrendLine, question: TrendQuestion, words: Words): string {
  const activity = 'series' in line.of && 'activity' in question.series[line.of.series].event
  return activity ? 'Activity' : lineWords(question, line.of, words)
}

/** A figure of the line with what it counts. */
function amount(value: number | null, { line, question, words }: Subject): string {
  if (value === null) return 'No value'
  if ('formula' in line.of) return formatAs(value, line.unit, words.currency)
  const series = question.series[line.of.series]
  switch (series.measure) {
    case 'people':
    case 'people so far':
      return countOf(value, 'person', 'people')
    case 'people in the last days':
      return `${countOf(value, 'person', 'people')} in ${series.days ?? DEFAULT_DAYS} days`
    case 'events':
      return countOf(value, 'time', 'times')
    case 'events per person':
      return `${countOf(value, 'time', 'times')} per person`
    case 'sessions':
      return countOf(value, 'session', 'sessions')
    case 'distinct values':
      return countOf(value, 'value', 'values')
    case 'share of active people':
      return `${formatPercent(value)} of the active people`
    case 'per person':
      return `${formatNumber(value)} ${ofWords(series, words)} per person`
    default:
      return `${/^[aeiou]/.test(measureWords(series)) ? 'an' : 'a'} ${measureWords(series)} of ${formatNumber(value)} ${ofWords(series, words)}`
  }
}

const ofWords = ({ of }: TrendQuestion['series'][number], words: Words) => (of ? propertyWords(of, words) : '')

function lastFull(subject: Subject): Finding {
  const { line, question, result, words, full, few } = subject
  const pair = comparedBuckets(result.buckets, question.every)
  const value = line.all.values[full.at(-1)!]
  const finding: Finding = [strong(capital(amount(value, subject))), plain(` in the last full ${question.every}`)]
  const before = pair && line.all.values[pair.first]
  if (!pair || value === null || !before) return [...finding, plain('.')]
  const change = value / before - 1
  if (Math.abs(change) < 0.0005)
    return [...finding, plain(`, as in ${bucketWords(result.buckets[pair.first].key, question.every, words)}.`)]
  const apart = pair.last - pair.first
  const ago = `${apart} ${question.every}${apart === 1 ? '' : 's'} before`
  // Of a handful of people a percentage says more than there is.
  if (few) return [...finding, plain(`, ${amount(before, subject)} ${ago}.`)]
  const usual = isUsualPair(subject)
  return [
    ...finding,
    plain(', '),
    strong(
      `${formatPercent(Math.abs(change))} ${change > 0 ? 'more' : 'less'}`,
      usual === false ? (change > 0 ? 'gain' : 'loss') : undefined,
    ),
    plain(` than ${ago}${usual ? ', within its usual ups and downs' : ''}.`),
  ]
}

/** Whether the last whole bucket and the one it stands beside differ as such pairs do; null where that cannot be told. */
function isUsualPair({ line, question, result }: Subject): boolean | null {
  const pair = comparedBuckets(result.buckets, question.every)
  if (!pair) return null
  const values = result.buckets
    .slice(0, pair.last + 1)
    .map(({ open, cut }, i) => (open || cut ? null : line.all.values[i]))
  return isUsualDifference(values, pair.last - pair.first, isCount(line))
}

/** The whole time against the time beside it, and which group explains most of the difference. */
function compared(subject: Subject, before: TrendRow): Finding[] {
  const { line, question, result, words } = subject
  const [now, then] = [line.all.total, before.total]
  if (now === null || then === null) return []
  const difference = now - then
  const finding: Finding = [
    strong(capital(amount(now, subject))),
    plain(` in the whole time, against ${formatAs(then, line.unit, words.currency)} in the time it is compared with`),
  ]
  if (then > 0 && difference !== 0)
    finding.push(plain(': '), strong(formatChange(now / then - 1), difference > 0 ? 'gain' : 'loss'))
  finding.push(plain('.'))
  const top = topContribution(line)
  if (!top || difference === 0) return [finding]
  return [
    finding,
    [
      strong(toldGroup(top.row.key!, question.breakdowns, words, result.rest)),
      plain(' changed most: '),
      strong(
        `${top.change > 0 ? '+' : '−'}${formatAs(Math.abs(top.change), line.unit, words.currency)}`,
        top.change > 0 ? 'gain' : 'loss',
      ),
      plain(
        Math.sign(top.change) === Math.sign(difference) && top.change / difference <= 1
          ? `, ${formatPercent(top.change / difference, 0)} of the whole change.`
          : `, where the whole changed by ${difference > 0 ? '+' : '−'}${formatAs(Math.abs(difference), line.unit, words.currency)}.`,
      ),
    ],
  ]
}

/** By days: the weekday that is highest against the one that is lowest, where they differ by more than noise. */
function weeklyRhythm({ line, question, result, words, full }: Subject): Finding | null {
  if (question.every !== 'day') return null
  const rhythm = weekRhythm(full.map((bucket) => ({ day: result.buckets[bucket].key, value: line.all.values[bucket] })))
  if (!rhythm) return null
  return rhythmFinding(rhythm, (x) => formatAs(x >= 20 ? Math.round(x) : x, line.unit, words.currency))
}

/** Whether the whole rises or falls steadily, where no single step explains it: by the Mann–Kendall test. */
function steadyDirection({ line, question, words, full }: Subject): Finding | null {
  const values = full.map((bucket) => line.all.values[bucket]).filter((value) => value !== null)
  const test = mannKendall(values)
  if (!test || test.p >= CLEAR) return null
  const third = Math.floor(values.length / 3)
  const [first, last] = [mean(values.slice(0, third))!, mean(values.slice(-third))!]
  if (!(first > 0) || Math.abs(last / first - 1) < LEAST_CHANGE || Math.sign(last - first) !== Math.sign(test.tau))
    return null
  const write = (x: number) => formatAs(x >= 20 ? Math.round(x) : x, line.unit, words.currency)
  return [
    strong(lineName(line, question, words)),
    plain(` ${last > first ? 'rises' : 'falls'} steadily: from `),
    strong(write(first)),
    plain(` a ${question.every} on average in the first third to `),
    strong(`${write(last)} (${formatChange(last / first - 1)})`, last > first ? 'gain' : 'loss'),
    plain(' in the last.'),
  ]
}

/** The point furthest outside of what the weeks before let expect, and how many there are. */
function mostUnusual({ line, question, result, words, full }: Subject): Finding | null {
  if (question.smooth || question.show.as !== 'number') return null
  const points = unusualPoints(line.all.values, result.buckets, question.every, isCount(line))
  const far = ({ value, low, high }: UnusualPoint) => (value > high ? value - high : low - value) / (high - low || 1)
  const [most] = points.toSorted((a, b) => far(b) - far(a))
  // One point in a hundred lies outside by chance: a sentence wants more, of as many as were looked at.
  if (!most || most.p * full.length >= CLEAR) return null
  const write = (x: number) => formatAs(x >= 20 ? Math.round(x) : x, line.unit, words.currency)
  const finding: Finding = [
    strong(bucketWords(result.buckets[most.bucket].key, question.every, words).replace(/^t/, 'T')),
    plain(' was unusual: '),
    strong(write(most.value), most.value > most.high ? 'gain' : 'loss'),
    plain(
      `, where the same ${question.every === 'day' ? 'weekdays of the' : ''} eight weeks before suggest ${write(most.low)} to ${write(most.high)}.`.replace(
        'same  eight',
        'eight',
      ),
    ),
  ]
  if (points.length > 1)
    finding.push(
      plain(points.length === 2 ? ' One more like it is marked.' : ` ${points.length - 1} more like it are marked.`),
    )
  const note = noteAt(most.bucket, { question, result, words })
  return note ? [...finding, note] : finding
}

/** The dated note of the very bucket in which something begins: it stands beside it, and is not called its cause. */
function noteAt(
  bucket: number,
  { question, result, words }: Pick<Subject, 'question' | 'result' | 'words'>,
): Piece | null {
  const notes = annotationsIn(result.buckets, words.annotations, question.show.notes)
  const near = notes.find((each) => each.bucket === bucket)
  if (!near) return null
  return plain(` Noted that ${question.every}: “${near.annotation.text}”.`)
}

interface Move extends Span {
  row: TrendRow
}

/** The clearest change among the rows; those of fewer than 30 people are not looked at. null when none is clear. */
function largestMove({ line, full }: Subject): Move | null {
  const rows = line.groups.length > 0 ? line.groups.filter((row) => row.key && !('rest' in row.key)) : [line.all]
  const looked = 'formula' in line.of ? rows : rows.filter((row) => row.totalPeople >= SMALL)
  const found = looked.flatMap((row): Move[] => {
    const values = full.map((bucket) => row.values[bucket] ?? 0)
    const span = clearestSpan(values, isCount(line), looked.length)
    return span ? [{ row, ...span }] : []
  })
  // Of several that are as sure, the one that makes out most of the change.
  const size = ({ inside, outside }: Move) => Math.abs(inside - outside)
  return found.sort((a, b) => a.p - b.p || size(b) - size(a))[0] ?? null
}

const isCount = ({ unit }: TrendLine) => unit === 'people' || unit === 'count'

function moveWords(move: Move, { line, question, result, words, full }: Subject): Finding {
  const name = move.row.key ? toldGroup(move.row.key, question.breakdowns, words) : lineName(line, question, words)
  const up = move.inside > move.outside
  const round = (x: number) => formatAs(x >= 20 ? Math.round(x) : x, line.unit, words.currency)
  const first = full[move.from]
  const note = noteAt(first, { question, result, words })
  const tail = note ? [note] : []
  if (move.until < full.length)
    return [
      strong(name),
      plain(` was ${up ? 'up' : 'down'} ${timeOf(first, full[move.until - 1], question, result, words)}, then back: `),
      strong(round(move.inside), up ? 'gain' : 'loss'),
      plain(` a ${question.every} on average, against ${round(move.outside)} before and after.`),
      ...tail,
    ]
  const relative = move.outside > 0 ? ` (${formatChange(move.inside / move.outside - 1)})` : ''
  return [
    strong(name),
    plain(`${line.groups.length > 1 ? ' moved most' : ' moved'}: from `),
    strong(round(move.outside)),
    plain(` a ${question.every} on average to `),
    strong(`${round(move.inside)}${relative}`, up ? 'gain' : 'loss'),
    plain(
      ` since ${bucketWords(result.buckets[first].key, question.every, words)}, more than its usual ups and downs.`,
    ),
    ...tail,
  ]
}

/** `from 21 Sep to 18 Oct`: the local days of buckets that are not the last one's. */
function timeOf(first: number, last: number, { every }: TrendQuestion, { buckets }: TrendResult, words: Words): string {
  if (every === 'hour')
    return `from ${bucketWords(buckets[first].key, every, words)} to ${bucketWords(buckets[last].key, every, words)}`
  const end = Temporal.PlainDate.from(buckets[last + 1].key).subtract({ days: 1 })
  const day = (date: string) => formatDay(date, words.thisYear)
  return `from ${day(buckets[first].key)} to ${day(end.toString())}`
}

function largestGroup(subject: Subject): Finding | null {
  const { line, question, words } = subject
  const groups = line.groups.filter((row) => row.key && !('rest' in row.key) && row.total !== null)
  const [first, second] = [...groups].sort((a, b) => b.total! - a.total!)
  if (!first || !second || line.all.total === null) return null
  const measure = 'series' in line.of ? question.series[line.of.series].measure : null
  if (measure === null || !MEASURES[measure].shares || line.all.total === 0) {
    const write = (x: number) => formatAs(x, line.unit, words.currency)
    // Nothing is said of a first that is no different from the second.
    if (write(first.total!) === write(second.total!)) return null
    return [
      strong(toldGroup(first.key!, question.breakdowns, words)),
      plain(' comes first with '),
      strong(amount(first.total, subject)),
      plain(`, against ${write(line.all.total)} for all.`),
    ]
  }
  const whole = { people: ' of the people.', events: ' of the events.', sessions: ' of the sessions.' } as Record<
    string,
    string
  >
  return [
    strong(toldGroup(first.key!, question.breakdowns, words)),
    plain(' is the largest group with '),
    strong(formatPercent(first.total! / line.all.total, 0)),
    plain(whole[measure] ?? ' of the whole.'),
  ]
}
