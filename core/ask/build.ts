import { UNIT_DAYS, type Range } from '../time/range.js'
import type { CrosstabQuestion } from '../analyses/crosstab/question.js'
import { usualFunnel } from '../analyses/funnel/question.js'
import type { Question } from '../analyses/registry.js'
import { MEASURES, type TrendMeasure } from '../analyses/trend/measures.js'
import { usualTrend, type TrendQuestion, type TrendSeries } from '../analyses/trend/question.js'
import type { Condition, EventPick, Filter, PropertyRef } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import type { Unit } from '../time/range.js'
import { buildAttribution } from './buildAttribution.js'
import { buildComing } from './buildComing.js'
import { buildSessions } from './kinds/sessions.js'
import { buildLikelihood } from './buildLikelihood.js'
import { buildTipping } from './buildTipping.js'
import { buildPaths } from './buildPaths.js'
import type { EventChoices } from './choices.js'
import type { Properties } from './named.js'
import { Temporal } from 'temporal-polyfill'
import { valuesApart } from './askPeople.js'
import type { KnownEvent, KnownProperty } from './vocabulary.js'
import { SORTS } from './sorts.js'
import type { Said } from './said.js'
import type { AskReading } from './understood.js'

/** Kinds of study about coming back. */
const COMING: ReadonlySet<Question['kind']> = new Set(['retention', 'habit', 'growth', 'gaps'])

type Placed = { from: number; condition: Condition }[]

/**
 * @param usualBy what touches are told apart by where nothing was said
 * @param begins the event that people begin with, where nothing was said
 */
export function build(
  said: Said,
  choice: EventChoices,
  { of: measured, splits: named, properties }: Properties & { properties: readonly KnownProperty[] },
  where: Placed,
  usualBy: PropertyRef = { of: 'source' },
  begins: () => string = () => '…',
  usualSteps: () => Pick<EventChoices, 'events' | 'spans'> = () => ({ events: [], spans: [] }),
): Question | null {
  const { events, spans } = choice
  const splits = comparedBy(said, named, where)
  const joints = spans.map(({ joint }) => joint)
  if (said.kind !== null && (COMING.has(said.kind) || said.kind === 'paths')) {
    const groups = groupsOf(said, splits)
    if (said.kind === 'gaps' && events.length > 1) return buildFunnel({ ...said, shown: 'time' }, choice, splits, where)
    // Who comes back, of nothing in particular, is asked from where people begin.
    const picks = picksOf(events.length > 0 ? events : [null], spans, where)
    if (events.length === 0 && said.kind === 'retention')
      return buildComing(
        { ...said, first: true },
        [{ ...picks[0]!, event: { names: [begins()] } }, { event: { activity: true } }],
        groups,
      )
    return said.kind === 'paths' ? buildPaths(said, picks, groups) : buildComing(said, picks, groups)
  }
  if (said.kind === 'tipping') {
    const picks = picksOf(events, spans, where)
    return buildTipping(said, picks, begins())
  }
  if (said.ofChance) return buildLikelihood(said.ofChance, picksOf(events, spans, where))
  if (said.ofCredit) {
    const picks = picksOf(events, spans, where)
    return buildAttribution(said, said.ofCredit, picks, groupsOf(said, splits), usualBy)
  }
  const visits =
    said.ofSessions ?? (events.length === 0 && said.measure === 'sessions' ? { measure: said.measure } : null)
  if (visits) {
    // Without an event a condition on people says whose sessions are meant.
    const alone = events.length === 0 && where.every(({ condition }) => condition.property.of === 'person')
    const picks = picksOf(events.length > 0 || alone ? events : [null], spans, alone ? [] : where)
    const people = alone ? joined(where.map(({ condition }) => condition)) : []
    const every = said.every ?? (said.range ? usualUnit(said.range) : null)
    return buildSessions({ ...said, every }, visits, picks, people, groupsOf(said, splits))
  }
  const funnel =
    said.kind === 'funnel' ||
    ((said.turned || said.shareOf === 'people') && events.length > 1) ||
    (said.kind === null && events.length > 1 && joints.slice(1).every((joint) => joint === 'then'))
  if (funnel && (events.length > 0 || said.kind === 'funnel'))
    return buildFunnel(said, events.length > 0 ? choice : { ...choice, ...usualSteps() }, splits, where)
  if (said.ratio) return activeShare(said, said.ratio, groupsOf(said, splits))
  const range = said.why && said.range ? around(said.range, said.today) : (said.range ?? usualRange(said.every))
  const every = said.every ?? (said.figure ? 'day' : said.why ? 'week' : usualUnit(range))
  const of = measured ?? sortOf(said, events, properties)
  const measure = measureOf(said, choice, of !== null)
  const conditions = conditionsBy(spans, where)
  const series = (events.length > 0 ? events : [null]).map((event, index): TrendSeries => {
    const filter = filterOf(conditions[index] ?? [])
    return {
      event: event ? { names: event.together ? [...event.together] : [event.name] } : { activity: true },
      ...(filter ? { where: filter } : {}),
      ...{ measure, ...(of && MEASURES[measure].of !== null ? { of: of.property } : {}) },
      ...(said.days !== null && measure === 'people in the last days' && said.days !== 28 ? { days: said.days } : {}),
    }
  })
  const groups = groupsOf(said, splits)
  if (said.kind === 'crosstab' && groups.length > 0) {
    const rows = groups.length > 1 ? groups.slice(0, -1) : groups
    const column = groups.length > 1 && series.length === 1 ? groups.at(-1) : undefined
    const laid = { rows, ...(column ? { column } : {}) }
    return {
      ...{ kind: 'crosstab', series, every, range },
      ...laid,
      show: { cells: 'bars', beside: 'trend' },
    } satisfies CrosstabQuestion
  }
  const share = said.shareOf === 'events' && series.length === 1 && series[0]!.where !== undefined
  if (share) return shareOfEvents(said, series[0]!, every, range, groups, where)
  const ratio = events.length === 2 && joints[1] === 'over'
  const question: TrendQuestion = {
    ...{ kind: 'trend', series: ratio ? series.map((each) => ({ ...each, hidden: true as const })) : series },
    ...(ratio ? { formulas: [{ formula: 'a / b', unit: 'number' as const }] } : {}),
    ...{ every, range },
    ...(groups.length > 0 ? { breakdowns: groups } : {}),
    ...besides(said),
    // A running total of people would count them anew in each bucket: they are counted so far instead.
    show: {
      form:
        said.form ??
        (said.figure ? 'figure' : said.ranked || (said.keep !== null && groups.length === 1) ? 'ranked' : 'lines'),
      as:
        measure === 'people so far' ? 'number' : (said.as ?? (said.shareOf && groups.length > 0 ? 'share' : 'number')),
    },
  }
  return question
}

/** Events with the conditions that were said of each; null = anything. */
function picksOf(
  events: readonly (EventChoices['events'][number] | null)[],
  spans: EventChoices['spans'],
  where: Placed,
): EventPick[] {
  const filters = conditionsBy(spans, where)
  return events.map((event, index): EventPick => {
    const filter = filterOf(filters[index] ?? [])
    const names = event && (event.together ? [...event.together] : [event.name])
    return { event: names ? { names } : { activity: true }, ...(filter ? { where: filter } : {}) }
  })
}

/** How many groups are kept is the first one's choice. */
function groupsOf(said: Said, splits: Properties['splits']): Split[] {
  return splits.map(({ by }, index) => ({ by, keep: index === 0 ? (said.keep ?? 10) : 10 }))
}

function measureOf(said: Said, { events, plural }: EventChoices, measured: boolean): TrendMeasure {
  const total = said.as === 'running total'
  if (said.sort !== null && !measured) return 'events'
  if (said.perPerson) {
    if (!measured && (said.measure ?? 'events') === 'events') return 'events per person'
    if (measured && ['sum', 'average'].includes(said.measure ?? 'sum')) return 'per person'
  }
  if (said.measure !== null) return total && said.measure === 'people' ? 'people so far' : said.measure
  if (measured) return total ? 'sum' : 'median'
  if (said.any || events.length === 0) return total ? 'people so far' : 'people'
  return plural || total ? 'events' : 'people'
}

function buildFunnel(
  said: Said,
  { events, spans }: EventChoices,
  splits: Properties['splits'],
  where: Placed,
): Question {
  const picks = picksOf(events, spans, where)
  // "a ride within a day of signing up, by month of sign-up" names one event twice.
  const once =
    said.byStart || said.turned
      ? picks.filter(
          (pick, index) => picks.findIndex((each) => JSON.stringify(each) === JSON.stringify(pick)) === index,
        )
      : picks
  const steps = said.turned && once.length > 1 ? [once.at(-1)!, ...once.slice(0, -1)] : once
  const groups = groupsOf(said, splits)
  return {
    ...usualFunnel(events[0]?.name ?? '…'),
    steps,
    ...funnelShow(said),
    ...(said.window ? { window: said.window } : {}),
    ...(said.range ? { range: said.range } : {}),
    ...(groups.length > 0 ? { breakdowns: groups } : {}),
  }
}

/** A condition on a person goes with every event; one on an event with the event it stands beside. */
function conditionsBy(spans: EventChoices['spans'], where: Placed): Condition[][] {
  const conditions = spans.map((): Condition[] => [])
  if (spans.length === 0) return [where.map(({ condition }) => condition)]
  for (const { from, condition } of where) {
    if (condition.property.of === 'person') {
      for (const each of conditions) each.push(condition)
      continue
    }
    const nearest = spans.reduce((best, span, index) => {
      const far = (place: number) => Math.min(Math.abs(spans[place]!.from - from), Math.abs(spans[place]!.to - from))
      return far(index) < far(best) ? index : best
    }, 0)
    conditions[nearest]!.push(condition)
  }
  return conditions
}

/** Several values of one property are any of them; other conditions must all hold. */
function filterOf(conditions: readonly Condition[]): Filter | null {
  const all = joined(conditions)
  return all.length > 1 ? { all } : (all[0] ?? null)
}

function joined(conditions: readonly Condition[]): Condition[] {
  const found: Condition[] = []
  for (const condition of conditions) {
    const same = found.findIndex(
      (each) =>
        'values' in each &&
        'values' in condition &&
        each.op === condition.op &&
        JSON.stringify(each.property) === JSON.stringify(condition.property),
    )
    const had = found[same]
    if (had && 'values' in had && 'values' in condition)
      found[same] = { ...had, values: [...new Set([...had.values, ...condition.values])] }
    else found.push(condition)
  }
  return found
}

/** How a funnel is drawn: as it was asked for, or over time where a unit was named. */
function funnelShow({ shown, every }: Said): object {
  if (shown) return { show: { form: shown } }
  return every ? { show: { form: 'over time', every } } : {}
}

/** Values that stand side by side make groups of their property: "students and commuters", "iOS than Android". */
function comparedBy({ compares, shareOf }: Said, splits: Properties['splits'], where: Placed): Properties['splits'] {
  if (!compares || shareOf !== null) return splits
  const apart = valuesApart(where.map(({ condition }) => condition))
  const property = apart?.[0]?.[0]?.property
  if (!property || splits.some(({ by }) => JSON.stringify(by) === JSON.stringify(property))) return splits
  return [{ by: property, words: '', from: -1, options: [] }, ...splits]
}

/** What is measured where only its sort was said: the number of that sort that the events carry. */
function sortOf(
  { sort }: Said,
  events: readonly KnownEvent[],
  properties: readonly KnownProperty[],
): KnownProperty | null {
  if (sort === null) return null
  const carried = properties.filter(
    ({ property, kind, shy }) =>
      property.of === 'event' &&
      !shy &&
      kind === 'number' &&
      SORTS[sort].test(property.name) &&
      events.every((event) => event.properties.includes(property.name)),
  )
  return carried.find(({ property }) => property.of === 'event' && !/session/.test(property.name)) ?? null
}

/** What is said of a curve, whatever it is of. */
const besides = ({ compare, smooth }: Said) => ({
  ...(compare ? { compare } : {}),
  ...(smooth === null ? {} : { smooth }),
})

/** People active in some days over those in more, as a share. */
function activeShare(said: Said, { days, ofDays }: NonNullable<Said['ratio']>, groups: Split[]): TrendQuestion {
  const range = said.range ?? usualRange(said.every)
  const active = (many: number): TrendSeries => ({
    ...{ event: { activity: true }, hidden: true },
    ...(many === 1
      ? { measure: 'people' }
      : { measure: 'people in the last days', ...(many === 28 ? {} : { days: many }) }),
  })
  return {
    ...{
      kind: 'trend',
      series: [active(days), active(ofDays)],
      formulas: [{ formula: 'a / b', unit: 'percent' as const }],
    },
    ...{ every: said.every ?? 'day', range },
    ...(groups.length > 0 ? { breakdowns: groups } : {}),
    ...besides(said),
    show: { form: 'lines', as: 'number' },
  }
}

/** What part of what happened fulfils the conditions on it; conditions on people hold for both. */
function shareOfEvents(
  said: Said,
  series: TrendSeries,
  every: Unit,
  range: Range,
  groups: Split[],
  where: Placed,
): TrendQuestion {
  const people = filterOf(where.map(({ condition }) => condition).filter(({ property }) => property.of === 'person'))
  const { where: _where, ...all } = series
  const measure = said.measure === null ? ('events' as const) : series.measure
  return {
    kind: 'trend',
    series: [
      { ...series, measure, hidden: true },
      { ...all, measure, hidden: true, ...(people ? { where: people } : {}) },
    ],
    formulas: [{ formula: 'a / b', unit: 'percent' }],
    ...{ every, range },
    ...(groups.length > 0 ? { breakdowns: groups } : {}),
    ...besides(said),
    show: { form: 'lines', as: 'number' },
  }
}

/** A time with some weeks before it, to see what it was like, and after it, as far as it has come. */
function around(range: Range, today: string): Range {
  if ('last' in range) return range
  const from = Temporal.PlainDate.from(range.from).subtract({ weeks: 6 }).toString()
  const after = Temporal.PlainDate.from(range.to ?? today)
    .add({ weeks: 4 })
    .toString()
  return { from, to: after < today ? after : today }
}

function usualRange(every: Unit | null): Range {
  switch (every) {
    case 'hour':
      return { last: 7, unit: 'day' }
    case 'day':
      return { last: 30, unit: 'day' }
    case 'month':
    case 'quarter':
      return { last: 12, unit: 'month' }
    case 'year':
      return { last: 5, unit: 'year' }
    default:
      return usualTrend('').range
  }
}

/** A unit that gives some ten to sixty points. */
function usualUnit(range: Range): Unit {
  const days =
    'last' in range
      ? range.last * UNIT_DAYS[range.unit]
      : range.to
        ? (Date.parse(range.to) - Date.parse(range.from)) / 86_400_000 + 1
        : 120
  return days <= 2 ? 'hour' : days <= 45 ? 'day' : days <= 400 ? 'week' : days <= 2200 ? 'month' : 'year'
}

/** The same question by times where it asks for people, and the other way round. */
export function otherMeasure(reading: AskReading): AskReading | null {
  const { question } = reading
  if (question?.kind !== 'trend' || question.series.length > 1) return null
  const [series] = question.series
  const other = series!.measure === 'people' ? 'events' : series!.measure === 'events' ? 'people' : null
  return other && { ...reading, rule: undefined, question: { ...question, series: [{ ...series!, measure: other }] } }
}
