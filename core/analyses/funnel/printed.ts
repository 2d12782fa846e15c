import type { Range } from '../../time/range.js'
import type { TimeLimit } from '../../questions/limits.js'
import {
  entryOperators,
  type EntryTest,
  type Forbidden,
  type FunnelQuestion,
  type FunnelShow,
  type FunnelStep,
} from './question.js'
import { ORDER_WORDS } from './sentence.js'
import type { PeopleRef } from '../people.js'
import type { FunnelMark } from './marks.js'
import type { EventChoice, EventPick, Filter, PropertyRef, ValueKey } from '../../questions/parts.js'
import type { Unit } from '../../time/range.js'
import { count, day, month, number, quotedText, range, year } from '../../ask/atoms.js'
import { chain, either, list, literal, many, map, maybe, optional, after, type Reader } from '../../ask/reader.js'
import { comparisons, keys, limit, type MarkParts, type Parts, type ReadMark } from '../../ask/printedParts.js'

export function funnels({
  picked: pick,
  thisYear,
  property,
  breakdowns,
  among,
  event,
  filter,
}: Parts): Reader<FunnelQuestion> {
  const each = map(
    chain<[object, number | null]>(breakdowns, maybe(after(' at step ', count))),
    ([found, at]): object => ({ ...found, ...(at === null ? {} : { readAt: at - 1 }) }),
  )
  const entryTest = map(
    chain<[PropertyRef, EntryTest['op'], PropertyRef, string]>(
      property,
      either<EntryTest['op']>(...entryOperators.map((op) => map(literal(` ${op} `), () => op))),
      property,
      literal(' at the start'),
    ),
    ([own, op, entry]): EntryTest => ({ property: own, op, entry }),
  )
  const step = map(
    chain<[EventPick, EntryTest[] | null, string | null]>(
      pick,
      maybe(after(' with ', list(entryTest, 'and'))),
      maybe(literal(' (optional)')),
    ),
    ([picked, entry, optional]): FunnelStep => ({
      ...picked,
      ...(entry ? { entry } : {}),
      ...(optional ? { optional: true as const } : {}),
    }),
  )
  const steps = either<FunnelStep[]>(
    map(chain<[FunnelStep, FunnelStep[]]>(after('from ', step), many(after(' to ', step))), ([first, more]) =>
      more.length > 0 ? [first, ...more] : null,
    ),
    map(after('to ', step), (only) => [only]),
  )
  const forbidden = map(
    chain<[EventChoice, Filter | null, number | null]>(
      event,
      maybe(after(' where ', filter)),
      maybe(map(chain<[number, string]>(after(' (after step ', count), literal(')')), ([n]) => n - 1)),
    ),
    ([choice, where, place]): Forbidden => ({
      event: choice,
      ...(where ? { where } : {}),
      ...(place === null ? {} : { after: place }),
    }),
  )
  const settings = chain<[object, object, object, object, object]>(
    optional(
      'first',
      map(literal(' for the first time ever'), () => true as const),
    ),
    optional(
      'same',
      map(chain<[PropertyRef, string]>(after(', with the same ', property), literal(' all the way')), ([ref]) => ref),
    ),
    optional('forbidden', after(', without ', list(forbidden, 'and'))),
    optional('compare', comparisons(thisYear, ['before', 'year'])),
    each,
  )
  const target = map(chain<[number, string]>(after(', aiming at ', number), literal(' %')), ([n]) =>
    Number((n / 100).toPrecision(12)),
  )
  return map(
    chain<
      ['people' | 'attempts', FunnelStep[], TimeLimit, object, Range, object, { among?: PeopleRef }, object, unknown]
    >(
      after(
        'How many ',
        either<'people' | 'attempts'>(
          map(literal('people get '), () => 'people' as const),
          map(literal('attempts get '), () => 'attempts' as const),
        ),
      ),
      steps,
      after(' within ', limit),
      optional(
        'order',
        either<'back to back' | 'any order'>(
          map(literal(`, ${ORDER_WORDS['back to back']}`), () => 'back to back' as const),
          map(literal(`, ${ORDER_WORDS['any order']}`), () => 'any order' as const),
        ),
      ),
      after(', starting ', range(thisYear, { since: 'on or after ', from: '' })),
      map(settings, (found): object => Object.assign({}, ...found) as object),
      among,
      optional('target', target),
      maybe(literal('?')),
    ),
    ([counted, found, window, order, over, more, people, aim]) => ({
      ...{ kind: 'funnel', steps: found, window, range: over },
      ...(counted === 'attempts' ? { count: counted } : {}),
      ...order,
      ...more,
      ...people,
      ...aim,
    }),
  )
}

/** "lost at step 2, begun in the week of 14 Sep", "who took at least 0 ms from step 1 to step 2", and so on. */
export function stepMarks({ thisYear, eventName, property, details }: MarkParts): Reader<ReadStep> {
  const stepNumber = map(after(' step ', count), (n) => n - 1)
  const step = map(
    chain<['reached' | 'lost' | 'open' | 'gone', number, object, Begun | null, object]>(
      either<'reached' | 'lost' | 'open' | 'gone'>(
        map(literal('who reached'), () => 'reached' as const),
        map(literal('lost for good at'), () => 'gone' as const),
        map(literal('lost at'), () => 'lost' as const),
        map(literal('still open at'), () => 'open' as const),
      ),
      stepNumber,
      map(maybe(literal(' of the time it is compared with')), (found) => (found ? { before: true } : {})),
      maybe(after(', begun in ', begun(thisYear))),
      details,
    ),
    ([what, at, before, start, more]): ReadStep => ({
      mark: {
        ...{ kind: 'step', step: at, what },
        ...before,
        ...(start ? { bucket: start.key } : {}),
        ...more,
      } as FunnelMark,
      ...(start ? { show: { form: 'over time', every: start.every } } : {}),
    }),
  )
  const ms = map(chain<[number, string]>(number, literal(' ms')), ([n]) => n)
  const took = map(
    chain<[number, number | null, number, number, object]>(
      after('who took at least ', ms),
      maybe(after(' and under ', ms)),
      after(' from', stepNumber),
      after(' to', stepNumber),
      details,
    ),
    ([least, under, from, to, more]): ReadStep => ({
      mark: { ...{ kind: 'took', from, to, least }, ...(under === null ? {} : { under }), ...more } as FunnelMark,
    }),
  )
  const repeats = map(
    chain<[number, string, number, string]>(
      after('who did', stepNumber),
      either(literal(' at least '), literal(' exactly ')),
      count,
      literal(' times before going on'),
    ),
    ([at, how, times]): ReadStep => ({
      mark: { ...{ kind: 'repeats', step: at, times }, ...(how.includes('least') ? { more: true } : {}) } as FunnelMark,
    }),
  )
  const within = either<TimeLimit | 'session'>(
    map(literal(' in the same session'), () => 'session' as const),
    after(' within ', limit),
  )
  const afterLoss = map(
    chain<[number, string | null, TimeLimit | 'session']>(
      after('lost for good at', stepNumber),
      either<string | null>(
        map(literal(' who did nothing more'), () => ''),
        after(' who then did ', eventName),
      ),
      within,
    ),
    ([at, event, limited]): ReadStep => ({
      mark: { kind: 'after', step: at, event: event === '' ? null : event, within: limited },
      show: { form: 'after', step: at, within: limited },
    }),
  )
  const withValue = map(chain<[PropertyRef, ValueKey]>(after(' with ', property), after(' ', keys)), ([ref, found]) =>
    ref.of === 'event' && 'value' in found ? { property: ref.name, value: found.value } : null,
  )
  const withFeature = map(
    chain<[string, object | null, string]>(
      after('who did ', eventName),
      maybe(withValue),
      either(literal(' on the way and got through'), literal(' on the way and were lost')),
    ),
    ([event, value, how]): ReadStep => ({
      mark: { ...{ kind: 'with', event }, ...value, through: how.endsWith('through') } as FunnelMark,
      show: { form: 'apart' },
    }),
  )
  const way = map(
    either<Pick<FunnelMark & { kind: 'way' }, 'events' | 'only'>>(
      map(literal('who got through straight away'), () => ({ events: [] })),
      map(chain<[string, string]>(after('who got through and did ', eventName), literal(' on the way')), ([event]) => ({
        events: [event],
        only: true as const,
      })),
      map(
        chain<[string, string[]]>(after('who got through by way of ', eventName), many(after(' › ', eventName))),
        ([first, more]) => ({ events: [first, ...more] }),
      ),
    ),
    (found): ReadStep => ({ mark: { kind: 'way', ...found }, show: { form: 'between' } }),
  )
  return either<ReadStep>(afterLoss, step, took, repeats, withFeature, way)
}

/** A mark, and the look at its funnel that it belongs to. */
type ReadStep = ReadMark<FunnelMark> & { show?: FunnelShow }

interface Begun {
  key: string
  every: Unit
}

/** "the week of 14 Sep": by what time a funnel's attempts are gathered, and in which. */
function begun(thisYear: number): Reader<Begun> {
  const date = day(thisYear)
  const by = (every: Unit) => (key: string) => ({ key, every })
  return either<Begun>(
    map(after('the week of ', date), by('week')),
    map(after('the quarter from ', date), by('quarter')),
    map(year, by('year')),
    map(month(thisYear), by('month')),
    map(date, by('day')),
    map(quotedText, by('hour')),
  )
}
