import { POSITION } from '../../../core/sessions/depth.js'
import type { SplitRef } from '../../../core/questions/split.js'
import { depthOf } from '../sessions/depth.js'
import { isClock } from '../../../core/questions/groupedBy.js'
import { usualFunnel } from '../../../core/analyses/funnel/question.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import { fewOf } from '../../../core/analyses/trend/findings.js'
import type { Range, Unit } from '../../../core/time/range.js'
import { usualPaths } from '../../../core/analyses/paths/question.js'
import { pickOf } from '../../../core/questions/pickOf.js'
import { usualTrend, type TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { lineWords } from '../../../core/analyses/trend/sentence.js'
import { shownAll, shownLines, visibleLines } from '../../../core/analyses/trend/shown.js'
import type { Catalog, EventEntry } from '../../../server/engine/catalog.js'
import { eventWords, groupWords, propertyWords, splitHead, toldGroup, type Words } from '../../../core/words/words.js'
import { dayIn } from '../../catalog/days.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import { commonEvents, withAmong } from '../../study/common.js'
import type { Cell, Leads, Look } from '../leads.js'

export const leads: Leads<TrendQuestion, TrendResult> = {
  start: ([first]) => usualTrend(first?.name ?? '…'),
  home: (events) => trends(events),
  table: trendTable,
  next: (question, result, { catalog, words, zone }) =>
    elsewhen(question, result, catalog, zone) ?? afterTrend(question, result, catalog, words),
}

/** Where nobody did it in the time asked about: the time in which somebody did. */
function elsewhen(question: TrendQuestion, result: TrendResult, catalog: Catalog, zone: string): Look[] | null {
  const [{ event }] = question.series
  if (!('names' in event) || result.lines.some(({ all }) => all.totalPeople > 0)) return null
  const seen = catalog.events.filter(({ name, firstMs }) => event.names.includes(name) && firstMs !== null)
  if (seen.length === 0) return null
  const first = dayIn(Math.min(...seen.map(({ firstMs }) => firstMs!)), zone)
  const last = dayIn(Math.max(...seen.map(({ lastMs }) => lastMs!)), zone)
  const days = (Date.parse(last) - Date.parse(first)) / 86_400_000
  const every = days <= 45 ? 'day' : days <= 400 ? 'week' : 'month'
  return [{ label: 'When did anybody do it?', question: { ...question, every, range: { from: first, to: last } } }]
}

function afterTrend(question: TrendQuestion, result: TrendResult, catalog: Catalog, words: Words): Look[] {
  const [series] = question.series
  const looks: Look[] = []
  const full = result.buckets.filter((bucket) => !bucket.open && !bucket.cut)
  // The hours of the week are when, not who: nobody asks what else Monday did.
  const timely = question.breakdowns?.some(({ by }) => isClock(by)) ?? false
  const top = timely ? undefined : result.lines[0].groups.find((group) => group.key && !('rest' in group.key))
  const whole = result.buckets.flatMap((bucket, index) => (bucket.open || bucket.cut ? [] : [index]))
  const few = fewOf(result.lines[0], whole, question)
  if (few?.unit)
    looks.push({
      label: `How does it go ${few.unit} by ${few.unit}?`,
      question: { ...question, every: few.unit, range: longer(question.range, few.unit) },
    })
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property)
    looks.push({
      label: `Is it the same for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 10 }] },
    })
  const where = question.breakdowns?.find(({ by }) => isPosition(by))
  if (where && 'names' in series.event) {
    const { event, where: filter } = series
    const pick = { event, ...(filter ? { where: filter } : {}) }
    looks.push(
      ...depthOf(pick, eventWords(event, words), { range: question.range, ...withAmong(question) }).slice(1, 4),
    )
  }
  if (top?.key && full.length > 1) {
    const last = full[full.length - 1]
    looks.push({
      label: `What else did people of ${toldGroup(top.key, question.breakdowns, words)} do?`,
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'events per person' }],
        every: question.every,
        range: question.range,
        among: { study: question, marks: [{ kind: 'point', bucket: last.key, group: top.key }] },
      },
    })
  }
  if (!few && question.every !== 'day' && question.every !== 'hour')
    looks.push({
      label: 'How does it go day by day?',
      question: { ...question, every: 'day', range: { last: 28, unit: 'day' } },
    })
  if (question.series.length === 1 && 'names' in series.event)
    looks.push({
      label: `What brings people to ${eventWords(series.event, words)}?`,
      question: {
        ...usualPaths('…'),
        start: pickOf(series),
        backward: true,
        range: question.range,
        ...withAmong(question),
      },
    })
  if (question.series.length === 1 && !question.formulas && series.measure !== 'events per person')
    looks.push({
      label: 'How often does each person do it?',
      question: { ...question, series: [plainSeries(series, 'events per person')] },
    })
  const before = commonEvents(catalog).find(
    (event) => !isOf(event.name, series.event) && event.recent > countOf(catalog, series.event),
  )
  if (before && 'names' in series.event)
    looks.push({
      label: `How many get here from ${before.name}?`,
      question: {
        ...usualFunnel(before.name),
        range: question.range,
        steps: [
          { event: { names: [before.name] } },
          { event: series.event, ...(series.where ? { where: series.where } : {}) },
        ],
      },
    })
  return looks.slice(0, 4)
}

/** Whether groups are made by the place in a session. */
const isPosition = (by: SplitRef) => by.of === 'event' && by.name === POSITION.name

/** A time of the last units, in longer ones: as many of them. */
const longer = (range: Range, unit: Unit): Range => ('last' in range ? { last: range.last, unit } : range)

function plainSeries({ event, where }: TrendQuestion['series'][number], measure: 'events per person') {
  return { event, ...(where ? { where } : {}), measure }
}

function isOf(name: string, event: TrendQuestion['series'][number]['event']): boolean {
  return 'activity' in event || event.names.includes(name)
}

function countOf(catalog: Catalog, event: TrendQuestion['series'][number]['event']): number {
  return catalog.events.filter(({ name }) => isOf(name, event)).reduce((sum, { recent }) => sum + recent, 0)
}

function trends([first]: EventEntry[]): Look[] {
  return [
    ...(first ? [{ label: `People who did ${first.label} each week`, question: usualTrend(first.name) }] : []),
    {
      label: 'Active people each month',
      question: {
        ...usualTrend('…'),
        series: [{ event: { activity: true }, measure: 'people' }],
        every: 'month',
        range: { last: 12, unit: 'month' },
      },
    },
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
