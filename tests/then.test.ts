import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { GapsResult } from '../core/analyses/gaps/finish.js'
import type { GrowthResult } from '../core/analyses/growth/finish.js'
import type { HabitResult } from '../core/analyses/habit/finish.js'
import { readWhen } from '../core/analyses/inWords.js'
import { analysisOf, type Question } from '../core/analyses/registry.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import type { Value } from '../core/log/values.js'
import type { PropertyRef } from '../core/questions/parts.js'
import type { Split } from '../core/questions/split.js'
import { answer, days, eventLog, logOf, MONDAY, peopleIn, type TestEvent, type TestLog } from './eventLog.js'
import { countsOf, membersIn, planOf } from './segmentLog.js'

const range = { from: '2026-01-05', to: '2026-02-01' }
const ride = { event: { names: ['ride'] } }
const plan: PropertyRef = { of: 'person', name: 'plan' }
const planNow: PropertyRef = { of: 'person', name: 'plan', now: true }
const by = (property: PropertyRef): Split[] => [{ by: property, keep: 10 }]
const isPlus = (property: PropertyRef) => ({ property, op: 'is' as const, values: ['plus'] })

const PASTS = {
  ada: {
    plan: [
      { since: -Infinity, value: 'basic' },
      { since: MONDAY + days(10), value: 'plus' },
    ],
  },
  bea: { plan: [{ since: MONDAY + days(2), value: 'plus' }] },
  cai: { plan: [{ since: -Infinity, value: 'plus' }] },
}

/** ada had basic from the first, plus from the 11th day on; bea is known to have plus from the 3rd day; cai always plus. */
const log = () =>
  eventLog(
    { ada: 'open@1d ride@2d ride@12d', bea: 'open@1d ride@1d+1h ride@2d ride@20d', cai: 'open@3d ride@4d' },
    {
      pasts: PASTS,
    },
  )
const totals = ({ lines }: TrendResult) =>
  lines[0].groups.map(({ key, total }) => [(key as { value: string | null }).value, total])
const rows = <R extends { key: unknown }>({ groups }: { groups: R[] }) =>
  groups.map((row) => [(row.key as { value: string | null }).value, row] as const)

describe('a profile property is read as it was then', () => {
  const trend = (more: object): Question =>
    ({ kind: 'trend', series: [{ ...ride, measure: 'events' }], every: 'week', range, ...more }) as Question

  test('at each event: a value holds from its very moment; before a first one that has a time there is none', () => {
    const found = answer<TrendResult>(log(), trend({ breakdowns: by(plan) }))
    expect(totals(found)).toEqual([
      ['plus', 4], // ada’s of the 12th day, bea’s of the 2nd at its very moment and the 20th, cai’s
      ['basic', 1],
      [null, 1], // bea’s of the 1st day
    ])
    const where = trend({ series: [{ ...ride, measure: 'people', where: isPlus(plan) }] })
    expect(answer<TrendResult>(log(), where).lines[0].all.total).toBe(3)
  })

  test('or as it is now, where the question says so', () => {
    const found = answer<TrendResult>(log(), trend({ breakdowns: by(planNow) }))
    expect(totals(found)).toEqual([['plus', 6]])
    const first = answer<TrendResult>(
      log(),
      trend({
        range: { from: '2026-01-05', to: '2026-01-06' },
        series: [{ ...ride, measure: 'events', where: isPlus(planNow) }],
      }),
    )
    expect(first.lines[0].all.total).toBe(1)
  })

  test('in a funnel when the attempt began, or at the step chosen', () => {
    const steps = [{ event: { names: ['open'] } }, ride]
    const funnel = (readAt?: number): Question =>
      ({
        kind: 'funnel',
        steps,
        window: { count: 7, unit: 'day' },
        range,
        breakdowns: by(plan),
        ...(readAt ? { readAt } : {}),
      }) as Question
    const people = (question: Question) =>
      rows(answer<FunnelResult>(log(), question)).map(([value, { steps }]) => [value, steps[0].people])
    expect(people(funnel())).toEqual([
      ['basic', 1],
      ['plus', 1],
      [null, 1],
    ])
    const late = eventLog(
      { dan: 'open@0d ride@3d' },
      { pasts: { dan: { plan: [{ since: MONDAY + days(2), value: 'plus' }] } } },
    )
    const found = rows(answer<FunnelResult>(late, funnel(1)))
    expect(found.map(([value, { steps }]) => [value, steps[1].people])).toEqual([['plus', 1]])
  })

  test('in a habit at the end of each period, in growth at the end of each interval', () => {
    const habit = {
      kind: 'habit',
      start: ride,
      period: 'week',
      range,
      breakdowns: by(plan),
      show: { form: 'at least' },
    }
    const found = new Map(rows(answer<HabitResult>(log(), habit as Question)))
    // First week: ada basic, bea and cai plus. Second: ada plus. Third: bea plus.
    expect(found.get('basic')!.active).toBe(1)
    expect(found.get('plus')!.active).toBe(4)
    expect(
      peopleIn(log(), habit as Question, [{ kind: 'days', bucket: '2026-01-05', group: { value: 'plus' } } as never]),
    ).toEqual(['bea', 'cai'])
    const growth = {
      ...{ kind: 'growth', start: ride, interval: { unit: 'week' }, range, breakdowns: by(plan) },
      show: { form: 'states' },
    } as Question
    const grown = new Map(rows(answer<GrowthResult>(log(), growth)))
    const states = (value: string, week: number) => grown.get(value)!.steps[week].people
    expect(states('basic', 0)).toMatchObject({ new: 1, retained: 0, idle: 0 })
    expect(states('plus', 0)).toMatchObject({ new: 2, idle: 0 })
    expect(states('basic', 1)).toMatchObject({ new: 0, retained: 0, lapsed: 0, idle: 0 })
    expect(states('plus', 1)).toMatchObject({ retained: 1, lapsed: 2, idle: 0 })
    expect(states('plus', 3)).toMatchObject({ lapsed: 1, idle: 2 })
    const mark = { kind: 'state', states: ['retained'], interval: '2026-01-12', group: { value: 'plus' } }
    expect(peopleIn(log(), growth, [mark as never])).toEqual(['ada'])
  })

  test('in the time between uses at the end of the time asked about', () => {
    const gaps = (to: string) =>
      ({
        kind: 'gaps',
        start: ride,
        range: { from: '2026-01-05', to },
        breakdowns: by(plan),
        show: { form: 'gaps' },
      }) as Question
    const people = (to: string) =>
      rows(answer<GapsResult>(log(), gaps(to))).map(([value, { people, once }]) => [value, people + once])
    expect(people('2026-01-14')).toEqual([
      ['plus', 2],
      ['basic', 1],
    ])
    expect(people('2026-02-01')).toEqual([['plus', 3]])
  })

  test('in a segment at the moment it is read as of', () => {
    const rule = { hold: 'all' as const, of: [{ kind: 'profile' as const, where: isPlus(plan) }] }
    const at = (day: number) => membersIn(log(), rule, { now: MONDAY + days(day) })
    expect(at(2) /* the 3rd day’s first moment */).toEqual(['bea'])
    expect(at(4)).toEqual(['bea', 'cai'])
    expect(at(10)).toEqual(['ada', 'bea', 'cai'])
    const now = { hold: 'all' as const, of: [{ kind: 'profile' as const, where: isPlus(planNow) }] }
    expect(membersIn(log(), now, { now: MONDAY + days(2) })).toEqual(['ada', 'bea'])
    const moments = [1.5, 2, 4, 9.9, 10].map((day) => MONDAY + days(day))
    const { plan: members } = planOf(log(), rule, moments)
    expect([...countsOf(log(), members).members]).toEqual([0, 1, 2, 2, 3])
  })

  test('and so is what is made of it', () => {
    const mending = {
      derived: [
        {
          ...{ of: 'person' as const, name: 'tier', description: '' },
          recipe: { kind: 'joined' as const, parts: [{ text: 'on ' }, { property: plan }] },
        },
        {
          ...{ of: 'event' as const, name: 'paid', description: '' },
          recipe: {
            kind: 'rules' as const,
            rows: [{ where: isPlus(plan), gives: { text: 'yes' } }],
            otherwise: { text: 'no' },
          },
        },
      ],
    }
    const made = logOf(log().events, { pasts: PASTS, mending: mending as never })
    const totalsBy = (property: PropertyRef) => totals(answer<TrendResult>(made, trend({ breakdowns: by(property) })))
    expect(totalsBy({ of: 'person', name: 'tier' })).toEqual([
      ['on plus', 4],
      ['on basic', 1],
      [null, 1],
    ])
    expect(totalsBy({ of: 'event', name: 'paid' })).toEqual([
      ['yes', 4],
      ['no', 2],
    ])
    const rule = {
      hold: 'all' as const,
      of: [
        {
          kind: 'profile' as const,
          where: { property: { of: 'person' as const, name: 'tier' }, op: 'is' as const, values: ['on basic'] },
        },
      ],
    }
    expect(membersIn(made, rule, { now: MONDAY + days(5) })).toEqual(['ada'])
    expect(membersIn(made, rule, { now: MONDAY + days(11) })).toEqual([])
  })

  test('“how is this counted” says so, of what has changed', () => {
    const words = { thisYear: 2026, changing: ['plan'] }
    const said = (question: Question, more: object = words) =>
      [...analysisOf(question.kind).explain(question, 'UTC', more as never), ...readWhen(question, more as never)].join(
        ' ',
      )
    expect(said(trend({ breakdowns: by(plan) }))).toMatch(
      /Plan changes in the course of time: it is read when each event happened, so that one person can stand in two groups/,
    )
    expect(said(trend({ series: [{ ...ride, measure: 'events', where: isPlus(plan) }] }))).toMatch(
      /Plan in a condition: as it was when the event happened/,
    )
    expect(said(trend({ breakdowns: by(planNow) }))).toMatch(/Plan now: the latest value, whatever it was then/)
    expect(said(trend({ breakdowns: by(plan) }), { thisYear: 2026 })).not.toMatch(/course of time/)
  })
})

const PEOPLE = ['ada', 'bea', 'cai', 'dot', 'eve']
type Pasts = Record<string, { since: number; value: string | number | null }[]>

/** What a person had at a moment, looked for in the plainest way. */
function heldAt(held: Pasts[string], ms: number): string | number | null {
  let value: string | number | null = null
  for (const each of held) if (each.since <= ms) value = each.value
  return value
}

const value = fc.constantFrom('basic', 'plus', 7, null)
const held = fc
  .array(fc.record({ day: fc.nat(28), value }), { maxLength: 4 })
  .chain((list) => fc.boolean().map((always) => ({ list, always })))
  .map(({ list, always }) => {
    const sorted = [...new Map(list.map((each) => [each.day, each])).values()].sort((a, b) => a.day - b.day)
    return sorted
      .filter(({ value }, i) => value !== (i === 0 ? null : sorted[i - 1].value))
      .map(({ day, value }, i) => ({ since: i === 0 && always ? -Infinity : MONDAY + days(day), value }))
  })
const world = fc
  .tuple(
    fc.array(
      fc.record({
        person: fc.constantFrom(...PEOPLE),
        event: fc.constantFrom('open', 'ride'),
        time: fc.nat(28 * 4).map((quarter) => MONDAY + days(quarter / 4)),
      }),
      { maxLength: 60 },
    ),
    fc.array(held, { minLength: PEOPLE.length, maxLength: PEOPLE.length }),
  )
  .map(([list, pasts]) => {
    const past: Pasts = Object.fromEntries(PEOPLE.map((person, i) => [person, pasts[i]]))
    const seen = PEOPLE.map((person) => ({ person, event: 'other', time: MONDAY }))
    const known = ['open', 'ride'].map((event) => ({ person: 'ada', event, time: MONDAY + days(58) }))
    // One who has had it all along, so that the name and each value are known.
    const zoe = ['basic', 'plus'].map((value, i) => ({ since: MONDAY + days(40 + i), value }))
    // The value of the moment stands on the event as well, as an event’s property.
    const events: TestEvent[] = [...seen, ...list, ...known].map((event) => {
      const then = heldAt(past[event.person] ?? [], event.time)
      return { ...event, properties: then === null ? NONE : { plan: then } }
    })
    const named = { person: 'zoe', event: 'other', time: MONDAY + days(50), properties: { plan: 'basic' } }
    const test = logOf([...events, named], {
      pasts: { ...Object.fromEntries(PEOPLE.map((person) => [person, { plan: past[person] }])), zoe: { plan: zoe } },
    })
    return { test, past }
  })
type World = { test: TestLog; past: Pasts }

const NONE: Record<string, Value> = {}
const cuts = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 })
const ofEvent: PropertyRef = { of: 'event', name: 'plan' }
const steps = [{ event: { names: ['open'] } }, ride]
const plain = { range, show: {} }
const EVENTFUL: [string, (property: PropertyRef) => object][] = [
  ['trend', (p) => ({ series: [{ ...ride, measure: 'people' }], every: 'week', breakdowns: by(p) })],
  ['trend', (p) => ({ series: [{ ...ride, measure: 'events per person', where: isPlus(p) }], every: 'day' })],
  [
    'trend',
    (p) => ({
      series: [{ event: { names: ['open', 'ride'] }, measure: 'distinct values', of: p }],
      every: 'week',
      breakdowns: [...by({ of: 'source' }), ...by(p)],
    }),
  ],
  ['trend', (p) => ({ series: [{ ...ride, measure: 'median', of: p }], every: 'week' })],
  [
    'crosstab',
    (p) => ({
      series: [{ event: { activity: true }, measure: 'people' }],
      every: 'week',
      rows: by(p),
      show: { cells: 'plain', beside: 'nothing' },
    }),
  ],
  ['funnel', (p) => ({ steps, window: { count: 7, unit: 'day' }, breakdowns: by(p) })],
  ['funnel', (p) => ({ steps, window: { count: 7, unit: 'day' }, breakdowns: by(p), readAt: 1 })],
  ['funnel', (p) => ({ steps, window: { count: 9, unit: 'day' }, same: p })],
  [
    'retention',
    (p) => ({
      start: { ...ride, where: isPlus(p) },
      first: true,
      every: 'week',
      breakdowns: by(p),
      upTo: 3,
      show: { form: 'curve' },
    }),
  ],
]

describe('as if each event carried it', () => {
  test.each(EVENTFUL)('a %s', (kind, of) => {
    fc.assert(
      fc.property(world, cuts, ({ test }: World, cuts) => {
        const question = (property: PropertyRef) => ({ kind, ...plain, ...of(property) }) as Question
        expect(answer(test, question(plan), { cuts })).toEqual(answer(test, question(ofEvent)))
      }),
      { numRuns: 60 },
    )
  })
})

describe('as of the end of a period or interval: as among those who had it then', () => {
  const WEEKS = [0, 1, 2, 3].map((week) => MONDAY + days(7 * week + 7) - 1)
  const among = ({ test, past }: World, wanted: string | number | null, ms: number) => {
    const bits = new Uint8Array(test.people.length + 1)
    for (const person of PEOPLE) if (heldAt(past[person], ms) === wanted) bits[test.people.indexOf(person) + 1] = 1
    return bits
  }

  test('habit', () => {
    const habit = { kind: 'habit', start: ride, period: 'week', range, show: { form: 'at least' } } as Question
    fc.assert(
      fc.property(world, (world) => {
        const found = answer<HabitResult>(world.test, { ...habit, breakdowns: by(plan) } as Question)
        for (const { key, periods } of found.groups)
          for (const [week, ms] of WEEKS.entries()) {
            const wanted = (key as { value: string | null }).value
            const alone = answer<HabitResult>(world.test, habit, { among: among(world, wanted, ms) })
            expect(periods[week]).toEqual(alone.all.periods[week])
          }
      }),
      { numRuns: 40 },
    )
  })

  test('growth', () => {
    const growth = {
      ...{ kind: 'growth', start: ride, interval: { unit: 'week' }, range },
      show: { form: 'states' },
    } as Question
    fc.assert(
      fc.property(world, cuts, (world, cuts) => {
        const found = answer<GrowthResult>(world.test, { ...growth, breakdowns: by(plan) } as Question, { cuts })
        for (const { key, steps } of found.groups)
          for (const [week, ms] of WEEKS.entries()) {
            const wanted = (key as { value: string | null }).value
            const alone = answer<GrowthResult>(world.test, growth, { among: among(world, wanted, ms) })
            expect(steps[week].people).toEqual(alone.steps[week].people)
          }
      }),
      { numRuns: 40 },
    )
  })
})
