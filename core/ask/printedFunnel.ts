import { compareWords } from '../analyses/trend/sentence.js'
import {
  entryOperators,
  type EntryTest,
  type Forbidden,
  type FunnelQuestion,
  type FunnelStep,
} from '../analyses/funnel/question.js'
import { ORDER_WORDS } from '../analyses/funnel/sentence.js'
import type { PeopleRef } from '../analyses/people.js'
import type { EventChoice, EventPick, Filter, PropertyRef, TimeLimit } from '../questions/parts.js'
import type { SidesRef } from '../questions/split.js'
import type { Range } from '../time/range.js'
import { count, day, number, range } from './atoms.js'
import { chain, either, list, literal, many, map, maybe, optional, after, type Reader } from './reader.js'
import { limit, type Parts } from './printedParts.js'

export function funnels({ picked: pick, thisYear, property, by, among, event, filter }: Parts): Reader<FunnelQuestion> {
  const each = map(
    chain<[PropertyRef | SidesRef, number | null, number | null]>(
      after(', for each ', by),
      maybe(map(chain<[number, string]>(after(' (the ', count), literal(' largest)')), ([keep]) => keep)),
      maybe(after(' at step ', count)),
    ),
    ([by, keep, at]) => ({
      breakdowns: [{ by, keep: keep ?? 10 }],
      ...(at === null ? {} : { readAt: at - 1 }),
    }),
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
  const days = day(thisYear)
  const compared = either<NonNullable<FunnelQuestion['compare']>>(
    ...(['before', 'year'] as const).map((to) => map(literal(compareWords({ to }, { thisYear })), () => ({ to }))),
    map(chain<[string, string]>(days, after(' to ', days)), ([from, to]) => ({ from, to })),
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
    optional('compare', after(', compared with ', compared)),
    map(maybe(each), (found) => found ?? {}),
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
