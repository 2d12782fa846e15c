import type { Range } from '../../time/range.js'
import type { PeopleRef } from '../people.js'
import type { RetentionMark } from './marks.js'
import {
  retentionMeasures,
  retentionUnits,
  type RetentionMeasure,
  type RetentionQuestion,
  type RetentionUnit,
} from './question.js'
import { MEASURE_WORDS } from './sentence.js'
import type { EventPick, PropertyRef } from '../../questions/parts.js'
import { count, lastUnits } from '../../ask/atoms.js'
import { after, chain, either, list, literal, map, maybe, type Reader } from '../../ask/reader.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'

/** "Of people whose first X fell in a week of the last 12 weeks, what share did it again in each later week?" */
export function retentions({ picked, property, breakdowns, period, among }: Parts): Reader<RetentionQuestion> {
  const yes = (text: string, found: object) => map(maybe(literal(text)), (read) => (read ? found : {}))
  const first = either<object>(
    map(literal('first ever '), () => ({ first: true })),
    map(literal('first '), () => ({})),
  )
  const every = either<RetentionUnit>(
    ...retentionUnits.map((unit) => map(either(literal(`a ${unit} `), literal(`an ${unit} `)), () => unit)),
  )
  const measured = either<object>(
    ...retentionMeasures.map((measure): Reader<object> => {
      const { measure: said, lead } = MEASURE_WORDS[measure]
      const named: object = measure === 'share' ? {} : { measure: measure satisfies RetentionMeasure }
      if (measure !== 'sum' && measure !== 'per person') return map(literal(said + lead), () => named)
      return map(
        chain<[PropertyRef, string]>(after(`${said}${measure === 'sum' ? ' of ' : ' '}`, property), literal(lead)),
        ([of]) => ({ ...named, of }),
      )
    }),
  )
  const back = either<object>(
    map(literal('it again'), () => ({})),
    map(picked, (pick) => ({ back: pick })),
  )
  const span = map(
    chain<[number, number | null]>(count, maybe(after(' to ', count))),
    ([low, high]): [number, number] => [low, high ?? low],
  )
  const lead = either<object>(
    map(literal(' by the end of '), () => ({ cumulated: true })),
    map(literal(' in '), () => ({})),
  )
  const when = either<object>(
    map(
      chain<[object, [number, number][], object]>(
        lead,
        after('days ', list(span, 'and')),
        yes(' or after them', { count: 'from' }),
      ),
      ([how, brackets, more]) => ({ ...how, brackets, ...more }),
    ),
    map(
      chain<[object, unknown, object, object]>(
        lead,
        either(...retentionUnits.map((unit) => literal(`each later ${unit}`))),
        yes(' or after it', { count: 'from' }),
        map(maybe(either(...retentionUnits.map((unit) => after(` up to ${unit} `, count)))), (upTo): object =>
          upTo === null ? {} : { upTo },
        ),
      ),
      ([how, , ...more]): object => Object.assign({}, how, ...more) as object,
    ),
  )
  return map(
    chain<
      [object, EventPick, RetentionUnit, Range, object, object, object, object, object, { among?: PeopleRef }, unknown]
    >(
      after('Of people whose ', first),
      picked,
      map(
        chain<[string, RetentionUnit]>(either(literal(' in this time fell in '), literal(' fell in ')), every),
        ([, unit]) => unit,
      ),
      either<Range>(after('of ', lastUnits), period),
      after(', ', measured),
      back,
      when,
      yes(', counted from the very moment', { by: 'clock' }),
      breakdowns,
      among,
      maybe(literal('?')),
    ),
    ([which, start, unit, range, ...more]) =>
      ({
        ...{ kind: 'retention', start, every: unit, range, show: { form: 'curve' } },
        ...(Object.assign({}, which, ...more.slice(0, -1)) as object),
      }) as RetentionQuestion,
  )
}

/** "who came back in period 4, begun in the week of 14 Sep (Annual)". */
export function cohortMarks({ bucket, details }: MarkParts): Reader<ReadMark<RetentionMark>> {
  const what = either<RetentionMark['what']>(
    map(literal('who started'), () => 'started' as const),
    map(literal('who came back'), () => 'returned' as const),
    map(literal('who did not come back'), () => 'not' as const),
    map(literal('gone for good'), () => 'gone' as const),
  )
  return map(
    chain<[RetentionMark['what'], number | null, string | null, object]>(
      what,
      maybe(after(' in period ', count)),
      maybe(after(', begun in ', bucket)),
      details,
    ),
    ([did, period, cohort, more]) => ({
      mark: {
        ...{ kind: 'cohort', what: did },
        ...(period === null ? {} : { period }),
        ...(cohort === null ? {} : { cohort }),
        ...more,
      },
    }),
  )
}
