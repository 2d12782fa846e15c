import type { TimeLimit } from '../questions/limits.js'
import { windowUnits } from '../questions/vocabulary.js'
import type { StudyPeople } from '../analyses/people.js'
import type { Condition, EventPick, PropertyRef } from '../questions/parts.js'
import type { Side } from '../questions/split.js'
import {
  comparisons,
  type CountMeasure,
  type CountTest,
  type NumberCompare,
  type Rule,
  type SegmentCondition,
  type TimeCondition,
  type Window,
} from '../segments/rule.js'
import { COMPARE_WORDS, MEASURE_LEAD } from '../segments/words.js'
import { count, day, lastUnits, number, quotedText } from './atoms.js'
import { chain, either, literal, many, map, maybe, after, type Reader } from './reader.js'

/** What rules are made of, over the names of a workspace. */
export interface RuleParts {
  thisYear: number
  property: Reader<PropertyRef>
  /** "did X where …" without its "did" */
  picked: Reader<EventPick>
  condition: Reader<Condition>
  segments: readonly { id: string; words: string }[]
  /** "those … of “…”" without its "those" */
  people: Reader<StudyPeople>
}

/** Reads rules as sentences print them, in parentheses; the very rule comes back, without what says nothing. */
export function rules(parts: RuleParts) {
  const condition = conditions(parts)
  const hold = either<'all' | 'any' | 'none'>(
    ...(['all', 'any', 'none'] as const).map((each) => map(literal(each), () => each)),
  )
  const inner: Reader<Rule> = (text, at) =>
    either<Rule>(
      map(chain<[string, Rule, string]>(literal('('), rule, literal(')')), ([, each]) => each),
      condition,
    )(text, at)
  const rule: Reader<Rule> = (text, at) =>
    either<Rule>(
      map(literal('everybody'), () => ({ hold: 'all', of: [] })),
      map(
        chain<['all' | 'any' | 'none', Rule, Rule[]]>(hold, after(' of: ', inner), many(after('; ', inner))),
        (read) => ({
          hold: read[0],
          of: [read[1], ...read[2]],
        }),
      ),
      condition,
    )(text, at)
  const inParentheses = map(chain<[string, Rule, string]>(literal('('), rule, literal(')')), ([, each]) => each)
  return { rule: inParentheses, segment: segmentNamed(parts.segments) }
}

function segmentNamed(segments: RuleParts['segments']): Reader<string> {
  return map(quotedText, (name) => segments.find(({ words }) => words === name)?.id ?? null)
}

/** "“Regulars”", "not in “Regulars”", "everybody", "“Own” = people (…)". */
export function sides({ rule, segment }: ReturnType<typeof rules>): Reader<Side> {
  return either<Side>(
    map(literal('everybody'), () => ({ everybody: true as const })),
    map(after('not in ', segment), (id) => ({ segment: id, not: true as const })),
    map(chain<[string, Rule]>(quotedText, after(' = people ', rule)), ([name, own]) => ({ name, rule: own })),
    map(segment, (id) => ({ segment: id })),
  )
}

const one = (is: boolean) => (is ? { not: true as const } : {})

function conditions(parts: RuleParts): Reader<SegmentCondition> {
  const { thisYear, picked, people } = parts
  const date = day(thisYear)
  const segment = segmentNamed(parts.segments)
  const not = either<boolean>(
    map(literal('did not do '), () => true),
    map(literal('did '), () => false),
  )
  const window = windows(date, picked)
  const counted = counts(parts.property)
  const profile = map(after('whose ', parts.condition), (where): SegmentCondition => ({ kind: 'profile', where }))
  const did = map(
    chain<[boolean, EventPick, CountTest | null, Window | null]>(
      ...([not, picked, maybe(after(' ', counted)), maybe(window)] as const),
    ),
    ([is, pick, count, when]): SegmentCondition | null =>
      is && count
        ? null
        : { kind: 'did', ...pick, ...one(is), ...(count ? { count } : {}), ...(when ? { window: when } : {}) },
  )
  const limit = map(
    chain<[number, string, TimeLimit['unit'], unknown]>(
      ...([
        count,
        literal(' '),
        either<TimeLimit['unit']>(...windowUnits.map((each) => map(literal(each), () => each))),
        maybe(literal('s')),
      ] as const),
    ),
    ([n, , unit]): TimeLimit => ({ count: n, unit }),
  )
  const sequence = map(
    chain<[boolean, EventPick, EventPick[], TimeLimit]>(
      ...([not, picked, many(after(', then ', picked)), after(' within ', limit)] as const),
    ),
    ([is, first, more, within]): SegmentCondition | null =>
      more.length === 0 ? null : { kind: 'sequence', steps: [first, ...more], within, ...one(is) },
  )
  const when = either<TimeCondition['when']>(
    map(after(' before ', date), (before) => ({ before })),
    map(after(' after ', date), (after) => ({ after })),
    map(after(' in ', lastUnits), (last) => last),
    map(after(' ', lastUnits), (last) => (last.last === 1 ? last : null)),
  )
  const seen = map(
    chain<['first seen' | 'last seen', TimeCondition['when']]>(
      either<'first seen' | 'last seen'>(
        map(literal('were first seen'), () => 'first seen' as const),
        map(literal('were last seen'), () => 'last seen' as const),
      ),
      when,
    ),
    ([asked, at]): SegmentCondition => ({ kind: 'time', asked, when: at }),
  )
  const time = map(
    chain<[EventPick, 'first time' | 'last time', TimeCondition['when']]>(
      after('did ', picked),
      either<'first time' | 'last time'>(
        map(literal(' for the first time'), () => 'first time' as const),
        map(literal(' for the last time'), () => 'last time' as const),
      ),
      when,
    ),
    ([pick, asked, at]): SegmentCondition => ({ kind: 'time', asked, ...pick, when: at }),
  )
  const study = map(
    chain<[boolean, StudyPeople]>(
      either<boolean>(
        map(literal('who are not those '), () => true),
        map(literal('who are those '), () => false),
      ),
      people,
    ),
    ([is, found]): SegmentCondition => ({ kind: 'study', ...found, ...one(is) }),
  )
  const member = either<SegmentCondition>(
    map(
      chain<[boolean, string]>(
        either<boolean>(
          map(literal('who are not in '), () => true),
          map(literal('who are in '), () => false),
        ),
        segment,
      ),
      ([is, id]) => ({ kind: 'segment', segment: id, ...one(is) }),
    ),
    map(
      chain<[boolean, string, string]>(
        either<boolean>(
          map(literal('who were not in '), () => true),
          map(literal('who were in '), () => false),
        ),
        segment,
        after(' at any time since ', date),
      ),
      ([is, id, since]) => ({ kind: 'segment', segment: id, since, ...one(is) }),
    ),
  )
  return either<SegmentCondition>(profile, time, sequence, did, seen, study, member)
}

/** " in the last 14 days", " in days 31 to 60 before", " within 7 days after first doing X". */
function windows(date: Reader<string>, picked: Reader<EventPick>): Reader<Window> {
  const within = map(
    chain<[number, string, unknown]>(...([after(' within ', count), literal(' day'), maybe(literal('s'))] as const)),
    ([days]) => days,
  )
  return either<Window>(
    map(literal(' today'), () => ({ last: 1 })),
    map(after(' in ', lastUnits), ({ last, unit }) => (unit === 'day' && last > 1 ? { last } : null)),
    map(
      chain<[number, number, string]>(after(' in days ', count), after(' to ', count), literal(' before')),
      ([near, far]) => ({ before: [near, far] }),
    ),
    map(chain<[string, string]>(after(' from ', date), after(' to ', date)), ([from, to]) => ({ from, to })),
    map(chain<[number, string]>(within, literal(' after first seen')), ([days]) => ({ after: 'first seen', days })),
    map(chain<[number, EventPick]>(within, after(' after first doing ', picked)), ([days, after]) => ({ after, days })),
  )
}

/** "at least 3 times", "on at least 8 different days", "with a sum of Fare of at least 10". */
function counts(property: Reader<PropertyRef>): Reader<CountTest> {
  const test = either<NumberCompare>(
    map(chain<[number, number]>(after('between ', number), after(' and ', number)), (numbers) => ({
      op: 'between',
      numbers,
    })),
    ...comparisons.map((op) => map(after(`${COMPARE_WORDS[op]} `, number), (x): NumberCompare => ({ op, number: x }))),
  )
  const plain = (measure: CountMeasure, lead: string, unit: string, units: string): Reader<CountTest> =>
    map(chain<[NumberCompare, string]>(after(lead, test), either(literal(units), literal(unit))), ([compare]) => ({
      measure,
      test: compare,
    }))
  return either<CountTest>(
    plain('times', '', ' time', ' times'),
    plain('days', 'on ', ' different day', ' different days'),
    plain('weeks', 'in ', ' different week', ' different weeks'),
    map(
      chain<[NumberCompare, PropertyRef]>(after('with ', test), after(' different values of ', property)),
      ([compare, of]) => ({ measure: 'values', property: of, test: compare }),
    ),
    ...(['sum', 'average', 'maximum', 'minimum'] as const).map((measure) =>
      map(
        chain<[PropertyRef, NumberCompare]>(after(`with ${MEASURE_LEAD[measure]} `, property), after(' of ', test)),
        ([of, compare]): CountTest => ({ measure, property: of, test: compare }),
      ),
    ),
  )
}
