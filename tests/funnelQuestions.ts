import fc from 'fast-check'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { FunnelQuestion, FunnelShow, FunnelStep } from '../core/analyses/funnel/question.js'
import type { EventChoice, Filter } from '../core/questions/parts.js'
import type { Mark } from '../core/analyses/registry.js'
import type { Split } from '../core/questions/split.js'

/** Random funnels over events a, b, c that carry size, minutes and bike; in all orders, counts and forms. */
const size = { of: 'event', name: 'size' } as const
const minutes = { of: 'event', name: 'minutes' } as const
const bike = { of: 'event', name: 'bike' } as const
const range = { from: '2026-01-05', to: '2026-02-08' }

const choices = fc.constantFrom<EventChoice>(
  { names: ['a'] },
  { names: ['b'] },
  { names: ['c'] },
  { names: ['a', 'c'] },
)
const wheres = fc.constantFrom<Filter | undefined>(...[undefined, undefined, undefined], {
  property: size,
  op: 'is',
  values: ['m'],
})
const entries = fc.constantFrom<FunnelStep['entry']>(
  ...[undefined, undefined, undefined],
  [{ property: minutes, op: '>', entry: minutes }],
  [{ property: size, op: '≠', entry: size }],
  [{ property: bike, op: '=', entry: bike }],
)
const step: fc.Arbitrary<FunnelStep> = fc.record({ event: choices, where: wheres, entry: entries })
const shows = fc.constantFrom<FunnelShow['form']>('steps', 'over time', 'time', 'repeats', 'after', 'apart', 'between')

export const funnelQuestions: fc.Arbitrary<FunnelQuestion> = fc
  .record({
    steps: fc.array(step, { minLength: 1, maxLength: 4 }),
    optional: fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }),
    window: fc.constantFrom({ count: 1, unit: 'day' as const }, { count: 7, unit: 'day' as const }),
    order: fc.constantFrom<FunnelQuestion['order']>(undefined, undefined, 'back to back', 'any order'),
    count: fc.constantFrom<FunnelQuestion['count']>(undefined, 'attempts'),
    first: fc.constantFrom<FunnelQuestion['first']>(undefined, undefined, true),
    same: fc.constantFrom<FunnelQuestion['same']>(undefined, undefined, size, bike),
    forbidden: fc.constantFrom<FunnelQuestion['forbidden']>(
      ...[undefined, undefined, undefined],
      [{ event: { names: ['c'] } }],
      [{ event: { names: ['b'] }, after: 0 }],
      [{ event: { names: ['a'] }, where: { property: size, op: 'is', values: ['s'] }, after: 0 }],
    ),
    breakdowns: fc.constantFrom<Split[] | undefined>(
      undefined,
      undefined,
      [{ by: size, keep: 1 }],
      [{ by: bike, keep: 5 }],
      [{ by: { of: 'weekday' }, keep: 10, order: 'size' }],
      [
        { by: size, keep: 3 },
        { by: { of: 'weekday' }, keep: 10, hideRest: true },
      ],
      [{ by: size, keep: 4, hideNone: true, only: [{ value: 's' }] }],
    ),
    readAt: fc.integer({ min: 0, max: 3 }),
    compare: fc.constantFrom<FunnelQuestion['compare']>(undefined, undefined, { to: 'before' }),
    form: shows,
  })
  .map(({ steps, optional, form, readAt, order, ...rest }): FunnelQuestion => {
    const last = steps.length - 1
    const anyOrder = order === 'any order'
    const show: FunnelShow =
      form === 'after'
        ? { form, step: Math.max(0, last - 1), within: readAt % 2 === 0 ? 'session' : { count: 2, unit: 'day' } }
        : form === 'over time'
          ? { form, every: 'week' }
          : form === 'repeats' && anyOrder
            ? { form: 'steps' }
            : ({ form } as FunnelShow)
    return {
      ...{ kind: 'funnel', range, order, show, ...rest },
      steps: steps.map(({ entry, ...each }, i) => ({
        ...each,
        ...(entry && i > 0 && !anyOrder ? { entry } : {}),
        ...(optional[i] && i > 0 && i < last && !anyOrder ? { optional: true as const } : {}),
      })),
      readAt: Math.min(readAt, last),
    }
  })

/** Every figure of a result that counts people, with the mark that reads them. */
export function funnelFigures(result: FunnelResult, { show }: FunnelQuestion): [Mark, number][] {
  const within = show?.form === 'after' ? show.within : 'session'
  const found: [Mark, number][] = []
  const add = (mark: Mark, people: number) => found.push([mark, people])
  for (const before of [false, true]) {
    const rows = before ? result.before : result
    if (!rows) continue
    for (const row of [rows.all, ...rows.groups])
      row.steps.forEach((each, i) => {
        const at = {
          ...{ kind: 'step' as const, step: i },
          ...(row.key ? { group: row.key } : {}),
          ...(before ? { before: true as const } : {}),
        }
        add({ ...at, what: 'reached' }, each.people)
        if (each.optional) return
        add({ ...at, what: 'lost' }, each.lost)
        add({ ...at, what: 'open' }, each.open)
        add({ ...at, what: 'gone' }, each.lost - each.open)
      })
  }
  for (const line of result.over?.lines ?? [])
    result.over!.buckets.forEach(({ key }, b) =>
      line.reached[b].forEach((people, i) => {
        const at = { kind: 'step' as const, step: i, bucket: key, ...(line.key ? { group: line.key } : {}) }
        add({ ...at, what: 'reached' }, people)
        add({ ...at, what: 'open' }, line.open[b][i])
      }),
    )
  if (result.time) {
    const { from, to, lines } = result.time
    for (const { least, under, count } of lines[0].bars)
      add({ kind: 'took', from, to, least, ...(under === null ? {} : { under }) }, count)
  }
  for (const { step: at, bars } of result.repeats ?? [])
    for (const { times, more, people } of bars)
      add({ kind: 'repeats', step: at, times, ...(more ? { more: true as const } : {}) }, people)
  const { look } = result
  if (look?.form === 'after') {
    const after = { kind: 'after' as const, step: look.step, within }
    add({ ...after, event: null }, look.nothing)
    for (const { event, people } of look.events) add({ ...after, event }, people)
  }
  if (look?.form === 'between') {
    for (const { event, people } of look.events) add({ kind: 'way', events: [event], only: true }, people)
    for (const { events, people } of look.sequences) add({ kind: 'way', events }, people)
  }
  return found
}
