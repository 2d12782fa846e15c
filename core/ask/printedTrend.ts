import { FORMULA_UNIT, compareWords } from '../analyses/trend/sentence.js'
import {
  formulaUnits,
  handleOf,
  type Comparison,
  type FormulaUnit,
  type TrendFormula,
  type TrendQuestion,
  type TrendReading,
  type TrendSeries,
} from '../analyses/trend/question.js'
import type { CrosstabQuestion } from '../analyses/crosstab/question.js'
import type { PeopleRef } from '../analyses/people.js'
import type { Split } from '../questions/split.js'
import type { Range, Unit } from '../time/range.js'
import { count, day, unitsOf } from './atoms.js'
import { chain, either, literal, many, map, maybe, pattern, after, type Reader } from './reader.js'
import { timed, type Parts } from './printedParts.js'

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

export function trends(parts: Parts): Reader<TrendQuestion> {
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

export function crosstabs(parts: Parts): Reader<CrosstabQuestion> {
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
