import type { Range } from '../../time/range.js'
import { count } from '../../ask/atoms.js'
import { after, chain, list, literal, map, maybe, type Reader } from '../../ask/reader.js'
import type { Parts, ReadMark } from '../../ask/printedParts.js'
import type { Side } from '../../questions/split.js'
import type { PeopleRef } from '../people.js'
import type { TrendSeries } from '../trend/question.js'
import type { OverlapMark } from './marks.js'
import type { OverlapQuestion } from './question.js'

/** "How do “A” and “B” overlap, with the figure sum of Fare in X over the last 12 weeks?" */
export function overlaps({ series, side, period, among }: Parts): Reader<OverlapQuestion> {
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

/** "in part 1 and 3 or more". */
export const partMarks = (): Reader<ReadMark<OverlapMark>> =>
  map(
    chain<[number[], unknown]>(after('in part ', list(count, 'and')), maybe(literal(' or more'))),
    ([inside, more]) => ({
      mark: { ...{ kind: 'part', in: inside.map((n) => n - 1) }, ...(more ? { more: true as const } : {}) },
    }),
  )
