import { count, lastUnits, quotedText } from '../../ask/atoms.js'
import type { MarkParts, Parts, ReadMark } from '../../ask/printedParts.js'
import { after, chain, either, list, literal, map, maybe, optional, type Reader } from '../../ask/reader.js'
import type { EventPick } from '../../questions/parts.js'
import type { Range } from '../../time/range.js'
import type { PeopleRef } from '../people.js'
import type { TippingMark } from './marks.js'
import { tippingUnits, type OpenedEvent, type Outcome, type TippingQuestion, type TippingUnit } from './question.js'

/** "Of people whose first ever X fell in the last 6 months, what done in the first 7 days goes with Y in week 4?" */
export function tippings({ picked, period, among }: Parts): Reader<TippingQuestion> {
  const unit = either<TippingUnit>(...tippingUnits.map((each) => map(literal(`${each} `), () => each)))
  const clock = map(maybe(literal(' from the very moment')), (found): object => (found ? { by: 'clock' } : {}))
  const outcome = either<Outcome>(
    map(chain<[TippingUnit, number, object]>(after('in ', unit), count, clock), ([each, at, more]): Outcome => ({
      unit: each,
      period: at,
      ...more,
    })),
    map(
      chain<[TippingUnit, number, unknown, object]>(after('from ', unit), count, literal(' on'), clock),
      ([each, at, , more]): Outcome => ({ unit: each, period: at, from: true, ...more }),
    ),
    map(
      chain<[number | null, number, unknown]>(
        maybe(map(chain<[number, unknown]>(after('at least ', count), literal(' times ')), ([n]) => n)),
        after('within ', count),
        either(literal(' days thereafter'), literal(' day thereafter')),
      ),
      ([times, days]): Outcome => ({ days, ...(times === null ? {} : { times }) }),
    ),
  )
  const days = either<number>(
    map(literal('the first day'), () => 1),
    map(chain<[number, unknown]>(after('the first ', count), literal(' days')), ([n]) => n),
  )
  const opened = map(
    chain<[object, string, string]>(
      either<object>(
        map(literal('how many different '), () => ({ as: 'different' })),
        map(literal('each '), () => ({})),
      ),
      quotedText,
      after(' of ', quotedText),
    ),
    ([as, by, event]): OpenedEvent => ({ event: { names: [event] }, by: { of: 'event', name: by }, ...as }),
  )
  return map(
    chain<[EventPick, Range, number, EventPick, Outcome, object, object, object, { among?: PeopleRef }, unknown]>(
      after('Of people whose first ever ', picked),
      after(' fell ', either<Range>(after('in ', lastUnits), period)),
      after(', what done in ', days),
      after(' goes with ', picked),
      after(' ', outcome),
      optional('leftOut', after(', leaving out ', list(quotedText, 'and'))),
      optional('open', after(', also by ', list(opened, 'and'))),
      map(maybe(literal(', counted in days')), (found): object => (found ? { count: 'days' } : {})),
      among,
      maybe(literal('?')),
    ),
    ([start, range, early, goal, came, leftOut, open, counted, people]): TippingQuestion => ({
      ...{ kind: 'tipping', start, range, days: early, goal, outcome: came },
      ...leftOut,
      ...open,
      ...counted,
      ...people,
      show: { form: 'strips' },
    }),
  )
}

/** "who did “Ride rated” at least 3 times early and for whom it came". */
export function tippingMarks({ key }: MarkParts): Reader<ReadMark<TippingMark>> {
  const times = map(
    maybe(
      either<object>(
        map(chain<[number, unknown]>(after(' at least ', count), literal(' times')), ([n]) => ({ times: n })),
        map(chain<[number, unknown]>(after(' just ', count), literal(' times')), ([n]) => ({ exactly: n })),
      ),
    ),
    (found) => found ?? {},
  )
  const value = map(key, (found) =>
    'value' in found && typeof found.value !== 'number' ? { value: found.value } : null,
  )
  const property = map(quotedText, (name) => ({ of: 'event' as const, name }))
  const valued = map(
    maybe(
      either<object>(
        map(after(' of different ', property), (by) => ({ by })),
        map(
          chain<[object, { value: string | boolean | null }]>(after(' of ', property), after(' ', value)),
          ([by, found]) => ({
            by,
            is: found.value,
          }),
        ),
      ),
    ),
    (found): object => found ?? {},
  )
  const did = map(
    chain<[object, string, object, object, unknown]>(
      either<object>(
        map(literal('who did not do '), () => ({ not: true })),
        map(literal('who did '), () => ({})),
      ),
      quotedText,
      valued,
      times,
      literal(' early'),
    ),
    ([not, event, of, often]): object => ({ event, ...of, ...often, ...not }),
  )
  const outcome = map(
    maybe(
      either<TippingMark['outcome']>(
        map(literal(' and for whom it came'), () => 'came' as const),
        map(literal(' and for whom it did not come'), () => 'did not come' as const),
      ),
    ),
    (found): object => (found ? { outcome: found } : {}),
  )
  const also = map(
    chain<[object, string, object, object]>(
      either<object>(
        map(literal(' and did not do '), () => ({ not: true })),
        map(literal(' and did '), () => ({})),
      ),
      quotedText,
      valued,
      times,
    ),
    ([not, event, of, often]): object => ({ event, ...of, ...often, ...not }),
  )
  const of = map(
    chain<[string, { value: string | boolean | null }]>(after(' with ', quotedText), after(' ', value)),
    ([name, found]): object => ({ property: { of: 'person', name }, ...found }),
  )
  return map(
    chain<[object, object, object, object, object]>(
      either<object>(
        map(literal('who began'), () => ({})),
        did,
      ),
      optional('also', also),
      optional('of', of),
      map(maybe(literal(' with days left')), (found): object => (found ? { left: true } : {})),
      outcome,
    ),
    ([who, ...more]) => ({ mark: Object.assign({ kind: 'early' }, who, ...more) as TippingMark }),
  )
}
