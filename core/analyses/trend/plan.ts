import { planCuts } from '../../sessions/cuts.js'
import type { PeriodPlan, ReachTable, SeriesPlan, TrendPlan } from './shape.js'
import { compileFilter, findProperty, type CompileContext } from '../../filters/compile.js'
import { parseFormula } from '../../formula/formula.js'
import { FIRST_MS, planGrouped, withFoundCuts, withKeptGroups, type FoundGroups } from '../../groups/grouped.js'
import type { Fault } from '../../questions/faults.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Bucket } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'
import { dayOf, spanOf, startOfDay, type Calendar, type Span } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { planTypes } from '../../filters/eventTypes.js'
import { figureOf, type SeriesPart } from './cells.js'
import { beforePeriod, type Period } from '../../time/comparison.js'
import { MEASURES, reachOf } from './measures.js'
import { DEFAULT_DAYS, handlesOf, type TrendQuestion, type TrendSeries } from './question.js'

/** Joins: sums over people, and lists. */
export type TrendPart =
  | (FoundGroups & { pass: 'cuts' })
  /** one cell a group, by the group's id */
  | { pass: 'rank'; ids: string[]; cells: SeriesPart }
  | { pass: 'count'; periods: { series: SeriesPart[]; active: Float64Array | null }[] }

export function planTrend(question: TrendQuestion, context: QueryContext, faults: Fault[]): TrendPlan {
  const compile: CompileContext = { ...context, faults }
  const { calendar, now, schema } = context
  const span = spanOf(question.range, now, calendar)
  const fits = (asked: Span, path: string): boolean => {
    const many = countBuckets(asked, question.every)
    if (many <= MOST_BUCKETS) return true
    faults.push({ path: [path], code: 'too_many_buckets', got: String(many), want: String(MOST_BUCKETS) })
    return false
  }
  const main: Period = { span, buckets: fits(span, 'every') ? bucketsOf(span, question.every, now, calendar) : [] }
  const before = question.compare && beforePeriod(question.range, question.compare, question.every, now, calendar)
  if (before) fits(before.span, 'compare')
  const series = question.series.map((each, index) => planSeries(each, index, question, compile))
  checkFormulas(question, faults)
  const periods = (before ? [main, before] : [main]).map((period) => planPeriod(period, question, calendar))
  const earliest = Math.min(...periods.flatMap(({ grid, reaches }) => [grid.from, ...reaches.map(earliestOf)]))
  const needsActive = question.series.some(({ measure }) => measure === 'share of active people')
  return {
    ...planGrouped(question.breakdowns, compile, earliest),
    ...{ series, periods, now, among: context.among },
    formulas: (question.formulas ?? []).map(({ formula }) => ({ uses: usesOf(formula, handlesOf(question)) })),
    active: needsActive ? Uint16Array.from(schema.types.flatMap(({ passive }, code) => (passive ? [] : [code]))) : null,
    sessions: planCuts(calendar.sessions, schema),
  }
}

function earliestOf(reach: ReachTable | null): number {
  return reach ? (reach.everBefore ? FIRST_MS : reach.origin) : Infinity
}

function planSeries(series: TrendSeries, index: number, { every }: TrendQuestion, compile: CompileContext): SeriesPlan {
  const { schema, faults } = compile
  const { measure } = series
  const { of } = MEASURES[measure]
  const path = ['series', index]
  let value: SeriesPlan['value'] = null
  if (of !== null && !series.of) faults.push({ path: [...path, 'of'], code: 'no_property', got: measure })
  else if (of !== null) {
    const found = findProperty(series.of!, compile, [...path, 'of'])
    if (found) value = { column: found.column, elements: found.dictionary.elements, codes: found.dictionary.size }
  }
  if (measure === 'people in the last days' && every === 'hour')
    faults.push({ path: [...path, 'measure'], code: 'not_by_hour', got: measure })
  return {
    types: planTypes(series.event, schema, faults, [...path, 'event']),
    test: compileFilter(series.where, compile, [...path, 'where']),
    ...{ measure, reach: reachOf(measure), value },
  }
}

/** Short names are each one's own, and formulas use them and nothing else. */
function checkFormulas(question: TrendQuestion, faults: Fault[]): void {
  const handles = handlesOf(question)
  handles.forEach((handle, index) => {
    if (handles.indexOf(handle) < index)
      faults.push({ path: ['series', index, 'name'], code: 'name_twice', got: handle })
  })
  question.formulas?.forEach(({ formula }, index) => {
    const read = parseFormula(formula, new Set(handles))
    if (!('fault' in read)) return
    const { at, length, message } = read.fault
    faults.push({
      ...{ path: ['formulas', index, 'formula'], code: 'bad_formula', got: formula.slice(at, at + length) },
      want: message,
    })
  })
}

function planPeriod({ span, buckets }: Period, question: TrendQuestion, calendar: Calendar): PeriodPlan {
  return {
    grid: gridOf(span, buckets),
    buckets,
    reaches: question.series.map(({ measure, days }) => {
      const reach = reachOf(measure)
      if (reach === 'window') return windowTable(span, buckets, days ?? DEFAULT_DAYS, calendar)
      return reach === 'ever' ? everTable(span, buckets) : null
    }),
  }
}

/** Local days that end with the bucket's last one, or the range's where that comes first. */
function windowTable(span: Span, buckets: readonly Bucket[], days: number, { zone }: Calendar): ReachTable {
  const windowOf = (end: number): { from: number; until: number } => {
    const last = dayOf(Math.min(end, span.until) - 1, zone)
    return { from: startOfDay(last.subtract({ days: days - 1 }), zone), until: startOfDay(last.add({ days: 1 }), zone) }
  }
  const windows = buckets.map(({ end }) => windowOf(end))
  const whole = windowOf(span.until)
  const origin = Math.min(windows[0]?.from ?? span.from, whole.from)
  const quarters = Math.max(0, Math.ceil((span.until - origin) / QUARTER))
  const first = new Uint16Array(quarters)
  const last = new Int32Array(quarters)
  let [from, to] = [0, -1]
  for (let quarter = 0; quarter < quarters; quarter++) {
    const at = origin + quarter * QUARTER
    while (from < windows.length && windows[from].until <= at) from++
    while (to + 1 < windows.length && windows[to + 1].from <= at) to++
    first[quarter] = from
    last[quarter] = to
  }
  return { origin, first, last, everBefore: false, wholeFrom: whole.from }
}

/** An event counts in the first bucket that ends after it, and in all later ones. */
function everTable(span: Span, buckets: readonly Bucket[]): ReachTable {
  const { origin, bucketOfQuarter } = gridOf(span, buckets)
  const last = new Int32Array(bucketOfQuarter.length).fill(buckets.length - 1)
  return { origin, first: bucketOfQuarter, last, everBefore: true, wholeFrom: -Infinity }
}

/** Which series a formula uses, by their places. */
function usesOf(formula: string, handles: readonly string[]): number[] {
  const read = parseFormula(formula, new Set(handles))
  return 'fault' in read ? [] : read.names.map((name) => handles.indexOf(name))
}

/** After the passes for cuts and ranks: the plan of the next one. */
export function nextTrend(
  part: TrendPart,
  plan: TrendPlan,
  question: TrendQuestion,
  context: QueryContext,
): TrendPlan | null {
  const splits = question.breakdowns ?? []
  if (part.pass === 'count' || !plan.split) return null
  if (part.pass === 'cuts') return { ...plan, ...withFoundCuts(part.counts, plan, splits) }
  const figure = figureOf(part.cells, plan.series[0], 1, null)
  const found = part.ids.flatMap((id, group) => (part.cells.events[group] > 0 ? [{ id, rank: figure(group, 0) }] : []))
  return { ...plan, ...withKeptGroups(found, plan, splits, context) }
}
