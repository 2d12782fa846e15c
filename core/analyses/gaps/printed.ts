import type { Range } from '../../time/range.js'
import { number } from '../../ask/atoms.js'
import { after, chain, either, literal, map, maybe, type Reader } from '../../ask/reader.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'
import type { EventPick } from '../../questions/parts.js'
import type { PeopleRef } from '../people.js'
import type { GapsMark } from './marks.js'
import type { GapsQuestion } from './question.js'

/** "How often do people naturally do X, over the last 26 weeks?" */
export function gapses({ picked, breakdowns, period, among }: Parts): Reader<GapsQuestion> {
  return map(
    chain<[EventPick, Range, object, { among?: PeopleRef }, unknown]>(
      after('How often do people naturally do ', picked),
      after(', ', period),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([start, range, groups, people]): GapsQuestion => ({
      kind: 'gaps',
      start,
      range,
      ...groups,
      ...people,
      show: { form: 'gaps' },
    }),
  )
}

/** "whose gap was at least 7 and at most 14 days". */
export const gapMarks = ({ details }: MarkParts): Reader<ReadMark<GapsMark>> =>
  map(
    chain<[object, number, number | null, string, object]>(
      either<object>(
        map(literal('who came once, gap at least '), () => ({ of: 'once' })),
        map(literal('whose median gap was at least '), () => ({ of: 'median' })),
        map(literal('whose gap was at least '), () => ({})),
      ),
      number,
      maybe(after(' and at most ', number)),
      literal(' days'),
      details,
    ),
    ([of, least, most, , more]) => ({
      mark: { kind: 'gap', least, ...(most === null ? {} : { most }), ...of, ...more } as GapsMark,
    }),
  )
