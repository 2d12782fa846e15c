import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, MONDAY, NOW, peopleIn } from '../../../tests/eventLog.js'
import type { Filter } from '../../questions/parts.js'
import type { FunnelResult } from './finish.js'
import type { FunnelQuestion } from './question.js'

const funnel = (names: string[], more: Partial<FunnelQuestion> = {}): FunnelQuestion => ({
  kind: 'funnel',
  steps: names.map((name) => ({ event: { names: [name] } })),
  window: { count: 7, unit: 'day' },
  range: { from: '2026-01-05', to: '2026-02-28' },
  ...more,
})
const reached = (result: FunnelResult) => result.all.steps.map(({ people }) => people)

describe('an attempt', () => {
  test('a step exactly at the end of the window counts; a millisecond later it does not', () => {
    const log = eventLog({ ada: 'view@0d buy@7d', grace: 'view@0d buy@7d+1ms' })
    expect(reached(answer(log, funnel(['view', 'buy'])))).toEqual([2, 1])
  })

  test('the window runs from the entry, not from the step before', () => {
    const log = eventLog({ ada: 'view@0d add@6d buy@8d' })
    expect(reached(answer(log, funnel(['view', 'add', 'buy'])))).toEqual([1, 1, 0])
  })

  test('steps count in order only, and anything may happen between', () => {
    const log = eventLog({ ada: 'buy@0d view@1d other@2d other@3d buy@4d', grace: 'buy@0d view@1d' })
    expect(reached(answer(log, funnel(['view', 'buy'])))).toEqual([2, 1])
  })

  test('of events at the same moment, the one that arrived later is later', () => {
    const log = eventLog({ ada: 'view@0d buy@0d', grace: 'buy@0d view@0d' })
    expect(reached(answer(log, funnel(['view', 'buy'])))).toEqual([2, 1])
  })

  test('one event fills one step only', () => {
    const log = eventLog({ ada: 'view@0d', grace: 'view@0d view@1d', hedy: 'view@0d view@1d view@2d' })
    expect(reached(answer(log, funnel(['view', 'view', 'view'])))).toEqual([3, 2, 1])
  })

  test('entries lie in the range; later steps may fall after its end', () => {
    const log = eventLog({ ada: 'view@0d buy@2d', grace: 'view@-1d buy@0d', hedy: 'view@1d buy@3d' })
    const question = funnel(['view', 'buy'], { range: { from: '2026-01-05', to: '2026-01-05' } })
    expect(reached(answer(log, question))).toEqual([1, 1])
  })

  test('events after the moment asked as of do not exist', () => {
    const log = eventLog({ ada: 'view@0d buy@2d' })
    expect(reached(answer(log, funnel(['view', 'buy']), { now: MONDAY + days(2) - 1 }))).toEqual([1, 0])
    expect(reached(answer(log, funnel(['view', 'buy']), { now: MONDAY + days(2) }))).toEqual([1, 1])
  })
})

describe('counting people', () => {
  test('a person counts once, by the deepest attempt', () => {
    // The first entry gets to step 2 in its window, the second to step 3.
    const log = eventLog({ ada: 'view@0d add@1d view@9d add@10d buy@11d' })
    const result = answer<FunnelResult>(log, funnel(['view', 'add', 'buy']))
    expect(reached(result)).toEqual([1, 1, 1])
    expect(result.all.steps[2].fromEntry.median).toBe(days(2))
  })

  test('of equally deep attempts the earliest counts', () => {
    const log = eventLog({ ada: 'view@0d buy@3d view@10d buy@11d' })
    expect(answer<FunnelResult>(log, funnel(['view', 'buy'])).all.steps[1].fromEntry.median).toBe(days(3))
  })

  test('an attempt takes the earliest later event for each step', () => {
    const log = eventLog({ ada: 'view@0d add@1d add@2d buy@5d' })
    const { steps } = answer<FunnelResult>(log, funnel(['view', 'add', 'buy'])).all
    expect([steps[1].fromPrevious.median, steps[2].fromPrevious.median]).toEqual([days(1), days(4)])
  })

  test('a step of any of several events takes whichever comes first', () => {
    const log = eventLog({ ada: 'view@0d pay@2d buy@3d', grace: 'view@0d buy@1d' })
    const question = funnel(['view'])
    question.steps.push({ event: { names: ['buy', 'pay'] } })
    const { steps } = answer<FunnelResult>(log, question).all
    expect(steps[1].people).toBe(2)
    const { median, mean, p10, p90 } = steps[1].fromEntry
    expect([median, mean, Math.round(p10!), Math.round(p90!)]).toEqual(
      [days(1.5), days(1.5), days(1.1), days(1.9)].map(Math.round),
    )
  })

  test('a step’s filter is read on the step’s own event', () => {
    const cheap: Filter = { property: { of: 'event', name: 'price' }, op: '<', number: 10 }
    const log = eventLog({
      ada: [
        { person: 'ada', event: 'view', time: MONDAY },
        { person: 'ada', event: 'buy', time: MONDAY + 1, properties: { price: 20 } },
        { person: 'ada', event: 'buy', time: MONDAY + 2, properties: { price: 5 } },
      ],
      grace: [
        { person: 'grace', event: 'view', time: MONDAY },
        { person: 'grace', event: 'buy', time: MONDAY + 1 },
      ],
    })
    const question = funnel(['view', 'buy'])
    question.steps[1].where = cheap
    const result = answer<FunnelResult>(log, question)
    expect(reached(result)).toEqual([2, 1])
    expect(result.all.steps[1].fromEntry.median).toBe(2)
  })
})

describe('results', () => {
  const log = eventLog({
    ada: 'view@0d add@1h buy@2h',
    grace: 'view@0d add@3h',
    hedy: 'view@0d',
    ines: 'view@58d add@58d+1h',
    joan: 'view@58d',
  })
  const question = funnel(['view', 'add', 'buy'], { range: { from: '2026-01-05' } })

  test('people, rates with Wilson intervals, losses and times by hand', () => {
    const { all } = answer<FunnelResult>(log, question)
    expect(reached({ all } as FunnelResult)).toEqual([5, 3, 1])
    expect(all.steps.map(({ lost }) => lost)).toEqual([2, 2, 0])
    expect(all.steps[1].ofStart).toBeCloseTo(0.6)
    expect(all.steps[2].ofPrevious).toBeCloseTo(1 / 3)
    // Wilson for 3 of 5 at z = 1.959964
    expect(all.steps[1].ofStartInterval!.low).toBeCloseTo(0.2307, 4)
    expect(all.steps[1].ofStartInterval!.high).toBeCloseTo(0.8824, 4)
    expect(all.steps[1].fromPrevious.median).toBe(3_600_000)
  })

  test('whose window is not over yet is still open, and counts as not converted', () => {
    const { all } = answer<FunnelResult>(log, question)
    expect(all.open).toBe(2)
    expect(all.steps.map(({ open }) => open)).toEqual([1, 1, 0])
  })

  test('an attempt is still open up to the moment its window ends', () => {
    const one = eventLog({ ada: 'view@0d', grace: 'buy@0d' })
    const openAt = (now: number) => answer<FunnelResult>(one, funnel(['view', 'buy']), { now }).all.open
    expect(openAt(MONDAY + days(7) - 1)).toBe(1)
    expect(openAt(MONDAY + days(7))).toBe(0)
  })

  test('the people behind each number are exactly those counted', () => {
    const { all } = answer<FunnelResult>(log, question)
    expect(peopleIn(log, question, [{ kind: 'step', step: 1, what: 'reached' }])).toEqual(['ada', 'grace', 'ines'])
    expect(peopleIn(log, question, [{ kind: 'step', step: 0, what: 'lost' }])).toEqual(['hedy', 'joan'])
    expect(peopleIn(log, question, [{ kind: 'step', step: 0, what: 'open' }])).toEqual(['joan'])
    expect(peopleIn(log, question, [{ kind: 'step', step: 1, what: 'lost' }])).toHaveLength(all.steps[1].lost)
  })

  test('nobody at all gives counts of 0 and rates that are missing', () => {
    const { all } = answer<FunnelResult>(log, { ...question, range: { from: '2026-01-10', to: '2026-01-11' } })
    expect(all.steps[0]).toMatchObject({ people: 0, ofStart: null, ofStartInterval: null })
  })
})

describe('groups', () => {
  const log = eventLog(
    { ada: 'view@0d buy@1d', grace: 'view@0d', hedy: 'view@1d buy@2d', ines: 'view@1d' },
    { profiles: { ada: { plan: 'Annual' }, grace: { plan: 'Annual' }, hedy: { plan: 'None' } } },
  )
  const question = funnel(['view', 'buy'], { breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }] })

  test('are ranked by step 1; equal ones by name, no value last', () => {
    const { groups } = answer<FunnelResult>(log, question)
    expect(groups.map(({ key, steps }) => [key, steps.map((s) => s.people)])).toEqual([
      [{ value: 'Annual' }, [2, 1]],
      [{ value: 'None' }, [1, 1]],
      [{ value: null }, [1, 0]],
    ])
  })

  test('beyond those kept become everything else', () => {
    const few = { ...question, breakdowns: [{ by: { of: 'person' as const, name: 'plan' }, keep: 1 }] }
    const { groups, rest } = answer<FunnelResult>(log, few)
    expect(rest).toBe(2)
    expect(groups.map(({ key, steps }) => [key, steps.map((s) => s.people)])).toEqual([
      [{ value: 'Annual' }, [2, 1]],
      [{ rest: true }, [2, 1]],
    ])
    expect(peopleIn(log, few, [{ kind: 'step', step: 0, what: 'lost', group: { rest: true } }])).toEqual(['ines'])
  })

  test('of an event property are read at step 1 of the counted attempt', () => {
    const shop = eventLog({
      ada: [
        { person: 'ada', event: 'view', time: MONDAY, properties: { page: 'red' } },
        { person: 'ada', event: 'view', time: MONDAY + days(10), properties: { page: 'blue' } },
        { person: 'ada', event: 'buy', time: MONDAY + days(11), properties: { page: 'green' } },
      ],
    })
    const byPage = funnel(['view', 'buy'], { breakdowns: [{ by: { of: 'event', name: 'page' }, keep: 10 }] })
    expect(answer<FunnelResult>(shop, byPage, { now: NOW }).groups.map(({ key }) => key)).toEqual([{ value: 'blue' }])
  })
})
