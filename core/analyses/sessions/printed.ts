import { count } from '../../ask/atoms.js'
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
import { ASKED } from './words.js'

/** "How long is a typical session each week over the last 12 weeks, only sessions with X?" */
export function sessionStudies({ picked, breakdowns, period, among }: Parts): Reader<SessionsQuestion> {
  const measure = either<SessionMeasure>(...sessionMeasures.map((each) => map(literal(ASKED[each]), () => each)))
  const every = either<SessionUnit>(...sessionUnits.map((unit) => map(literal(` each ${unit}`), () => unit)))
  return map(
    chain<[SessionMeasure, SessionUnit, Range, object, object, object, { among?: PeopleRef }, unknown]>(
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
      maybe(literal('?')),
    ),
    ([asked, unit, range, ...more]) =>
      ({
        ...{ kind: 'sessions', measure: asked, every: unit, range },
        ...(Object.assign({}, ...more.slice(0, -1)) as object),
        show: { form: 'over time' },
      }) as SessionsQuestion,
  )
}

/** "who had a session in the week of 14 Sep, of length 3, from App opened (Annual)". */
export function sessionMarks({ bucket, eventName, details }: MarkParts): Reader<ReadMark<SessionsMark>> {
  return map(
    chain<[unknown, object, object, object, object, object, object, object]>(
      literal('who had a session'),
      optional('bucket', after(' in ', bucket)),
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
