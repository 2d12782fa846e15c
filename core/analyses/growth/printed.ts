import type { Range } from '../../time/range.js'
import { count } from '../../ask/atoms.js'
import { after, chain, either, list, literal, map, maybe, type Reader } from '../../ask/reader.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'
import type { EventPick } from '../../questions/parts.js'
import type { PeopleRef } from '../people.js'
import type { GrowthMark } from './marks.js'
import { growthStates, type GrowthInterval, type GrowthQuestion, type GrowthState } from './question.js'

/** "Who is new, retained, revived, lapsed and idle each week over the last 12 weeks, by doing X?" */
export function growths({ picked, breakdowns, period, among }: Parts): Reader<GrowthQuestion> {
  const interval = either<GrowthInterval>(
    map(literal('each week'), () => ({ unit: 'week' as const })),
    map(literal('each month'), () => ({ unit: 'month' as const })),
    map(literal('every day'), () => ({ days: 1 })),
    map(chain<[number, string]>(after('every ', count), literal(' days')), ([days]) => ({ days })),
  )
  return map(
    chain<[GrowthInterval, Range, EventPick, object, { among?: PeopleRef }, unknown]>(
      after('Who is new, retained, revived, lapsed and idle ', interval),
      after(' ', period),
      after(', by doing ', picked),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([each, range, start, groups, people]): GrowthQuestion => ({
      ...{ kind: 'growth', start, interval: each, range, ...groups, ...people },
      show: { form: 'states' },
    }),
  )
}

/** "who were new or retained in the interval from 14 Sep, coming from idle". */
export function stateMarks({ date, details }: MarkParts): Reader<ReadMark<GrowthMark>> {
  const state = either<GrowthState>(...growthStates.map((each) => map(literal(each), () => each)))
  const from = either<GrowthState | 'unseen'>(
    state,
    map(literal('unseen'), () => 'unseen' as const),
  )
  return map(
    chain<[GrowthState[], object, GrowthState | 'unseen' | null, object]>(
      after('who were ', list(state, 'or')),
      either<object>(
        map(literal(' in the last full interval'), () => ({})),
        map(after(' in the interval from ', date), (interval) => ({ interval })),
      ),
      maybe(after(', coming from ', from)),
      details,
    ),
    ([states, when, came, more]) => ({
      mark: { kind: 'state', states, ...when, ...(came ? { from: came } : {}), ...more },
    }),
  )
}
