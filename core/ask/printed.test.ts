import { readsEvent } from '../questions/groupedBy.js'
import { isClock } from '../questions/groupedBy.js'
import { windowUnits } from '../questions/vocabulary.js'
import { asQuestion } from '../analyses/asQuestion.js'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { printedOf } from '../analyses/inWords.js'
import type { Question, Mark } from '../analyses/registry.js'
import { MEASURES, trendMeasures } from '../analyses/trend/measures.js'
import { countedSeries, type CrosstabQuestion } from '../analyses/crosstab/question.js'
import { formulaUnits, handleOf, type TrendSeries } from '../analyses/trend/question.js'
import { entryOperators, type FunnelQuestion, type FunnelShow, type FunnelStep } from '../analyses/funnel/question.js'
import type { Condition, Filter, PropertyRef } from '../questions/parts.js'
import type { PathsQuestion } from '../analyses/paths/question.js'
import type { GapsQuestion } from '../analyses/gaps/question.js'
import {
  attributionUnits,
  modelId,
  plainModels,
  type AttributionQuestion,
  type Model,
} from '../analyses/attribution/question.js'
import type { LikelihoodQuestion } from '../analyses/likelihood/question.js'
import { effectSteps } from '../analyses/effect/marks.js'
import type { EffectQuestion } from '../analyses/effect/question.js'
import type { Outcome, TippingQuestion } from '../analyses/tipping/question.js'
import { sessionMeasures, sessionUnits, type SessionsQuestion } from '../analyses/sessions/question.js'
import { growthStates, type GrowthQuestion } from '../analyses/growth/question.js'
import { habitPeriods, type HabitQuestion } from '../analyses/habit/question.js'
import { retentionUnits, type RetentionQuestion } from '../analyses/retention/question.js'
import type { Side, Split } from '../questions/split.js'
import { comparisons, timesAsked, type Rule } from '../segments/rule.js'
import { units, type Unit } from '../time/range.js'
import { distinctLabels } from '../words/labels.js'
import { eventWords, propertyWords } from '../words/words.js'
import { readPrinted } from './printed.js'
import type { Vocabulary } from './vocabulary.js'

const EVENTS = ['Ride', 'Ride completed', 'Pass bought', 'to be, or not', 'Signed up where', 'a', 'ride', 'Is it in?']
const PROPERTIES: PropertyRef[] = [
  ...['plan', 'bike_type', 'bikeType', 'minutes', 'to and from', 'is'].map((name) => ({ of: 'event' as const, name })),
  ...['plan', 'Home district', 'for each'].map((name) => ({ of: 'person' as const, name })),
  { of: 'source' },
]
const labels = distinctLabels(
  EVENTS.map((name) => ({ name, display: name === 'Pass bought' ? 'Ride bought' : '' })),
  PROPERTIES.flatMap((each) => (each.of === 'source' ? [] : [{ ...each, display: '' }])),
)
const SEGMENTS = { s1: 'Regulars', s2: 'In and “out”', s3: 'not in Regulars' }
const none = { description: '', synonyms: [], shy: false }
const vocabulary: Vocabulary = {
  ...{ thisYear: 2026, today: '2026-11-22' },
  segments: Object.entries(SEGMENTS).map(([id, words]) => ({ id, words })),
  events: EVENTS.map((name) => ({
    ...none,
    name,
    words: eventWords({ names: [name] }, { labels }),
    recent: 1,
    properties: [],
  })),
  properties: PROPERTIES.map((property) => ({
    ...{ ...none, property, kind: 'text' as const, values: [] },
    words: propertyWords(property, { labels }),
  })),
}
const words = { thisYear: 2026, labels, segments: SEGMENTS }

const property = fc.constantFrom(...PROPERTIES)
const nasty = fc.oneof(
  fc.constantFrom(
    'Annual',
    'Day pass',
    'A, B',
    'x or y',
    '5',
    '5.3.0',
    'yes',
    'no value',
    '',
    ' ',
    '“q”',
    'a "b"',
    'Ä ö',
  ),
  fc.constantFrom('each', 'only', '?', 'Monday', '08:00', 'under 5', 'back\\slash', 'it’s', 'C&A', '1 and more', '\n'),
  fc.string({ maxLength: 12 }),
)
const number = fc.oneof(
  fc.integer({ min: -99_999, max: 9_999_999 }),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map((x) => (x === 0 ? 0 : x)),
)
const day = fc
  .date({ min: new Date('2024-01-01T00:00:00Z'), max: new Date('2026-12-31T00:00:00Z'), noInvalidDate: true })
  .map((date) => date.toISOString().slice(0, 10))
const days = fc.tuple(day, day).map(([a, b]): [string, string] => (a < b ? [a, b] : [b, a]))
const count = fc.integer({ min: 1, max: 50 })
const unit = fc.constantFrom(...units)
const range = fc.oneof(
  fc.record({ last: count, unit }),
  day.map((from) => ({ from })),
  days.map(([from, to]) => ({ from, to })),
  fc.constant({ from: '2026-02-01', to: '2026-02-28' }),
)
const optional = <T, K extends string>(key: K, value: fc.Arbitrary<T>) =>
  fc.option(value, { nil: undefined }).map((x) => (x === undefined ? {} : { [key]: x }) as { [P in K]?: T })
const both = <A, B>(a: fc.Arbitrary<A>, b: fc.Arbitrary<B>) => fc.tuple(a, b).map(([x, y]) => ({ ...x, ...y }))

const condition: fc.Arbitrary<Filter> = fc.oneof(
  both(
    fc.record({
      property,
      op: fc.constantFrom('is', 'is not'),
      values: fc.array(nasty, { minLength: 1, maxLength: 5 }),
    }),
    optional('ignoreCase', fc.constant(true as const)),
  ),
  both(
    fc.record({ property, op: fc.constantFrom('contains', 'starts with', 'ends with', 'matches'), text: nasty }),
    optional('ignoreCase', fc.constant(true as const)),
  ),
  fc.record({ property, op: fc.constantFrom('=', '≠', '<', '≤', '>', '≥'), number }),
  fc.record({ property, op: fc.constant('between'), numbers: fc.tuple(number, number) }),
  fc.record({ property, op: fc.constantFrom('before', 'after'), day }),
  fc.record({ property, op: fc.constant('between days'), days }),
  fc.record({ property, op: fc.constant('in the last'), last: count, unit }),
  fc.record({ property, op: fc.constantFrom('has a value', 'has no value', 'is true', 'is false') }),
) as fc.Arbitrary<Filter>
const filter: fc.Arbitrary<Filter> = fc.letrec<{ tree: Filter }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    condition,
    fc.record({ all: fc.array(tie('tree'), { minLength: 2, maxLength: 3 }) }),
    fc.record({ any: fc.array(tie('tree'), { minLength: 2, maxLength: 3 }) }),
  ),
})).tree

const event = fc.oneof(
  fc.uniqueArray(fc.constantFrom(...EVENTS), { minLength: 1, maxLength: 3 }).map((names) => ({ names })),
  fc.constant({ activity: true as const }),
)
const picked = both(fc.record({ event }), optional('where', filter))
const series: fc.Arbitrary<TrendSeries> = fc
  .tuple(picked, fc.constantFrom(...trendMeasures), property, fc.integer({ min: 1, max: 366 }))
  .map(([pick, measure, of, many]) => ({
    ...{ ...pick, measure },
    ...(MEASURES[measure].of === null ? {} : { of }),
    ...(measure === 'people in the last days' && many !== 28 ? { days: many } : {}),
  }))
const yes = fc.constant(true as const)
const segment = fc.constantFrom('s1', 's2', 's3')
const compared = fc.oneof(
  fc.record({ op: fc.constantFrom(...comparisons), number }),
  fc.record({ op: fc.constant('between' as const), numbers: fc.tuple(number, number) }),
)
const counted = fc.oneof(
  fc.record({ measure: fc.constantFrom('times', 'days', 'weeks'), test: compared }),
  fc.record({
    measure: fc.constantFrom('values', 'sum', 'average', 'maximum', 'minimum'),
    ...{ property, test: compared },
  }),
)
const span = fc.oneof(
  fc.record({ last: count }),
  fc.tuple(count, count).map((before) => ({ before })),
  days.map(([from, to]) => ({ from, to })),
  fc.record({ after: fc.oneof(fc.constant('first seen'), picked), days: count }),
)
/** A rule's conditions, but for those that hold studies. */
const ruleCondition = fc.oneof(
  condition.filter((each) => (each as Condition).property.of === 'person').map((where) => ({ kind: 'profile', where })),
  fc
    .tuple(picked, fc.option(counted, { nil: undefined }), optional('window', span), fc.boolean())
    .map(([pick, test, window, not]) => ({
      ...{ kind: 'did', ...pick, ...window },
      ...(not ? { not: true } : test ? { count: test } : {}),
    })),
  both(
    fc.record({
      kind: fc.constant('sequence'),
      steps: fc.array(picked, { minLength: 2, maxLength: 3 }),
      within: fc.record({ count, unit: fc.constantFrom(...windowUnits) }),
    }),
    optional('not', yes),
  ),
  fc
    .tuple(
      fc.constantFrom(...timesAsked),
      picked,
      fc.oneof(
        day.map((on) => ({ before: on })),
        day.map((on) => ({ after: on })),
        fc.record({ last: count, unit }),
      ),
    )
    .map(([asked, pick, when]) => ({ kind: 'time', asked, ...(asked.endsWith('time') ? pick : {}), when })),
  fc
    .tuple(segment, optional('since', day), optional('not', yes))
    .map(([id, ...more]) => ({ kind: 'segment', segment: id, ...Object.assign({}, ...more) })),
) as fc.Arbitrary<Rule>
const rule = fc.letrec<{ tree: Rule }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    ruleCondition,
    fc.record({
      hold: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      of: fc.array(tie('tree'), { minLength: 1, maxLength: 3 }),
    }),
  ),
})).tree
const side: fc.Arbitrary<Side> = fc.oneof(
  both(fc.record({ segment }), optional('not', yes)),
  fc.constant({ everybody: true as const }),
  fc.record({ name: fc.constantFrom('Own', 'a “b” c'), rule }),
)
const segmentsBeside = fc
  .array(side, { minLength: 1, maxLength: 4 })
  .map((sides): Split => ({ by: { of: 'segments', sides }, keep: 10 }))

const key = fc.oneof(
  fc.record({ side: fc.integer({ min: 0, max: 5 }), name: nasty }),
  fc.oneof(nasty, number, fc.boolean(), fc.constant(null)).map((value) => ({ value })),
  fc.constantFrom({ weekday: 3 }, { hour: 7 }),
  number.map((x) => ({ range: [null, x] as [null, number] })),
  number.map((x) => ({ range: [x, null] as [number, null] })),
  fc.tuple(number, number).map((pair) => ({ range: pair })),
  fc.tuple(number, number).map((pair) => ({ range: pair, closed: true as const })),
)
const cuts = fc.oneof(
  fc.record({ equal: fc.constantFrom('width' as const, 'count' as const), parts: fc.integer({ min: 2, max: 50 }) }),
  fc.uniqueArray(number, { minLength: 1, maxLength: 5 }).map((at) => ({ at: at.sort((a, b) => a - b) })),
)
const plainSplit: fc.Arbitrary<Split> = fc
  .tuple(
    fc.oneof(property, fc.constantFrom({ of: 'weekday' as const }, { of: 'hour' as const })),
    ...([optional('cuts', cuts), optional('only', fc.array(key, { minLength: 1, maxLength: 5 }))] as const),
    ...([optional('hideRest', yes), optional('hideNone', yes), count] as const),
  )
  .map(([by, cut, only, rest, nothing, keep]) => ({ by, keep, ...cut, ...only, ...rest, ...nothing }))
const split = fc.oneof({ arbitrary: plainSplit, weight: 5 }, segmentsBeside)
/** How many groups are kept is the first one's choice. */
const breakdowns = fc
  .array(split, { minLength: 1, maxLength: 3 })
  .map((all) => all.map((each, index) => (index === 0 ? each : { ...each, keep: 10 })) as Split[])

const named = (many: readonly TrendSeries[], names: readonly (string | undefined)[], hidden: readonly boolean[]) =>
  many.map((each, index) => ({
    ...each,
    ...(names[index] === undefined ? {} : { name: names[index] }),
    ...(hidden[index] ? { hidden: true as const } : {}),
  }))
const shortName = fc.constantFrom('riders', 'minutes of a ride', 'c', 'Ø fares', undefined)

const trend: fc.Arbitrary<Question> = fc
  .tuple(
    ...([
      fc.array(series, { minLength: 1, maxLength: 4 }),
      fc.array(shortName, { minLength: 4, maxLength: 4 }),
    ] as const),
    fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }),
    fc.array(
      fc
        .tuple(
          shortName,
          fc.constantFrom('a / b', 'min(a, b) * 2', '(riders - c) / 100'),
          fc.constantFrom(...formulaUnits),
        )
        .map(([name, formula, as]) => ({ ...(name === undefined ? {} : { name }), formula, unit: as })),
      { maxLength: 2 },
    ),
    fc.record({ every: unit, range }),
    optional('breakdowns', fc.array(split, { minLength: 1, maxLength: 3 })),
    optional(
      'compare',
      fc.oneof(
        fc.constantFrom('before' as const, 'week' as const, 'month' as const, 'year' as const).map((to) => ({ to })),
        days.map(([from, to]) => ({ from, to })),
      ),
    ),
    optional('smooth', fc.integer({ min: 2, max: 60 })),
    fc.constantFrom('number' as const, 'share' as const, 'index' as const, 'running total' as const),
  )
  .map(([many, names, hidden, formulas, time, groups, compare, smooth, as]) => {
    const several = many.length > 1 || formulas.length > 0
    return {
      ...{ kind: 'trend', series: several ? named(many, names, hidden) : many, ...time },
      ...(formulas.length > 0 ? { formulas } : {}),
      ...{ ...groups, ...compare, ...smooth, show: { form: 'lines', as } },
    }
  })
const crosstab: fc.Arbitrary<Question> = fc
  .tuple(
    fc.array(series, { minLength: 1, maxLength: 3 }),
    fc.array(shortName, { minLength: 4, maxLength: 4 }),
    fc.record({ every: unit, range, rows: fc.array(split, { minLength: 1, maxLength: 3 }) }),
    optional('column', split),
  )
  .map(([many, names, time, column]): Question => ({
    ...{ kind: 'crosstab', series: many.length > 1 && !column.column ? named(many, names, []) : many, ...time },
    ...{ ...column, show: { cells: 'bars', beside: 'trend' } },
  }))
const step: fc.Arbitrary<FunnelStep> = both(
  picked,
  optional(
    'entry',
    fc.array(fc.record({ property, op: fc.constantFrom(...entryOperators), entry: property }), {
      minLength: 1,
      maxLength: 2,
    }),
  ),
)
const settings: fc.Arbitrary<Partial<FunnelQuestion>> = fc
  .tuple(
    optional('order', fc.constantFrom('back to back' as const, 'any order' as const)),
    optional('count', fc.constant('attempts' as const)),
    optional('first', yes),
    optional('same', property),
    optional(
      'forbidden',
      fc.array(both(picked, optional('after', fc.integer({ min: 0, max: 8 }))), { minLength: 1, maxLength: 2 }),
    ),
    optional(
      'compare',
      fc.oneof(
        fc.constantFrom('before' as const, 'year' as const).map((to) => ({ to })),
        days.map(([from, to]) => ({ from, to })),
      ),
    ),
    optional(
      'target',
      fc.integer({ min: 1, max: 1000 }).map((n) => n / 1000),
    ),
  )
  .map((parts) => Object.assign({}, ...parts) as Partial<FunnelQuestion>)
const funnel: fc.Arbitrary<FunnelQuestion> = fc
  .tuple(
    fc.array(fc.tuple(step, fc.boolean()), { minLength: 1, maxLength: 4 }),
    fc.record({ window: fc.record({ count, unit: fc.constantFrom(...windowUnits) }), range }),
    settings,
    fc.option(breakdowns, { nil: null }),
    fc.integer({ min: 0, max: 3 }),
  )
  .map(([steps, time, more, groups, at]): FunnelQuestion => {
    const last = steps.length - 1
    const readAt = Math.min(at, last)
    const read = readsEvent(groups ?? undefined) && readAt > 0
    return {
      ...{ kind: 'funnel', ...time, ...more },
      steps: steps.map(([each, optionally], i) =>
        optionally && i > 0 && i < last ? { ...each, optional: true as const } : each,
      ),
      ...(groups ? { breakdowns: groups } : {}),
      ...(read ? { readAt } : {}),
    }
  })
const overlap: fc.Arbitrary<Question> = fc
  .tuple(fc.array(side, { minLength: 2, maxLength: 5 }), fc.option(fc.tuple(series, range), { nil: null }))
  .map(([sides, figure]) => ({
    ...{ kind: 'overlap', sides, range: figure?.[1] ?? { last: 12, unit: 'week' } },
    ...(figure ? { figure: figure[0] } : {}),
  }))
const retentionMeasure = fc.constantFrom('people' as const, 'events' as const, 'events per person' as const)
const retention: fc.Arbitrary<RetentionQuestion> = fc
  .tuple(
    fc.record({ start: picked, every: fc.constantFrom(...retentionUnits), range }),
    ...([
      optional('first', yes),
      optional('back', picked),
      optional('by', fc.constant('clock' as const)),
      fc.oneof(
        optional('count', fc.constant('from' as const)),
        fc.constant({ measure: 'events' as const, cumulated: true as const }),
      ),
      fc.oneof(
        optional('upTo', fc.integer({ min: 1, max: 100 })),
        fc.constant({ brackets: [[0, 0], [1, 7], [31, 90]] as [number, number][] }), // prettier-ignore
      ),
      optional('breakdowns', breakdowns),
      fc.oneof(
        optional('measure', retentionMeasure),
        fc.record({ measure: fc.constantFrom('sum' as const, 'per person' as const), of: property }),
      ),
    ] as const),
  )
  .map(([base, first, back, by, from, when, groups, measured]): RetentionQuestion => {
    // What is added up says its measure itself.
    const measure = 'cumulated' in from ? {} : measured
    const all = Object.assign({}, base, first, back, by, measure, from, when, groups) as Omit<
      RetentionQuestion,
      'kind' | 'show'
    >
    return { kind: 'retention', ...all, show: { form: 'curve' } }
  })
const habit: fc.Arbitrary<HabitQuestion> = fc
  .tuple(
    fc.record({ start: picked, period: fc.constantFrom(...habitPeriods), range }),
    ...([
      optional(
        'core',
        fc.record({ days: fc.integer({ min: 1, max: 4 }), name: fc.constantFrom('Core', 'in, or out', 'every “day”') }),
      ),
      optional('breakdowns', breakdowns),
    ] as const),
  )
  .map(([base, ...more]): HabitQuestion => ({
    kind: 'habit',
    ...(Object.assign({}, base, ...more) as Omit<HabitQuestion, 'kind' | 'show'>),
    show: { form: 'at least' },
  }))
const growth: fc.Arbitrary<GrowthQuestion> = fc
  .record({
    start: picked,
    interval: fc.oneof(
      fc.record({ days: fc.integer({ min: 1, max: 366 }) }),
      fc.record({ unit: fc.constantFrom('week' as const, 'month' as const) }),
    ),
    range,
  })
  .map((parts): GrowthQuestion => ({ kind: 'growth', ...parts, show: { form: 'states' } }))
const variantName = fc.constantFrom('A', 'One ride to go', 'a “b” and c', 'left, alone')
const effect: fc.Arbitrary<EffectQuestion> = fc
  .tuple(
    fc.record({
      message: fc.constantFrom('Third ride', 'a “b”', 'bring (back)'),
      variants: fc.uniqueArray(variantName, { minLength: 1, maxLength: 4 }),
      ...{ goal: picked, range },
      within: fc.record({
        count: fc.integer({ min: 1, max: 1000 }),
        unit: fc.constantFrom('day' as const, 'hour' as const),
      }),
    }),
    ...([optional('nobodyAlone', yes), optional('moving', yes), optional('breakdowns', breakdowns)] as const),
  )
  .map(([base, ...more]): EffectQuestion => ({
    kind: 'effect',
    ...(Object.assign({}, base, ...more) as Omit<EffectQuestion, 'kind' | 'show'>),
    show: { form: 'effect' },
  }))
const likelihood: fc.Arbitrary<LikelihoodQuestion> = fc
  .tuple(
    fc.record({ goal: picked, days: fc.integer({ min: 1, max: 180 }) }),
    ...([
      optional('again', fc.constant(true)),
      optional(
        'back',
        fc.integer({ min: 1, max: 180 }).filter((n) => n !== 28),
      ),
      optional('lately', fc.constant(true)),
      optional(
        'keep',
        fc.array(
          fc.oneof(
            fc.record({ event: fc.constantFrom(...EVENTS) }),
            fc.record({ property: fc.constantFrom('plan', 'a “b” and c') }),
          ),
          { minLength: 1, maxLength: 3 },
        ),
      ),
      optional('retrain', fc.constant('by hand')),
    ] as const),
  )
  .map(([base, ...more]): LikelihoodQuestion => ({
    kind: 'likelihood',
    ...(Object.assign({}, base, ...more) as Omit<LikelihoodQuestion, 'kind' | 'show'>),
    show: { form: 'quality' },
  }))
const gaps: fc.Arbitrary<GapsQuestion> = fc
  .record({ start: picked, range })
  .map((parts): GapsQuestion => ({ kind: 'gaps', ...parts, show: { form: 'gaps' } }))
const node = both(
  fc.record({ event: fc.constantFrom(...EVENTS) }),
  optional('value', fc.oneof(nasty, fc.integer(), fc.boolean(), fc.constant(null))),
)
const paths: fc.Arbitrary<PathsQuestion> = fc
  .tuple(
    fc.record({
      start: picked,
      steps: fc.integer({ min: 1, max: 10 }),
      window: fc.record({ count, unit: fc.constantFrom(...windowUnits) }),
      range,
      keep: fc.integer({ min: 1, max: 50 }),
    }),
    fc.oneof(fc.constant({}), fc.constant({ backward: true as const }), fc.record({ end: picked })),
    ...([
      optional('count', fc.constant('occurrences' as const)),
      optional('wide', fc.constantFrom([1], [1, 2], [2, 4, 10])),
      optional(
        'leaveOut',
        fc
          .uniqueArray(fc.constantFrom(...EVENTS), { minLength: 1, maxLength: 3 })
          .map((names) => ({ event: { names } })),
      ),
      optional('contains', fc.array(picked, { minLength: 1, maxLength: 2 })),
      optional('lacks', fc.array(picked, { minLength: 1, maxLength: 2 })),
      optional(
        'open',
        fc.array(fc.record({ event: fc.constantFrom(...EVENTS).map((name) => ({ names: [name] })), by: property }), {
          minLength: 1,
          maxLength: 2,
        }),
      ),
      optional(
        'through',
        fc.array(fc.record({ step: fc.integer({ min: 1, max: 10 }), node }), { minLength: 1, maxLength: 2 }),
      ),
      optional('unfolded', yes),
      optional('session', yes),
    ] as const),
  )
  .map(
    (parts) =>
      ({ kind: 'paths', ...(Object.assign({}, ...parts) as object), show: { form: 'stream' } }) as PathsQuestion,
  )
const sessions: fc.Arbitrary<SessionsQuestion> = fc
  .tuple(
    fc.record({
      measure: fc.constantFrom(...sessionMeasures),
      every: fc.constantFrom(...sessionUnits),
      range,
    }),
    optional('holds', picked),
    optional('first', yes),
    optional(
      'compare',
      fc.constantFrom({ to: 'before' as const }, { to: 'month' as const }, { from: '2026-06-01', to: '2026-06-14' }),
    ),
    optional('target', fc.constantFrom(0.25, 1, 7.5)),
  )
  .map(
    (parts) =>
      ({
        kind: 'sessions',
        ...(Object.assign({}, ...parts) as object),
        show: { form: 'over time' },
      }) as SessionsQuestion,
  )
const touchValue = fc.oneof(nasty, fc.integer(), fc.boolean()).map((value) => ({ value }))
const ownModel = fc
  .tuple(fc.nat({ max: 100 }), fc.nat({ max: 100 }))
  .map(([a, b]): Model => ({ own: [Math.min(a, b), Math.abs(a - b), 100 - Math.max(a, b)] }))
const model: fc.Arbitrary<Model> = fc.oneof(fc.constantFrom(...plainModels), ownModel)
const attribution: fc.Arbitrary<AttributionQuestion> = fc
  .tuple(
    fc.record({
      goals: fc.uniqueArray(picked, { minLength: 1, maxLength: 3, selector: (pick) => JSON.stringify(pick) }),
      range,
      by: fc.oneof(property, fc.constant({ of: 'event name' as const })),
      lookBack: fc.record({ count, unit: fc.constantFrom('day' as const, 'session' as const) }),
      models: fc.uniqueArray(model, { minLength: 1, maxLength: 6, selector: modelId }),
      touches: picked,
    }),
    ...([
      optional(
        'worth',
        fc.oneof(
          fc.constant('people' as const),
          property.map((sum) => ({ sum })),
        ),
      ),
      optional('first', yes),
      optional('every', fc.constantFrom(...attributionUnits)),
      optional('costs', yes),
    ] as const),
    optional('leftOut', fc.array(touchValue, { minLength: 1, maxLength: 3 })),
    optional('direct', fc.array(touchValue, { minLength: 1, maxLength: 3 })),
    optional('halfLife', fc.constantFrom(0.5, 1, 7, 30)),
  )
  .map(
    (parts) =>
      ({
        kind: 'attribution',
        ...(Object.assign({}, ...parts) as object),
        show: { form: 'table' },
      }) as AttributionQuestion,
  )
/** What was done early, how often, of which values. */
const done = both(
  both(
    fc.record({ event: nasty }),
    fc.oneof(
      fc.constant({}),
      both(
        fc.record({ by: fc.record({ of: fc.constant('event' as const), name: nasty }) }),
        optional('is', fc.oneof(nasty, fc.boolean(), fc.constant(null))),
      ),
    ),
  ),
  both(
    fc.oneof(
      fc.record({ times: fc.integer({ min: 1, max: 20 }) }),
      fc.record({ exactly: fc.integer({ min: 0, max: 20 }) }),
      fc.constant({}),
    ),
    optional('not', yes),
  ),
)
const tipping: fc.Arbitrary<TippingQuestion> = fc
  .tuple(
    fc.record({
      start: picked,
      range,
      days: fc.integer({ min: 1, max: 7 }),
      goal: picked,
      outcome: fc.oneof<fc.Arbitrary<Outcome>[]>(
        both(
          fc.record({
            unit: fc.constantFrom('week' as const, 'month' as const),
            period: fc.integer({ min: 1, max: 52 }),
          }),
          both(optional('from', yes), optional('by', fc.constant('clock' as const))),
        ) as fc.Arbitrary<Outcome>,
        both(
          fc.record({ days: fc.integer({ min: 1, max: 366 }) }),
          optional('times', fc.integer({ min: 2, max: 20 })),
        ) as fc.Arbitrary<Outcome>,
      ),
    }),
    optional('leftOut', fc.array(nasty, { minLength: 1, maxLength: 3 })),
    optional(
      'open',
      fc.array(
        both(
          fc.record({
            event: fc.record({ names: fc.tuple(nasty) }),
            by: fc.record({ of: fc.constant('event' as const), name: nasty }),
          }),
          optional('as', fc.constant('different' as const)),
        ),
        { minLength: 1, maxLength: 3 },
      ),
    ),
    optional('count', fc.constant('days' as const)),
  )
  .map(
    (parts) =>
      ({ kind: 'tipping', ...(Object.assign({}, ...parts) as object), show: { form: 'strips' } }) as TippingQuestion,
  )
const coming = fc.oneof(
  retention,
  habit,
  growth,
  gaps,
  paths,
  sessions,
  attribution,
  tipping,
  likelihood,
  effect,
) as fc.Arbitrary<Question>

/** A bucket's key, as it stands in the results of a study by that unit. */
function keyOf(every: Unit, on: string): string {
  if (every === 'hour') return `${on}T13:00+01:00`
  if (every === 'year') return `${on.slice(0, 4)}-01-01`
  return every === 'month' ? `${on.slice(0, 7)}-01` : on
}
const nested = fc.oneof(key, fc.constant({ rest: true as const }))
const group = fc.oneof(
  nested,
  fc.array(key, { minLength: 2, maxLength: 3 }).map((each) => ({ each })),
)
const place = fc.oneof(node, fc.constant({ rest: true as const }), fc.constant({ ends: true as const }))
/** People from a study, by marks of its kind. */
const people = (study: Question): fc.Arbitrary<{ study: Question; marks: Mark[] }> => {
  const bucket = 'every' in study && study.every ? day.map((on) => keyOf(study.every!, on)) : day
  const marks: Record<Question['kind'], fc.Arbitrary<Mark>> = {
    effect: fc
      .tuple(
        fc.record({ step: fc.constantFrom(...effectSteps) }),
        ...([fc.oneof(optional('variant', variantName), optional('alone', yes)), optional('group', group)] as const),
      )
      .map((parts): Mark => ({ kind: 'came', ...Object.assign({}, ...parts) }) as Mark),
    trend: fc
      .tuple(
        optional('bucket', bucket),
        optional('group', group),
        optional(
          'series',
          count.map((n) => n % 8 || 1),
        ),
      )
      .chain((parts) =>
        fc
          .tuple(optional('before', yes), optional('not', bucket), optional('formula', fc.integer({ min: 0, max: 3 })))
          .map((more): Mark => ({ kind: 'point', ...Object.assign({}, ...parts, ...more) })),
      ),
    funnel: fc.oneof(
      fc
        .tuple(
          fc.record({
            kind: fc.constant('step' as const),
            step: fc.integer({ min: 0, max: 19 }),
            what: fc.constantFrom('reached' as const, 'lost' as const, 'open' as const, 'gone' as const),
          }),
          ...([
            optional('group', fc.oneof(group, fc.constant({ unreached: true as const }))),
            optional('before', yes),
          ] as const),
        )
        .map((parts): Mark => Object.assign({}, ...parts) as Mark),
      both(
        fc.record({
          kind: fc.constant('took' as const),
          from: fc.constant(0),
          to: fc.integer({ min: 1, max: 19 }),
          least: fc.integer({ min: 0, max: 1e9 }),
        }),
        optional('under', fc.integer({ min: 1, max: 1e9 })),
      ),
      both(
        fc.record({ kind: fc.constant('repeats' as const), step: fc.integer({ min: 0, max: 19 }), times: count }),
        optional('more', yes),
      ),
    ),
    crosstab: fc
      .tuple(
        fc.record({ kind: fc.constant('cell' as const), row: fc.array(nested, { maxLength: 3 }) }),
        ...([optional('column', nested), optional('bucket', bucket)] as const),
        optional(
          'series',
          count.map((n) => n % 8 || 1),
        ),
      )
      .map(([cell, ...more]): Mark => ({ ...cell, ...Object.assign({}, ...more) })),
    overlap: both(
      fc.record({
        kind: fc.constant('part' as const),
        in: fc.uniqueArray(fc.integer({ min: 0, max: 4 }), { minLength: 1, maxLength: 4 }),
      }),
      optional('more', yes),
    ),
    retention: fc
      .tuple(
        fc.record({
          kind: fc.constant('cohort' as const),
          what: fc.constantFrom('started' as const, 'returned' as const, 'not' as const, 'gone' as const),
        }),
        ...([
          optional('cohort', bucket),
          optional('period', fc.integer({ min: 0, max: 100 })),
          optional('group', group),
        ] as const),
      )
      .map((parts): Mark => Object.assign({}, ...parts) as Mark),
    habit: fc
      .tuple(
        optional('days', fc.integer({ min: 1, max: 31 })),
        ...([
          optional('bucket', day),
          optional('place', fc.integer({ min: 0, max: 23 })),
          optional('group', group),
        ] as const),
        fc.boolean(),
      )
      .map(([days, bucket, place, own, more]): Mark => ({
        kind: 'days',
        ...days,
        ...('days' in days && more ? { more: true as const } : {}),
        ...(Object.assign({}, bucket, place, own) as object),
      })),
    growth: fc
      .tuple(
        fc.record({
          kind: fc.constant('state' as const),
          states: fc.uniqueArray(fc.constantFrom(...growthStates), { minLength: 1, maxLength: 3 }),
        }),
        optional('interval', day),
        optional('from', fc.constantFrom(...growthStates, 'unseen' as const)),
      )
      .map((parts): Mark => Object.assign({}, ...parts) as Mark),
    likelihood: fc
      .tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 51, max: 100 }))
      .map(([from, to]): Mark => ({ kind: 'likely', from, to })),
    tipping: fc
      .tuple(
        fc.constant({ kind: 'early' as const }),
        fc.oneof(fc.constant({}), done),
        optional('outcome', fc.constantFrom('came' as const, 'did not come' as const)),
        optional('also', done),
        optional(
          'of',
          fc.record({
            property: fc.record({ of: fc.constant('person' as const), name: nasty }),
            value: fc.oneof(nasty, fc.boolean(), fc.constant(null)),
          }),
        ),
        optional('left', yes),
      )
      .map((parts): Mark => Object.assign({}, ...parts) as Mark),
    attribution: fc.oneof(
      fc
        .tuple(
          fc.constant({ kind: 'credit' as const }),
          ...([
            optional('goal', fc.constantFrom(1, 2)),
            optional('group', group),
            // Of a study that is not told over time there is no bucket.
            study.kind === 'attribution' && study.every ? optional('bucket', bucket) : fc.constant({}),
          ] as const),
          fc.oneof(
            fc.constant({ none: true as const }),
            fc.record({ many: fc.integer({ min: 1, max: 10 }), age: fc.integer({ min: 0, max: 6 }) }),
            both(fc.record({ value: nested }), optional('model', model)),
            fc.constant({}),
          ),
        )
        .map((parts): Mark => Object.assign({}, ...parts) as Mark),
      both(
        fc.record({ kind: fc.constant('touches' as const), values: fc.array(nested, { minLength: 1, maxLength: 4 }) }),
        optional('goal', fc.constantFrom(1, 2)),
      ) as fc.Arbitrary<Mark>,
    ),
    sessions: fc
      .tuple(
        fc.constant({ kind: 'session' as const }),
        ...([
          optional('bucket', bucket),
          optional('before', yes),
          optional('length', fc.integer({ min: 0, max: 8 })),
          optional('over', fc.integer({ min: 0, max: 1440 })),
          optional('single', yes),
          optional('entry', fc.constantFrom(...EVENTS)),
          optional('exit', fc.constantFrom(...EVENTS)),
          optional('group', group),
        ] as const),
      )
      .map((parts): Mark => Object.assign({}, ...parts) as Mark),
    gaps: fc
      .tuple(
        fc.record({ kind: fc.constant('gap' as const), least: fc.integer({ min: 0, max: 400 }) }),
        ...([
          optional(
            'most',
            fc.integer({ min: 2, max: 800 }).map((n) => n / 2),
          ),
          optional('of', fc.constantFrom('once' as const, 'median' as const)),
        ] as const),
      )
      .map((parts): Mark => Object.assign({}, ...parts) as Mark),
    paths: fc
      .tuple(
        fc.oneof(
          both(fc.record({ kind: fc.constant('anchor' as const) }), optional('got', fc.boolean())),
          fc.constant({ kind: 'anchor' as const, got: false, forGood: true as const }),
          fc.constant({ kind: 'node' as const, step: 2, place: { ends: true as const }, forGood: true as const }),
          fc.record({ kind: fc.constant('loop' as const) }),
          both(
            fc.record({ kind: fc.constant('node' as const), step: fc.integer({ min: 1, max: 10 }), place }),
            optional('from', place),
          ),
          both(
            fc.record({ kind: fc.constant('way' as const), nodes: fc.array(node, { maxLength: 3 }) }),
            optional('more', yes),
          ),
        ),
        optional('group', group),
      )
      .map((parts): Mark => Object.assign({}, ...parts) as Mark),
  }
  const plain = fc.array(marks[study.kind], { minLength: 1, maxLength: 2 }).map((found) => ({ study, marks: found }))
  return study.kind === 'funnel' ? fc.oneof({ arbitrary: plain, weight: 3 }, lookedAt(study)) : plain
}

/** Marks that belong to a look at a funnel bring that look with them. */
const lookedAt = (study: FunnelQuestion): fc.Arbitrary<{ study: Question; marks: Mark[] }> => {
  const name = fc.constantFrom(...EVENTS)
  const value = fc.oneof(nasty, fc.boolean())
  const asked = (show: FunnelShow, mark: Mark) => ({ study: { ...study, show }, marks: [mark] })
  return fc.oneof(
    fc
      .tuple(
        fc.integer({ min: 0, max: 8 }),
        fc.option(name, { nil: null }),
        fc.oneof(fc.constant('session' as const), fc.record({ count, unit: fc.constantFrom(...windowUnits) })),
      )
      .map(([at, event, within]) =>
        asked({ form: 'after', step: at, within }, { kind: 'after', step: at, event, within }),
      ),
    fc
      .tuple(name, fc.option(fc.tuple(fc.constantFrom('bike_type', 'is'), value), { nil: null }), fc.boolean())
      .map(([event, has, through]) =>
        asked({ form: 'apart' }, { kind: 'with', event, ...(has ? { property: has[0], value: has[1] } : {}), through }),
      ),
    fc.array(name, { maxLength: 3 }).map((names) => asked({ form: 'between' }, { kind: 'way', events: names })),
    day.map((on) => asked({ form: 'over time', every: 'week' }, { kind: 'step', step: 0, what: 'lost', bucket: on })),
  )
}
const amongSome = (questions: fc.Arbitrary<Question>) =>
  fc
    .tuple(questions, fc.oneof(trend, crosstab, funnel, overlap, coming).chain(people))
    .map(([question, among]): Question => ({ ...question, among }))
const moment = fc.integer({ min: 1_600_000_000_000, max: 1_800_000_000_000 })
/** Among the people of a rule, which may hold those of a study. */
const amongRules = (questions: fc.Arbitrary<Question>) =>
  fc
    .tuple(
      questions,
      fc.oneof(
        { arbitrary: rule, weight: 4 },
        funnel.chain(people).map((ref): Rule => ({ hold: 'all', of: [{ kind: 'study', ...ref, not: true }] })),
      ),
      fc.oneof(
        optional('at', moment),
        both(
          fc.record({ came: fc.constantFrom('in' as const, 'out' as const), since: moment }),
          optional('at', moment),
        ),
      ),
    )
    .map(([question, own, when]): Question => ({ ...question, among: { rule: own, ...when } }))

/** What the sentence says of a question: the rest changes no number, or is what is meant when nothing is said. */
function said({ among, ...asked }: Question): unknown {
  return {
    ...saidOfAll(asked as Question),
    ...(among ? { among: 'study' in among ? { ...among, study: said(asQuestion(among.study)) } : among } : {}),
  }
}

/** @param question asked among everybody */
function saidOfAll(question: Question): object {
  if (question.kind !== 'trend' && question.kind !== 'crosstab') return question
  const letters = (each: TrendSeries, index: number) => {
    const { name, ...rest } = each
    return name === handleOf({ series: Array.from({ length: index + 1 }, () => rest) }, index) ? rest : each
  }
  if (question.kind === 'crosstab') {
    const keep = (each: Split) => (isClock(each.by) ? { ...each, keep: 10 } : each)
    const { rows, column } = question
    const laid = { rows: rows.map(keep), ...(column ? { column: keep(column) } : {}) }
    return { ...question, ...laid, series: countedSeries(question as CrosstabQuestion).map(letters) }
  }
  const breakdowns = question.breakdowns?.map((each, index) => (index === 0 ? each : { ...each, keep: 10 }))
  return { ...question, series: question.series.map(letters), ...(breakdowns ? { breakdowns } : {}) }
}

test.each([
  ['trends', trend],
  ['crosstabs', crosstab],
  ['funnels', funnel],
  ['overlaps', overlap],
  ['retentions', retention],
  ['habits', habit],
  ['growth accounting', growth],
  ['usage intervals', gaps],
  ['sessions', sessions],
  ['attribution', attribution],
  ['tipping points', tipping],
  ['likelihoods', likelihood],
  ['questions among people of rules', amongRules(fc.oneof(trend, funnel, overlap))],
  ['questions among people of other studies', amongSome(fc.oneof(trend, crosstab, funnel, coming))],
])('%s are read back from the sentences they are printed as', (_kind, questions) => {
  fc.assert(
    fc.property(questions, (question) => {
      expect(readPrinted(printedOf(question, words), vocabulary)).toEqual(said(question))
    }),
    { numRuns: 250 },
  )
})

test('a text that is no printed sentence gives nothing', () => {
  for (const text of [
    '',
    'riders by plan',
    'How many people did Ride',
    'How many people did Ride each week over the moon?',
  ])
    expect(readPrinted(text, vocabulary)).toBeNull()
})
