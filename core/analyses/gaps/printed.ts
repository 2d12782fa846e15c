import type { Range } from '../../time/range.js'
import { number } from '../../ask/atoms.js'
import { after, chain, either, literal, map, maybe, type Reader } from '../../ask/reader.js'
import type { Parts, ReadMark } from '../../ask/printedParts.js'
import type { EventPick } from '../../questions/parts.js'
import type { PeopleRef } from '../people.js'
import type { GapsMark } from './marks.js'
import type { GapsQuestion } from './question.js'

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

/** "whose gap was at least 7 and at most 14 days". */
export const gapMarks = (): Reader<ReadMark<GapsMark>> =>
  map(
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
    ([of, least, most]) => ({ mark: { kind: 'gap', least, ...(most === null ? {} : { most }), ...of } as GapsMark }),
  )
