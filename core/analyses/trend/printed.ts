import { COMPARED_TO, type Comparison } from '../../time/comparison.js'
import type { Range } from '../../time/range.js'
import { FORMULA_UNIT } from './sentence.js'
import {
  formulaUnits,
  handleOf,
  type FormulaUnit,
  type TrendFormula,
  type TrendQuestion,
  type TrendReading,
  type TrendSeries,
} from './question.js'
import type { PeopleRef } from '../people.js'
import type { Split } from '../../questions/split.js'
import type { Unit } from '../../time/range.js'
import { count, unitsOf } from '../../ask/atoms.js'
import { chain, either, literal, many, map, maybe, optional, pattern, after, type Reader } from '../../ask/reader.js'
import { comparisons, timed, type MarkParts, type Parts, type ReadMark } from '../../ask/printedParts.js'
import type { TrendMark } from './marks.js'

/** "a = people who did X; b = …; share = a / b, as a percentage". */
export function lines({ series }: Parts): Reader<{ series: TrendSeries[]; formulas: TrendFormula[] }> {
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

function additions({ breakdowns, thisYear, among }: Parts): Reader<Additions> {
  const compared = comparisons(thisYear, COMPARED_TO)
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
    chain<[{ breakdowns?: Split[] }, { among?: PeopleRef }, Comparison | null, TrendReading | null, number | null]>(
      ...([breakdowns, among, maybe(compared), maybe(readings), maybe(smooth)] as const),
    ),
    ([grouped, people, compare, as, smoothed]) => ({
      ...grouped,
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

/** "in the week of 14 Sep of the time it is compared with (series 2; Annual)". */
export function pointMarks({ bucket, details }: MarkParts): Reader<ReadMark<TrendMark>> {
  return map(
    chain<[object, object, object, object]>(
      either<object>(
        map(literal('at any time'), () => ({})),
        map(after('in ', bucket), (found) => ({ bucket: found })),
      ),
      map(maybe(literal(' of the time it is compared with')), (found) => (found ? { before: true } : {})),
      optional('not', after(' and not in ', bucket)),
      details,
    ),
    (parts) => ({ mark: { kind: 'point', ...Object.assign({}, ...parts) } as TrendMark }),
  )
}
