import type { GapsQuestion } from '../analyses/gaps/question.js'
import {
  growthStates,
  type GrowthInterval,
  type GrowthQuestion,
  type GrowthState,
} from '../analyses/growth/question.js'
import { habitPeriods, HABIT_UNITS, type HabitPeriod, type HabitQuestion } from '../analyses/habit/question.js'
import { periodPhrase } from '../analyses/habit/words.js'
import type { PeopleRef } from '../analyses/people.js'
import type { EventPick, Mark, PropertyRef } from '../questions/parts.js'
import type { SidesRef } from '../questions/split.js'
import type { Range } from '../time/range.js'
import { count, number, quotedText } from './atoms.js'
import { after, chain, either, list, literal, map, maybe, type Reader } from './reader.js'
import type { Parts } from './printedParts.js'

/** "How many days in a week do people do X over the last 12 weeks, with “Core” at 3 days or more?" */
export function habits({ picked, by, period, among }: Parts): Reader<HabitQuestion> {
  const counted = either<HabitPeriod>(
    ...habitPeriods.map((each) =>
      map(literal(`How many ${HABIT_UNITS[each].unit}s in ${periodPhrase(each)} do people do `), () => each),
    ),
  )
  const core = map(
    chain<[string, number, unknown, string]>(
      after(', with ', quotedText),
      after(' at ', count),
      either(...['hour', 'day', 'week'].flatMap((unit) => [literal(` ${unit}s`), literal(` ${unit}`)])),
      literal(' or more'),
    ),
    ([name, days]): object => ({ core: { days, name } }),
  )
  const each = map(
    chain<[PropertyRef | SidesRef, number | null]>(
      after(', for each ', by),
      maybe(map(chain<[number, string]>(after(' (the ', count), literal(' largest)')), ([keep]) => keep)),
    ),
    ([own, keep]): object => ({ breakdowns: [{ by: own, keep: keep ?? 10 }] }),
  )
  return map(
    chain<[HabitPeriod, EventPick, Range, object | null, object | null, { among?: PeopleRef }, unknown]>(
      counted,
      picked,
      after(' ', period),
      maybe(core),
      maybe(each),
      among,
      maybe(literal('?')),
    ),
    ([unit, start, range, threshold, groups, people]): HabitQuestion => ({
      ...{ kind: 'habit', start, period: unit, range, ...threshold, ...groups, ...people },
      show: { form: 'at least' },
    }),
  )
}

/** "Who is new, retained, revived, lapsed and idle each week over the last 12 weeks, by doing X?" */
export function growths({ picked, period, among }: Parts): Reader<GrowthQuestion> {
  const interval = either<GrowthInterval>(
    map(literal('each week'), () => ({ unit: 'week' as const })),
    map(literal('each month'), () => ({ unit: 'month' as const })),
    map(literal('every day'), () => ({ days: 1 })),
    map(chain<[number, string]>(after('every ', count), literal(' days')), ([days]) => ({ days })),
  )
  return map(
    chain<[GrowthInterval, Range, EventPick, { among?: PeopleRef }, unknown]>(
      after('Who is new, retained, revived, lapsed and idle ', interval),
      after(' ', period),
      after(', by doing ', picked),
      among,
      maybe(literal('?')),
    ),
    ([each, range, start, people]): GrowthQuestion => ({
      ...{ kind: 'growth', start, interval: each, range, ...people },
      show: { form: 'states' },
    }),
  )
}

/** "How often do people naturally do X, over the last 26 weeks?" */
export function gapses({ picked, period, among }: Parts): Reader<GapsQuestion> {
  return map(
    chain<[EventPick, Range, { among?: PeopleRef }, unknown]>(
      after('How often do people naturally do ', picked),
      after(', ', period),
      among,
      maybe(literal('?')),
    ),
    ([start, range, people]): GapsQuestion => ({ kind: 'gaps', start, range, ...people, show: { form: 'gaps' } }),
  )
}

/** "who were new or retained in the interval from 14 Sep, coming from idle". */
export function stateMarks(date: Reader<string>): Reader<Mark> {
  const state = either<GrowthState>(...growthStates.map((each) => map(literal(each), () => each)))
  const from = either<GrowthState | 'unseen'>(
    state,
    map(literal('unseen'), () => 'unseen' as const),
  )
  return map(
    chain<[GrowthState[], object, GrowthState | 'unseen' | null]>(
      after('who were ', list(state, 'or')),
      either<object>(
        map(literal(' in the last full interval'), () => ({})),
        map(after(' in the interval from ', date), (interval) => ({ interval })),
      ),
      maybe(after(', coming from ', from)),
    ),
    ([states, when, came]): Mark => ({ kind: 'state', states, ...when, ...(came ? { from: came } : {}) }),
  )
}

/** "who came on 3 or more of the period from 1 Oct, at place 2 (Annual)". */
export function daysMarks(date: Reader<string>, details: Reader<object>): Reader<Mark> {
  const days = either<object>(
    map(literal('any'), () => ({})),
    map(chain<[number, unknown]>(count, maybe(literal(' or more'))), ([n, more]) => ({
      days: n,
      ...(more ? { more: true } : {}),
    })),
  )
  const period = either<object>(
    map(literal(' of any period'), () => ({})),
    map(after(' of the period from ', date), (bucket) => ({ bucket })),
  )
  return map(
    chain<[object, object, number | null, object]>(
      after('who came on ', days),
      period,
      maybe(after(', at place ', count)),
      details,
    ),
    ([many, when, place, more]) =>
      ({ kind: 'days', ...many, ...when, ...(place === null ? {} : { place }), ...more }) as Mark,
  )
}

/** "whose gap was at least 7 and at most 14 days". */
export const gapMarks: Reader<Mark> = map(
  chain<[object, number, number | null, string]>(
    either<object>(
      map(literal('who came once, gap at least '), () => ({ of: 'once' })),
      map(literal('whose median gap was at least '), () => ({ of: 'median' })),
      map(literal('whose gap was at least '), () => ({})),
    ),
    number,
    maybe(after(' and at most ', number)),
    literal(' days'),
  ),
  ([of, least, most]) => ({ kind: 'gap', least, ...(most === null ? {} : { most }), ...of }) as Mark,
)
