import { FORMULA_UNIT, compareWords, measureWords } from '../analyses/trend/sentence.js'
import { MEASURES, trendMeasures, type TrendMeasure } from '../analyses/trend/measures.js'
import {
  DEFAULT_DAYS,
  formulaUnits,
  handleOf,
  type Comparison,
  type FormulaUnit,
  type TrendFormula,
  type TrendQuestion,
  type TrendReading,
  type TrendSeries,
} from '../analyses/trend/question.js'
import {
  entryOperators,
  type EntryTest,
  type Forbidden,
  type FunnelQuestion,
  type FunnelShow,
  type FunnelStep,
} from '../analyses/funnel/question.js'
import { ORDER_WORDS } from '../analyses/funnel/sentence.js'
import type { CrosstabQuestion } from '../analyses/crosstab/question.js'
import type { PeopleRef, StudyPeople } from '../analyses/people.js'
import type { OverlapQuestion } from '../analyses/overlap/question.js'
import type { Question } from '../analyses/registry.js'
import type { Rule } from '../segments/rule.js'
import {
  dateOperators,
  numberOperators,
  plainOperators,
  type Condition,
  type EventChoice,
  type EventPick,
  type Filter,
  type GroupKey,
  type Mark,
  type NestedKey,
  type PropertyRef,
  type TimeLimit,
  type ValueKey,
  windowUnits,
} from '../questions/parts.js'
import type { Side, SidesRef, Cuts, Split, SplitRef } from '../questions/split.js'
import type { Range, Unit } from '../time/range.js'
import { WEEKDAYS } from '../words/words.js'
import { count, day, lastUnits, month, number, plainText, quotedText, range, unit, unitsOf } from './atoms.js'
import {
  chain,
  either,
  list,
  literal,
  many,
  map,
  maybe,
  names,
  pattern,
  readWhole,
  after,
  type Reader,
} from './reader.js'
import { daysMarks, gapMarks, gapses, growths, habits, stateMarks } from './printedHabits.js'
import { cohortMarks, retentions } from './printedRetention.js'
import { rules, sides } from './rules.js'
import type { Vocabulary } from './vocabulary.js'

/**
 * Reads sentences as Dowser prints them, in full: the very question comes back, save for how its result is drawn.
 * @returns null for any other text
 */
export function readPrinted(text: string, vocabulary: Vocabulary): Question | null {
  // On a page a word joiner keeps the question mark with its word: it comes along when a sentence is copied.
  return readWhole(sentences(vocabulary), text.replaceAll('\u2060', '').trim())
}

const ready = new WeakMap<Vocabulary, Reader<Question>>()

/** The readers of a vocabulary, made once: a sentence may hold others, and every key typed asks again. */
function sentences(vocabulary: Vocabulary): Reader<Question> {
  let reader = ready.get(vocabulary)
  if (!reader) {
    const parts = partsOf(vocabulary)
    const coming = {
      ...parts,
      picked: parts.series.picked,
      by: either<PropertyRef | SidesRef>(parts.property, sidesBy(parts.side)),
    }
    reader = either<Question>(
      overlaps(parts),
      funnels(parts),
      crosstabs(parts),
      trends(parts),
      retentions(coming),
      habits(coming),
      growths(coming),
      gapses(coming),
    )
    ready.set(vocabulary, reader)
  }
  return reader
}

type Parts = ReturnType<typeof partsOf>

/** What all kinds of sentence are made of, over the names of a workspace. */
function partsOf(vocabulary: Vocabulary) {
  const { thisYear } = vocabulary
  const eventName = names(vocabulary.events.map(({ name, words }) => ({ words, value: name })))
  const event: Reader<EventChoice> = either<EventChoice>(
    map(list(eventName, 'or'), (found) => ({ names: found })),
    map(literal('anything'), () => ({ activity: true as const })),
  )
  const property: Reader<PropertyRef> = names(
    vocabulary.properties.map((each) => ({ words: each.words, value: each.property })),
  )
  const filter = filters(property, thisYear)
  const series = seriesOf(event, property, filter)
  const period = range(thisYear, { since: 'since ', from: 'from ' })
  const studyPeople = people(thisYear, eventName, property, (text, at) => sentences(vocabulary)(text, at))
  const ruled = rules({
    ...{ thisYear, property, picked: series.picked, condition: conditions(property, thisYear) },
    ...{ segments: vocabulary.segments, people: studyPeople },
  })
  const side = sides(ruled)
  const split = splits(property, side)
  const among: Reader<{ among?: PeopleRef }> = map(maybe(amongOf(ruled, studyPeople)), (found) =>
    found ? { among: found } : {},
  )
  return { vocabulary, thisYear, event, property, filter, series, side, split, period, among }
}

/** ", among “Regulars”", ", not among “Regulars”", ", among people (…)", ", among those …". */
function amongOf({ rule, segment }: ReturnType<typeof rules>, studyPeople: Reader<StudyPeople>): Reader<PeopleRef> {
  const moment = map(quotedText, (text) => {
    const ms = Date.parse(text)
    return Number.isNaN(ms) ? null : ms
  })
  const came = map(
    chain<['in' | 'out', Rule, number, { at?: number }]>(
      either<'in' | 'out'>(
        map(literal(', among people who came into '), () => 'in' as const),
        map(literal(', among people who went out of '), () => 'out' as const),
      ),
      rule,
      after(' between ', moment),
      either<{ at?: number }>(
        map(literal(' and now'), () => ({})),
        map(after(' and ', moment), (at) => ({ at })),
      ),
    ),
    ([which, own, since, until]): PeopleRef => ({ rule: own, came: which, since, ...until }),
  )
  return either<PeopleRef>(
    map(after(', among ', segment), (id) => ({ rule: { kind: 'segment', segment: id } })),
    map(after(', not among ', segment), (id) => ({ rule: { kind: 'segment', segment: id, not: true } })),
    came,
    map(
      chain<[Rule, number | null]>(after(', among people ', rule), maybe(after(' as of ', moment))),
      ([own, at]): PeopleRef => ({ rule: own, ...(at === null ? {} : { at }) }),
    ),
    after(', among those ', studyPeople),
  )
}

/** "in the week of 14 Sep (Annual) of “How many …?”", after "those". */
function people(
  thisYear: number,
  eventName: Reader<string>,
  property: Reader<PropertyRef>,
  study: Reader<Question>,
): Reader<StudyPeople> {
  const date = day(thisYear)
  const bucket = either<string>(
    after('the week of ', date),
    after('the quarter from ', date),
    month(thisYear),
    date,
    quotedText,
  )
  const key = either<NestedKey>(
    map(literal('everything else'), () => ({ rest: true as const })),
    keys,
  )
  const unreached = map(literal('did not get there'), (): GroupKey => ({ unreached: true }))
  const group = map(chain<[NestedKey, ValueKey[]]>(key, many(after(' · ', keys))), ([first, more]): GroupKey | null => {
    if (more.length === 0) return first
    return 'rest' in first ? null : { each: [first, ...more] }
  })
  const place = (name: string) => map(after(`${name} `, count), (n) => n - 1)
  const detail = either<object>(
    map(place('series'), (series) => ({ series })),
    map(place('formula'), (formula) => ({ formula })),
    map(unreached, (each) => ({ group: each })),
    map(group, (each) => ({ group: each })),
  )
  const details = map(
    maybe(
      map(
        chain<[object, object[], string]>(after(' (', detail), many(after('; ', detail)), literal(')')),
        ([first, more]): object => Object.assign({}, first, ...more) as object,
      ),
    ),
    (found) => found ?? {},
  )
  const optional = <K extends string, T>(name: K, reader: Reader<T>) =>
    map(maybe(reader), (found) => (found === null ? {} : { [name]: found }))
  const point = map(
    chain<[object, object, object, object]>(
      either<object>(
        map(literal('at any time'), () => ({})),
        map(after('in ', bucket), (found) => ({ bucket: found })),
      ),
      map(maybe(literal(' of the time it is compared with')), (found) => (found ? { before: true } : {})),
      optional('not', after(' and not in ', bucket)),
      details,
    ),
    (parts) => ({ kind: 'point', ...Object.assign({}, ...parts) }) as Mark,
  )
  const stepNumber = map(after(' step ', count), (n) => n - 1)
  const step = map(
    chain<['reached' | 'lost' | 'open' | 'gone', number, object, Begun | null, object]>(
      either<'reached' | 'lost' | 'open' | 'gone'>(
        map(literal('who reached'), () => 'reached' as const),
        map(literal('lost for good at'), () => 'gone' as const),
        map(literal('lost at'), () => 'lost' as const),
        map(literal('still open at'), () => 'open' as const),
      ),
      stepNumber,
      map(maybe(literal(' of the time it is compared with')), (found) => (found ? { before: true } : {})),
      maybe(after(', begun in ', begun(thisYear))),
      details,
    ),
    ([what, at, before, start, more]): FunnelMark => ({
      mark: {
        ...{ kind: 'step', step: at, what },
        ...before,
        ...(start ? { bucket: start.key } : {}),
        ...more,
      } as Mark,
      ...(start ? { show: { form: 'over time', every: start.every } } : {}),
    }),
  )
  const ms = map(chain<[number, string]>(number, literal(' ms')), ([n]) => n)
  const took = map(
    chain<[number, number | null, number, number, object]>(
      after('who took at least ', ms),
      maybe(after(' and under ', ms)),
      after(' from', stepNumber),
      after(' to', stepNumber),
      details,
    ),
    ([least, under, from, to, more]): FunnelMark => ({
      mark: { ...{ kind: 'took', from, to, least }, ...(under === null ? {} : { under }), ...more } as Mark,
    }),
  )
  const repeats = map(
    chain<[number, string, number, string]>(
      after('who did', stepNumber),
      either(literal(' at least '), literal(' exactly ')),
      count,
      literal(' times before going on'),
    ),
    ([at, how, times]): FunnelMark => ({
      mark: { ...{ kind: 'repeats', step: at, times }, ...(how.includes('least') ? { more: true } : {}) } as Mark,
    }),
  )
  const within = either<TimeLimit | 'session'>(
    map(literal(' in the same session'), () => 'session' as const),
    after(' within ', limit),
  )
  const afterLoss = map(
    chain<[number, string | null, TimeLimit | 'session']>(
      after('lost for good at', stepNumber),
      either<string | null>(
        map(literal(' who did nothing more'), () => ''),
        after(' who then did ', eventName),
      ),
      within,
    ),
    ([at, event, limited]): FunnelMark => ({
      mark: { kind: 'after', step: at, event: event === '' ? null : event, within: limited },
      show: { form: 'after', step: at, within: limited },
    }),
  )
  const withValue = map(chain<[PropertyRef, ValueKey]>(after(' with ', property), after(' ', keys)), ([ref, found]) =>
    ref.of === 'event' && 'value' in found ? { property: ref.name, value: found.value } : null,
  )
  const withFeature = map(
    chain<[string, object | null, string]>(
      after('who did ', eventName),
      maybe(withValue),
      either(literal(' on the way and got through'), literal(' on the way and were lost')),
    ),
    ([event, value, how]): FunnelMark => ({
      mark: { ...{ kind: 'with', event }, ...value, through: how.endsWith('through') } as Mark,
      show: { form: 'apart' },
    }),
  )
  const way = map(
    either<Pick<Mark & { kind: 'way' }, 'events' | 'only'>>(
      map(literal('who got through straight away'), () => ({ events: [] })),
      map(chain<[string, string]>(after('who got through and did ', eventName), literal(' on the way')), ([event]) => ({
        events: [event],
        only: true as const,
      })),
      map(
        chain<[string, string[]]>(after('who got through by way of ', eventName), many(after(' › ', eventName))),
        ([first, more]) => ({ events: [first, ...more] }),
      ),
    ),
    (found): FunnelMark => ({ mark: { kind: 'way', ...found }, show: { form: 'between' } }),
  )
  const cell = map(
    chain<[NestedKey[], object, object, object]>(
      either<NestedKey[]>(
        map(literal('in all rows'), () => []),
        map(chain<[NestedKey, NestedKey[]]>(after('in the row ', key), many(after(' › ', key))), ([a, b]) => [a, ...b]),
      ),
      optional('column', after(' and the column ', key)),
      optional('bucket', after(' in ', bucket)),
      details,
    ),
    ([row, ...parts]) => ({ ...{ kind: 'cell', row }, ...Object.assign({}, ...parts) }) as Mark,
  )
  const part = map(
    chain<[number[], unknown]>(after('in part ', list(count, 'and')), maybe(literal(' or more'))),
    ([inside, more]): Mark => ({
      ...{ kind: 'part', in: inside.map((n) => n - 1) },
      ...(more ? { more: true as const } : {}),
    }),
  )
  const plainMark = map(
    either<Mark>(part, point, cell, cohortMarks(bucket, details), stateMarks(date), daysMarks(date, details), gapMarks),
    (found): FunnelMark => ({
      mark: found,
    }),
  )
  const mark = either<FunnelMark>(plainMark, afterLoss, step, took, repeats, withFeature, way)
  return map(
    chain<[FunnelMark, FunnelMark[], Question]>(
      mark,
      many(after(', or ', mark)),
      map(chain<[Question, string]>(after(' of “', study), literal('”')), ([found]) => found),
    ),
    ([first, more, found]) => {
      const all = [first, ...more]
      const show = all.find((each) => each.show)?.show
      const asked = show && found.kind === 'funnel' ? { ...found, show } : found
      return { study: asked, marks: all.map((each) => each.mark) }
    },
  )
}

/** A mark, and the look at its funnel that it belongs to. */
interface FunnelMark {
  mark: Mark
  show?: FunnelShow
}

interface Begun {
  key: string
  every: Unit
}

/** "the week of 14 Sep": by what time a funnel's attempts are gathered, and in which. */
function begun(thisYear: number): Reader<Begun> {
  const date = day(thisYear)
  const by = (every: Unit) => (key: string) => ({ key, every })
  return either<Begun>(
    map(after('the week of ', date), by('week')),
    map(after('the quarter from ', date), by('quarter')),
    map(month(thisYear), by('month')),
    map(date, by('day')),
    map(quotedText, by('hour')),
  )
}

/** "7 days". */
const limit: Reader<TimeLimit> = map(
  chain<[number, string, TimeLimit['unit'], unknown]>(
    count,
    literal(' '),
    either<TimeLimit['unit']>(...windowUnits.map((each) => map(literal(each), () => each))),
    maybe(literal('s')),
  ),
  ([n, , unit]): TimeLimit => ({ count: n, unit }),
)

/** A tree of conditions; groups within groups stand in parentheses. */
function filters(property: Reader<PropertyRef>, thisYear: number): Reader<Filter> {
  const condition = conditions(property, thisYear)
  const inner: Reader<Filter> = (text, at) => atom(text, at)
  const atom = either<Filter>(
    map(
      chain<[string, Filter, string]>(literal('('), (text, at) => whole(text, at), literal(')')),
      ([, each]) => each,
    ),
    condition,
  )
  const ands = many(after(' and ', inner))
  const ors = many(after(' or ', inner))
  const joined: Reader<Filter> = function* (text, at) {
    for (const [first, end] of inner(text, at)) {
      for (const [rest, last] of ands(text, end)) if (rest.length > 0) yield [{ all: [first, ...rest] }, last]
      for (const [rest, last] of ors(text, end)) if (rest.length > 0) yield [{ any: [first, ...rest] }, last]
      yield [first, end]
    }
  }
  const whole = either<Filter>(
    joined,
    map(literal('anything holds'), () => ({ all: [] })),
    map(literal('nothing holds'), () => ({ any: [] })),
  )
  return whole
}

function conditions(property: Reader<PropertyRef>, thisYear: number): Reader<Condition> {
  const fold = map(maybe(literal(' (any case)')), (found) => (found ? { ignoreCase: true as const } : {}))
  const date = day(thisYear)
  const rest = either<(property: PropertyRef) => Condition>(
    ...plainOperators.map((op) => map(literal(` ${op}`), () => (property: PropertyRef) => ({ property, op }))),
    ...numberOperators
      .filter((op) => op !== 'between')
      .map((op) => map(after(` ${op} `, number), (x) => (property: PropertyRef) => ({ property, op, number: x }))),
    map(chain<[number, number]>(after(' is between ', number), after(' and ', number)), (numbers) => (property) => ({
      ...{ property, op: 'between', numbers },
    })),
    map(chain<[string, string]>(after(' is between ', date), after(' and ', date)), (days) => (property) => ({
      ...{ property, op: 'between days', days },
    })),
    ...dateOperators
      .filter((op) => op === 'before' || op === 'after')
      .map((op) => map(after(` is ${op} `, date), (day) => (property: PropertyRef) => ({ property, op, day }))),
    map(after(' is in ', lastUnits), ({ last, unit }) => (property) => ({ property, op: 'in the last', last, unit })),
    ...(['is not', 'is'] as const).map((op) =>
      map(chain<[string[], object]>(after(` ${op} `, list(plainText, 'or')), fold), ([values, more]) => {
        return (property: PropertyRef): Condition => ({ property, op, values, ...more })
      }),
    ),
    ...(['contains', 'does not contain', 'starts with', 'ends with', 'matches'] as const).map((op) =>
      map(chain<[string, object]>(after(` ${op} `, quotedText), fold), ([text, more]) => {
        return (property: PropertyRef): Condition => ({ property, op, text, ...more })
      }),
    ),
  )
  return map(chain<[PropertyRef, (property: PropertyRef) => Condition]>(property, rest), ([ref, make]) => make(ref))
}

const keys: Reader<ValueKey> = either<ValueKey>(
  map(chain<[number, string]>(after('side ', count), after(' ', quotedText)), ([place, name]) => ({
    ...{ side: place - 1, name },
  })),
  map(literal('no value'), () => ({ value: null })),
  map(
    pattern(/(yes|no)(?![\p{L}\p{N}])/iuy, ([word]) => word.toLowerCase()),
    (word) => ({ value: word === 'yes' }),
  ),
  map(names(WEEKDAYS.map((words, index) => ({ words, value: index + 1 }))), (weekday) => ({ weekday })),
  pattern(/(\d\d):00/uy, ([, hour]) => ({ hour: Number(hour) })),
  map(after('under ', number), (high) => ({ range: [null, high] })),
  map(chain<[number, string]>(number, literal(' and more')), ([low]) => ({ range: [low, null] })),
  map(chain<[number, number]>(number, after(' to under ', number)), ([low, high]) => ({ range: [low, high] })),
  map(chain<[number, number]>(number, after(' to ', number)), ([low, high]) => ({ range: [low, high], closed: true })),
  map(number, (value) => ({ value })),
  map(plainText, (value) => ({ value })),
)

/** "Plan (only Annual and Monthly, without the others)". */
function splits(property: Reader<PropertyRef>, side: Reader<Side>): Reader<Split> {
  const by: Reader<SplitRef> = either<SplitRef>(
    property,
    map(literal('Day of week'), () => ({ of: 'weekday' as const })),
    map(literal('Hour of day'), () => ({ of: 'hour' as const })),
    sidesBy(side),
  )
  const choice = either<Partial<Split>>(
    map(after('cut at ', list(number, 'and')), (at) => ({ cuts: { at } })),
    map(
      chain<[number, 'width' | 'count']>(
        after('in ', count),
        after(
          ' ranges of equal ',
          either<'width' | 'count'>(
            map(literal('width'), () => 'width' as const),
            map(literal('count'), () => 'count' as const),
          ),
        ),
      ),
      ([parts, equal]) => ({ cuts: { equal, parts } satisfies Cuts }),
    ),
    map(after('only ', list(keys, 'and')), (only) => ({ only })),
    map(chain<[number, string]>(after('the ', count), literal(' largest')), ([keep]) => ({ keep })),
    map(literal('by size'), () => ({ order: 'size' as const })),
    map(literal('by name'), () => ({ order: 'name' as const })),
    map(literal('without the others'), () => ({ hideRest: true as const })),
    map(literal('without no value'), () => ({ hideNone: true as const })),
  )
  const choices = map(
    chain<[Partial<Split>, Partial<Split>[], string]>(after(' (', choice), many(after(', ', choice)), literal(')')),
    ([first, more]) => Object.assign({}, first, ...more) as Partial<Split>,
  )
  return map(chain<[SplitRef, Partial<Split> | null]>(by, maybe(choices)), ([ref, chosen]) => ({
    ...{ by: ref, keep: 10 },
    ...chosen,
  }))
}

/** "of “Regulars”, not in “Regulars” and everybody". */
function sidesBy(side: Reader<Side>): Reader<SidesRef> {
  return map(after('of ', list(side, 'and')), (sides) => ({ of: 'segments' as const, sides }))
}

/** What is measured: `people`, `times`, `median`, `people in the last 28 days`. */
const measures: Reader<Pick<TrendSeries, 'measure' | 'days'>> = either<Pick<TrendSeries, 'measure' | 'days'>>(
  map(chain<[number, string]>(after('people in the last ', count), literal(' days')), ([days]) => ({
    measure: 'people in the last days' as const,
    ...(days === DEFAULT_DAYS ? {} : { days }),
  })),
  names(
    trendMeasures
      .filter((measure) => measure !== 'people in the last days')
      .map((measure) => ({ words: measureWords({ measure }), value: { measure } })),
  ),
)

/** What joins a measure to its event, in the one question and in a line of its own. */
const JOINTS: Partial<Record<TrendMeasure, readonly [string, string]>> = {
  people: [' did ', ' who did '],
  'people in the last days': [' did ', ' who did '],
  'people so far': [' did ', ' who did '],
  events: [' did people do ', ' people did '],
  'events per person': [' did people do ', ' people did '],
  'share of active people': [' did ', ' who did '],
  sessions: [' held ', ' with '],
}

function seriesOf(event: Reader<EventChoice>, property: Reader<PropertyRef>, filter: Reader<Filter>) {
  const picked = map(
    chain<[EventChoice, Filter | null]>(event, maybe(after(' where ', filter))),
    ([choice, where]): EventPick => ({ event: choice, ...(where ? { where } : {}) }),
  )
  const measured = (place: 0 | 1): Reader<TrendSeries> =>
    function* (text, at) {
      for (const [measure, end] of measures(text, at)) {
        const joint = JOINTS[measure.measure]?.[place]
        const ofProperty = MEASURES[measure.measure].of !== null
        const tail: Reader<TrendSeries> = ofProperty
          ? map(chain<[PropertyRef, EventPick]>(after(' of ', property), after(' in ', picked)), ([of, pick]) => ({
              ...{ ...pick, ...measure, of },
            }))
          : map(after(joint ?? ' ', picked), (pick) => ({ ...pick, ...measure }))
        yield* tail(text, end)
      }
    }
  return {
    picked,
    /** "How many people did X", of the one series */
    asked: either<TrendSeries>(
      after('How many ', measured(0)),
      after('What is the ', measured(0)),
      after('What ', measured(0)),
    ),
    /** "people who did X", on a line of its own */
    line: measured(1),
  }
}

/** "a = people who did X; b = …; share = a / b, as a percentage". */
function lines({ series }: Parts): Reader<{ series: TrendSeries[]; formulas: TrendFormula[] }> {
  const named = map(
    chain<[string, string, TrendSeries]>(
      pattern(/[^=;]{1,40}?(?= (?:\(not shown\) )?= )/uy, ([name]) => name),
      either(literal(' (not shown) = '), literal(' = ')),
      series.line,
    ),
    ([name, between, each]): TrendSeries => ({
      ...{ name, ...each },
      ...(between.includes('not shown') ? { hidden: true as const } : {}),
    }),
  )
  const units = either<FormulaUnit>(
    ...formulaUnits.flatMap((each) => (each === 'number' ? [] : [map(literal(`, ${FORMULA_UNIT[each]}`), () => each)])),
  )
  const formula = map(
    chain<[string | null, string, FormulaUnit | null]>(
      maybe(pattern(/([^=;]{1,40}) = /uy, ([, name]) => name!)),
      pattern(/[^;=“”]+?(?=(?:, as (?:a percentage|money|a duration))?(?:;|”|$))/uy, ([text]) => text),
      maybe(units),
    ),
    ([name, text, as]): TrendFormula => ({
      ...(name === null ? {} : { name }),
      ...{ formula: text, unit: as ?? 'number' },
    }),
  )
  return map(
    chain<[TrendSeries, TrendSeries[], TrendFormula[]]>(named, many(after('; ', named)), many(after('; ', formula))),
    ([first, more, formulas]) => ({ series: [first, ...more].map(withoutLetter), formulas }),
  )
}

/** A short name that is the letter of its place is none. */
function withoutLetter(series: TrendSeries, index: number): TrendSeries {
  const { name, ...rest } = series
  return name === handleOf({ series: Array.from({ length: index + 1 }, () => rest) }, index) ? rest : series
}

interface Additions {
  breakdowns?: Split[]
  among?: PeopleRef
  compare?: Comparison
  as?: TrendReading
  smooth?: number
}

function additions({ split, thisYear, among }: Parts): Reader<Additions> {
  const days = day(thisYear)
  const groups = map(
    chain<[Split, Split[]]>(after(', for each ', split), many(after(' and each ', split))),
    ([a, b]) => ({
      breakdowns: [a, ...b],
    }),
  )
  const words = { thisYear }
  const compared = after(
    ', compared with ',
    either<Comparison>(
      ...(['before', 'week', 'month', 'year'] as const).map((to) =>
        map(literal(compareWords({ to }, words)), () => ({ to })),
      ),
      map(chain<[string, string]>(days, after(' to ', days)), ([from, to]) => ({ from, to })),
    ),
  )
  const readings = after(
    ', as ',
    either<TrendReading>(
      map(literal('shares of all'), () => 'share' as const),
      map(literal('an index with the first as 100'), () => 'index' as const),
      map(literal('a running total'), () => 'running total' as const),
    ),
  )
  const smooth = map(chain<[number, string, Unit]>(after(', smoothed over ', count), literal(' '), unitsOf), ([n]) => n)
  return map(
    chain<
      [{ breakdowns: Split[] } | null, { among?: PeopleRef }, Comparison | null, TrendReading | null, number | null]
    >(...([maybe(groups), among, maybe(compared), maybe(readings), maybe(smooth)] as const)),
    ([grouped, people, compare, as, smoothed]) => ({
      ...(grouped ?? {}),
      ...people,
      ...(compare ? { compare } : {}),
      ...(as ? { as } : {}),
      ...(smoothed === null ? {} : { smooth: smoothed }),
    }),
  )
}

/** "each week over the last 12 weeks". */
const timed = ({ period }: Parts, lead: string): Reader<[Unit, Range]> =>
  map(chain<[Unit, Range]>(after(lead, unit), after(' ', period)), (found) => found)

function trends(parts: Parts): Reader<TrendQuestion> {
  const build = (
    series: TrendSeries[],
    formulas: TrendFormula[],
    [every, over]: [Unit, Range],
    { as, ...more }: Additions,
  ): TrendQuestion => ({
    ...{ kind: 'trend', series },
    ...(formulas.length > 0 ? { formulas } : {}),
    ...{ every, range: over, ...more, show: { form: 'lines', as: as ?? 'number' } },
  })
  const end = maybe(literal('?'))
  return either<TrendQuestion>(
    map(
      chain<[TrendSeries, [Unit, Range], Additions, unknown]>(
        parts.series.asked,
        timed(parts, ' each '),
        additions(parts),
        end,
      ),
      ([series, time, more]) => build([series], [], time, more),
    ),
    map(
      chain<[[Unit, Range], Additions, { series: TrendSeries[]; formulas: TrendFormula[] }]>(
        timed(parts, 'Each '),
        additions(parts),
        after(': ', lines(parts)),
      ),
      ([time, more, { series, formulas }]) => build(series, formulas, time, more),
    ),
  )
}

type Laid = Pick<CrosstabQuestion, 'rows' | 'column' | 'among'>

function crosstabs(parts: Parts): Reader<CrosstabQuestion> {
  const { split, among } = parts
  const layout = map(
    chain<[Split, Split[], Split | null, { among?: PeopleRef }]>(
      after(', a row for each ', split),
      many(after(' and within it each ', split)),
      maybe(after(', a column for each ', split)),
      among,
    ),
    ([first, within, column, people]): Laid => ({
      ...{ rows: [first, ...within], ...people },
      ...(column ? { column } : {}),
    }),
  )
  const build = (series: TrendSeries[], [every, over]: [Unit, Range], laid: Laid) => ({
    ...{ kind: 'crosstab' as const, series, every, range: over },
    ...laid,
    show: { cells: 'bars' as const, beside: 'trend' as const },
  })
  return either<CrosstabQuestion>(
    map(
      chain<[TrendSeries, [Unit, Range], Laid, unknown]>(
        ...([parts.series.asked, timed(parts, ' each '), layout, maybe(literal('?'))] as const),
      ),
      ([series, time, laid]) => build([series], time, laid),
    ),
    map(
      chain<[[Unit, Range], Laid, { series: TrendSeries[]; formulas: unknown[] }]>(
        ...([timed(parts, 'Each '), layout, after(': ', lines(parts))] as const),
      ),
      ([time, laid, { series, formulas }]) => (formulas.length > 0 ? null : build(series, time, laid)),
    ),
  )
}

/** "How do “A” and “B” overlap, with the figure sum of Fare in X over the last 12 weeks?" */
function overlaps({ series, side, period, among }: Parts): Reader<OverlapQuestion> {
  const figure = chain<[TrendSeries, Range]>(after(', with the figure ', series.line), after(' ', period))
  return map(
    chain<[Side[], string, [TrendSeries, Range] | null, { among?: PeopleRef }, unknown]>(
      after('How do ', list(side, 'and')),
      literal(' overlap'),
      maybe(figure),
      among,
      maybe(literal('?')),
    ),
    ([sides, , counted, people]): OverlapQuestion => ({
      ...{ kind: 'overlap', sides, range: counted?.[1] ?? { last: 12, unit: 'week' } },
      ...(counted ? { figure: counted[0] } : {}),
      ...people,
    }),
  )
}

function funnels({ series, thisYear, property, side, among, event, filter }: Parts): Reader<FunnelQuestion> {
  const each = map(
    chain<[PropertyRef | SidesRef, number | null, number | null]>(
      after(', for each ', either<PropertyRef | SidesRef>(property, sidesBy(side))),
      maybe(map(chain<[number, string]>(after(' (the ', count), literal(' largest)')), ([keep]) => keep)),
      maybe(after(' at step ', count)),
    ),
    ([by, keep, at]) => ({
      breakdowns: [{ by, keep: keep ?? 10 }],
      ...(at === null ? {} : { readAt: at - 1 }),
    }),
  )
  const entryTest = map(
    chain<[PropertyRef, EntryTest['op'], PropertyRef, string]>(
      property,
      either<EntryTest['op']>(...entryOperators.map((op) => map(literal(` ${op} `), () => op))),
      property,
      literal(' at the start'),
    ),
    ([own, op, entry]): EntryTest => ({ property: own, op, entry }),
  )
  const step = map(
    chain<[EventPick, EntryTest[] | null, string | null]>(
      series.picked,
      maybe(after(' with ', list(entryTest, 'and'))),
      maybe(literal(' (optional)')),
    ),
    ([picked, entry, optional]): FunnelStep => ({
      ...picked,
      ...(entry ? { entry } : {}),
      ...(optional ? { optional: true as const } : {}),
    }),
  )
  const steps = either<FunnelStep[]>(
    map(chain<[FunnelStep, FunnelStep[]]>(after('from ', step), many(after(' to ', step))), ([first, more]) =>
      more.length > 0 ? [first, ...more] : null,
    ),
    map(after('to ', step), (only) => [only]),
  )
  const forbidden = map(
    chain<[EventChoice, Filter | null, number | null]>(
      event,
      maybe(after(' where ', filter)),
      maybe(map(chain<[number, string]>(after(' (after step ', count), literal(')')), ([n]) => n - 1)),
    ),
    ([choice, where, place]): Forbidden => ({
      event: choice,
      ...(where ? { where } : {}),
      ...(place === null ? {} : { after: place }),
    }),
  )
  const days = day(thisYear)
  const compared = either<NonNullable<FunnelQuestion['compare']>>(
    ...(['before', 'year'] as const).map((to) => map(literal(compareWords({ to }, { thisYear })), () => ({ to }))),
    map(chain<[string, string]>(days, after(' to ', days)), ([from, to]) => ({ from, to })),
  )
  const optional = <K extends string, T>(name: K, reader: Reader<T>) =>
    map(maybe(reader), (found): object => (found === null ? {} : { [name]: found }))
  const settings = chain<[object, object, object, object, object]>(
    optional(
      'first',
      map(literal(' for the first time ever'), () => true as const),
    ),
    optional(
      'same',
      map(chain<[PropertyRef, string]>(after(', with the same ', property), literal(' all the way')), ([ref]) => ref),
    ),
    optional('forbidden', after(', without ', list(forbidden, 'and'))),
    optional('compare', after(', compared with ', compared)),
    map(maybe(each), (found) => found ?? {}),
  )
  const target = map(chain<[number, string]>(after(', aiming at ', number), literal(' %')), ([n]) =>
    Number((n / 100).toPrecision(12)),
  )
  return map(
    chain<
      ['people' | 'attempts', FunnelStep[], TimeLimit, object, Range, object, { among?: PeopleRef }, object, unknown]
    >(
      after(
        'How many ',
        either<'people' | 'attempts'>(
          map(literal('people get '), () => 'people' as const),
          map(literal('attempts get '), () => 'attempts' as const),
        ),
      ),
      steps,
      after(' within ', limit),
      optional(
        'order',
        either<'back to back' | 'any order'>(
          map(literal(`, ${ORDER_WORDS['back to back']}`), () => 'back to back' as const),
          map(literal(`, ${ORDER_WORDS['any order']}`), () => 'any order' as const),
        ),
      ),
      after(', starting ', range(thisYear, { since: 'on or after ', from: '' })),
      map(settings, (found): object => Object.assign({}, ...found) as object),
      among,
      optional('target', target),
      maybe(literal('?')),
    ),
    ([counted, found, window, order, over, more, people, aim]) => ({
      ...{ kind: 'funnel', steps: found, window, range: over },
      ...(counted === 'attempts' ? { count: counted } : {}),
      ...order,
      ...more,
      ...people,
      ...aim,
    }),
  )
}
