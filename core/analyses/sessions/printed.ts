import { count, number } from '../../ask/atoms.js'
import { comparisons } from '../../ask/printedParts.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'
import { after, chain, either, literal, map, maybe, optional, type Reader } from '../../ask/reader.js'
import type { Range } from '../../time/range.js'
import type { PeopleRef } from '../people.js'
import type { SessionsMark } from './marks.js'
import {
  sessionMeasures,
  sessionUnits,
  type SessionMeasure,
  type SessionsQuestion,
  type SessionUnit,
} from './question.js'
import { ASKED, MEASURE_UNIT } from './words.js'
import { COMPARED_TO } from '../../time/comparison.js'
import type { NumberUnit } from '../../words/format.js'

interface Target {
  n: number
  unit: NumberUnit
}

/** "How long is a typical session each week over the last 12 weeks, only sessions with X?" */
export function sessionStudies({ picked, breakdowns, period, among, thisYear }: Parts): Reader<SessionsQuestion> {
  const measure = either<SessionMeasure>(...sessionMeasures.map((each) => map(literal(ASKED[each]), () => each)))
  const target = either<Target>(
    map(chain<[number, string]>(number, either(literal(' minutes'), literal(' minute'))), ([n]) => ({
      ...{ n, unit: 'duration' },
    })),
    map(chain<[number, string]>(after('no more than ', number), literal(' %')), ([n]) => ({
      ...{ n: Number((n / 100).toPrecision(12)), unit: 'percent' },
    })),
    map(number, (n) => ({ n, unit: 'number' })),
    map(number, (n) => ({ n, unit: 'count' })),
  )
  const every = either<SessionUnit>(...sessionUnits.map((unit) => map(literal(` each ${unit}`), () => unit)))
  return map(
    chain<
      [
        SessionMeasure,
        SessionUnit,
        Range,
        object,
        object,
        object,
        { among?: PeopleRef },
        object,
        Target | null,
        unknown,
      ]
    >(
      measure,
      every,
      after(' ', period),
      optional('holds', after(', only sessions with ', picked)),
      optional(
        'first',
        map(literal(', only the first session of each person'), () => true as const),
      ),
      breakdowns,
      among,
      optional('compare', comparisons(thisYear, COMPARED_TO)),
      maybe(after(', aiming at ', target)),
      maybe(literal('?')),
    ),
    ([asked, unit, range, holds, first, groups, people, compare, aim]) => {
      // What is aimed at is said in the measure's own unit.
      if (aim && aim.unit !== MEASURE_UNIT[asked]) return null
      return {
        ...{ kind: 'sessions', measure: asked, every: unit, range },
        ...{ ...holds, ...first, ...groups, ...people, ...compare, ...(aim ? { target: aim.n } : {}) },
        show: { form: 'over time' },
      } as SessionsQuestion
    },
  )
}

/** "who had a session in the week of 14 Sep, of length 3, from App opened (Annual)". */
export function sessionMarks({ bucket, eventName, details }: MarkParts): Reader<ReadMark<SessionsMark>> {
  return map(
    chain<[unknown, object, object, object, object, object, object, object, object]>(
      literal('who had a session'),
      optional('bucket', after(' in ', bucket)),
      optional(
        'before',
        map(literal(' of the time it is compared with'), () => true as const),
      ),
      optional(
        'single',
        map(literal(', of one event only'), () => true as const),
      ),
      optional('length', after(', of length ', count)),
      optional(
        'over',
        map(chain<[number, unknown]>(after(', over ', count), literal(' minutes')), ([minutes]) => minutes),
      ),
      optional('entry', after(', from ', eventName)),
      optional('exit', after(', to ', eventName)),
      details,
    ),
    ([, ...parts]) => ({ mark: { kind: 'session', ...(Object.assign({}, ...parts) as object) } as SessionsMark }),
  )
}
