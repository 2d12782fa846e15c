import type { Range } from '../../time/range.js'
import type { NestedKey } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Unit } from '../../time/range.js'
import { after, chain, either, literal, many, map, maybe, optional, type Reader } from '../../ask/reader.js'
import { timed, type MarkParts, type Parts, type ReadMark } from '../../ask/printedParts.js'
import type { PeopleRef } from '../people.js'
import { lines } from '../trend/printed.js'
import type { TrendSeries } from '../trend/question.js'
import type { CrosstabMark } from './marks.js'
import type { CrosstabQuestion } from './question.js'

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

/** "in the row Quay › Day pass and the column Annual in the week of 14 Sep (series 2)". */
export function cellMarks({ bucket, details, key }: MarkParts): Reader<ReadMark<CrosstabMark>> {
  return map(
    chain<[NestedKey[], object, object, object]>(
      either<NestedKey[]>(
        map(literal('in all rows'), () => []),
        map(chain<[NestedKey, NestedKey[]]>(after('in the row ', key), many(after(' › ', key))), ([a, b]) => [a, ...b]),
      ),
      optional('column', after(' and the column ', key)),
      optional('bucket', after(' in ', bucket)),
      details,
    ),
    ([row, ...parts]) => ({ mark: { ...{ kind: 'cell', row }, ...Object.assign({}, ...parts) } as CrosstabMark }),
  )
}
