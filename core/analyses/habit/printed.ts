import type { Range } from '../../time/range.js'
import { count, quotedText } from '../../ask/atoms.js'
import { after, chain, either, literal, map, maybe, type Reader } from '../../ask/reader.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'
import type { EventPick } from '../../questions/parts.js'
import type { PeopleRef } from '../people.js'
import type { HabitMark } from './marks.js'
import { HABIT_UNITS, habitPeriods, type HabitPeriod, type HabitQuestion } from './question.js'
import { periodPhrase } from './words.js'

/** "How many days in a week do people do X over the last 12 weeks, with “Core” at 3 days or more?" */
export function habits({ picked, breakdowns, period, among }: Parts): Reader<HabitQuestion> {
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
  return map(
    chain<[HabitPeriod, EventPick, Range, object | null, object, { among?: PeopleRef }, unknown]>(
      counted,
      picked,
      after(' ', period),
      maybe(core),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([unit, start, range, threshold, groups, people]): HabitQuestion => ({
      ...{ kind: 'habit', start, period: unit, range, ...threshold, ...groups, ...people },
      show: { form: 'at least' },
    }),
  )
}

/** "who came on 3 or more of the period from 1 Oct, at place 2 (Annual)". */
export function daysMarks({ date, details }: MarkParts): Reader<ReadMark<HabitMark>> {
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
    ([many, when, place, more]) => ({
      mark: { kind: 'days', ...many, ...when, ...(place === null ? {} : { place }), ...more } as HabitMark,
    }),
  )
}
