import type { Range } from '../time/range.js'
import type { TimeLimit } from '../questions/limits.js'
import { dateOperators, numberOperators, plainOperators, windowUnits } from '../questions/vocabulary.js'
import type { PeopleRef } from '../analyses/people.js'
import type { Condition, EventChoice, EventPick, Filter, NestedKey, PropertyRef, ValueKey } from '../questions/parts.js'
import type { Side, SidesRef, Cuts, Split, SplitRef } from '../questions/split.js'
import { EQUAL_WORDS } from '../analyses/splitParts.js'
import { MOST_SPLITS } from '../questions/vocabulary.js'
import type { Unit } from '../time/range.js'
import type { ComparedTo } from '../time/comparison.js'
import { compareWords, WEEKDAYS } from '../words/words.js'
import { count, day, lastUnits, number, plainText, quotedText, unit } from './atoms.js'
import { chain, either, list, literal, many, map, maybe, names, pattern, after, type Reader } from './reader.js'
import type { SeriesReaders } from './printedSeries.js'

/** What all kinds of sentence are made of, over the names of a workspace. */
export interface Parts {
  thisYear: number
  event: Reader<EventChoice>
  property: Reader<PropertyRef>
  filter: Reader<Filter>
  /** an event and the condition on it */
  picked: Reader<EventPick>
  series: SeriesReaders
  side: Reader<Side>
  split: Reader<Split>
  /** ", for each … and each …", or nothing */
  breakdowns: Reader<{ breakdowns?: Split[] }>
  period: Reader<Range>
  among: Reader<{ among?: PeopleRef }>
}

/** What the marks of all kinds of study are made of. */
export interface MarkParts {
  thisYear: number
  eventName: Reader<string>
  property: Reader<PropertyRef>
  /** a local day */
  date: Reader<string>
  /** a bucket by its key */
  bucket: Reader<string>
  /** a row's or column's own part of its name */
  key: Reader<NestedKey>
  /** what else tells a mark from others, in parentheses: its series, formula, group */
  details: Reader<object>
}

/** A mark, and how its study has to be drawn for it, where it is of one drawing only. */
export interface ReadMark<Mark> {
  mark: Mark
  show?: object
}

/** ", for each Plan (the 3 largest) and each Day of week", or nothing. */
export function breakdownsOf(split: Reader<Split>): Parts['breakdowns'] {
  return map(
    maybe(
      map(chain<[Split, Split[]]>(after(', for each ', split), many(after(' and each ', split))), ([first, more]) =>
        more.length < MOST_SPLITS ? [first, ...more] : null,
      ),
    ),
    (found) => (found ? { breakdowns: found } : {}),
  )
}

/** ", compared with the time just before", or with an own time. */
export function comparisons<T extends ComparedTo>(
  thisYear: number,
  choices: readonly T[],
): Reader<{ to: T } | { from: string; to: string }> {
  const days = day(thisYear)
  return after(
    ', compared with ',
    either<{ to: T } | { from: string; to: string }>(
      ...choices.map((to) => map(literal(compareWords({ to }, { thisYear })), () => ({ to }))),
      map(chain<[string, string]>(days, after(' to ', days)), ([from, to]) => ({ from, to })),
    ),
  )
}

/** "7 days". */
export const limit: Reader<TimeLimit> = map(
  chain<[number, string, TimeLimit['unit'], unknown]>(
    count,
    literal(' '),
    either<TimeLimit['unit']>(...windowUnits.map((each) => map(literal(each), () => each))),
    maybe(literal('s')),
  ),
  ([n, , unit]): TimeLimit => ({ count: n, unit }),
)

/** A tree of conditions; groups within groups stand in parentheses. */
export function filters(property: Reader<PropertyRef>, thisYear: number): Reader<Filter> {
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

export function conditions(property: Reader<PropertyRef>, thisYear: number): Reader<Condition> {
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

export const keys: Reader<ValueKey> = either<ValueKey>(
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
export function splits(property: Reader<PropertyRef>, side: Reader<Side>): Reader<Split> {
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
          ' ranges ',
          either<'width' | 'count'>(
            map(literal(EQUAL_WORDS.width), () => 'width' as const),
            map(literal(EQUAL_WORDS.count), () => 'count' as const),
            // As it was said before.
            map(literal('of equal count'), () => 'count' as const),
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
export function sidesBy(side: Reader<Side>): Reader<SidesRef> {
  return map(after('of ', list(side, 'and')), (sides) => ({ of: 'segments' as const, sides }))
}

/** "each week over the last 12 weeks". */
export const timed = ({ period }: Parts, lead: string): Reader<[Unit, Range]> =>
  map(chain<[Unit, Range]>(after(lead, unit), after(' ', period)), (found) => found)
