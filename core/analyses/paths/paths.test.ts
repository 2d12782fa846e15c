import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  eventLog,
  faultsOf,
  logOf,
  MONDAY,
  NOW,
  peopleIn,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import type { EventPick } from '../../questions/parts.js'
import { quantile } from '../../stats/quantile.js'
import { parseQuestion } from '../registry.js'
import { wayId, type PathsResult, type PathSide } from './finish.js'
import type { PathsMark } from './marks.js'
import { nodeId, usualPaths, type PathNode, type PathsQuestion } from './question.js'
import { referenceWays } from './reference.js'

const did = (name: string, where?: [string, string]): EventPick => ({
  event: { names: [name] },
  ...(where ? { where: { property: { of: 'event', name: where[0] }, op: 'is', values: [where[1]] } } : {}),
})
const RANGE = { from: '2026-01-05', to: '2026-01-18' }
const base: PathsQuestion = { ...usualPaths('a'), range: RANGE, keep: 50 }
const ask = (log: TestLog, more: Partial<PathsQuestion> = {}) => answer<PathsResult>(log, { ...base, ...more })

/** By step: what stands there, and how often. */
const stepsOf = ({ steps }: PathSide) =>
  steps.map(({ nodes }) =>
    Object.fromEntries(
      nodes.map(({ place, count }) => [
        'rest' in place
          ? 'rest'
          : 'ends' in place
            ? 'ends'
            : place.value === undefined
              ? place.event
              : `${place.event} ${place.value}`,
        count,
      ]),
    ),
  )
/** The whole ways, in words. */
const waysOf = ({ ways }: PathsResult) =>
  Object.fromEntries(ways.map((way) => [way.nodes.map(({ event }) => event).join(' '), way.count]))

describe('forward', () => {
  test('a person counts once, by their first way in the range; steps go beyond it, up to the time allowed', () => {
    const log = eventLog({
      // The first start is on the first day; a second one is an event of that way like others.
      ada: 'a@0d b@0d+1h a@0d+2h c@0d+3h',
      // Before the range nothing begins.
      bea: 'a@-1d b@-1d+1h',
      // The start is in the range's last hour, its step after it.
      cai: 'a@13d+23h b@14d+1h',
    })
    const result = ask(log)
    expect([result.all.ways, result.all.people]).toEqual([2, 2])
    expect(stepsOf(result.all)).toEqual([{ b: 2 }, { a: 1, ends: 1 }, { c: 1 }])
    expect(waysOf(result)).toEqual({ 'b a c': 1, b: 1 })
  })

  test('exactly as long as allowed still counts, a millisecond more does not, and is told as cut', () => {
    const log = eventLog({ ada: 'a@0d b@1d', bea: 'a@0d b@1d+1ms' })
    const result = ask(log)
    expect(stepsOf(result.all)[0]).toEqual({ b: 1, ends: 1 })
    expect(result.all.cut).toBe(1)
  })

  test('events of one moment stand in the order they arrived', () => {
    expect(waysOf(ask(eventLog({ ada: 'a@0d c@1h b@1h' })))).toEqual({ 'c b': 1 })
    // What arrived before the start at the same moment is before it.
    expect(waysOf(ask(eventLog({ ada: 'c@1h a@1h b@1h' })))).toEqual({ b: 1 })
  })

  test('repeats in a row are one step, the start included; unfolded each is one', () => {
    const log = eventLog({ ada: 'a@0d a@1m b@2m b@3m a@4m a@5m b@6m' })
    expect(waysOf(ask(log))).toEqual({ 'b a b': 1 })
    expect(waysOf(ask(log, { unfolded: true }))).toEqual({ 'a b b': 1 })
  })

  test('what is left out is as if it had not happened: what it stood between is in a row', () => {
    const log = eventLog({ ada: 'a@0d b@1m x@2m b@3m c@4m', bea: 'a@0d x@1m' })
    expect(waysOf(ask(log, { leaveOut: { event: { names: ['x'] } } }))).toEqual({ 'b c': 1, '': 1 })
  })

  test('hidden events are no steps', () => {
    const log = eventLog({ ada: 'a@0d h@1m b@2m' })
    log.schema.addType('h', false, true)
    expect(waysOf(ask(log))).toEqual({ b: 1 })
  })

  test('who may still go on is told; a start whose time is over is not', () => {
    const log = eventLog({ ada: 'a@13d+12h', bea: 'a@0d' })
    const result = answer<PathsResult>(log, base, { now: MONDAY + 14 * 86_400_000 })
    expect([result.all.ways, result.all.open]).toEqual([2, 1])
  })

  test('who ended for good is who cannot go on any more', () => {
    const log = eventLog({ ada: 'a@13d+12h', bea: 'a@0d', cai: 'a@0d b@1m c@2m c2@3m c3@4m' })
    const now = MONDAY + 14 * 86_400_000
    const ended: PathsMark = { kind: 'node', step: 1, place: { ends: true } }
    expect(peopleIn(log, base, [ended], { now })).toEqual(['ada', 'bea'])
    expect(peopleIn(log, base, [{ ...ended, forGood: true }], { now })).toEqual(['bea'])
    const toEnd = { ...base, end: did('b') }
    const missed: PathsMark = { kind: 'anchor', got: false }
    expect(peopleIn(log, toEnd, [missed], { now })).toEqual(['ada', 'bea'])
    expect(peopleIn(log, toEnd, [{ ...missed, forGood: true }], { now })).toEqual(['bea'])
  })
})

describe('occurrences', () => {
  const log = eventLog({ ada: 'a@0d b@1m c@2m a@3m b@4m', bea: 'a@0d a@1m' })

  test('every start begins a way, which ends before the next', () => {
    const result = ask(log, { count: 'occurrences' })
    expect([result.all.ways, result.all.people]).toEqual([4, 2])
    expect(waysOf(result)).toEqual({ 'b c': 1, b: 1, '': 2 })
  })

  test('people’s ways go on', () => {
    expect(waysOf(ask(log, { steps: 5 }))).toEqual({ 'b c a b': 1, '': 1 })
  })

  test('a start after the range ends no way', () => {
    const late = eventLog({ ada: 'a@13d+23h b@14d+1h a@14d+2h c@14d+3h' })
    expect(waysOf(ask(late, { count: 'occurrences' }))).toEqual({ 'b a c': 1 })
  })
})

describe('backward', () => {
  test('takes a person’s last way, and what came before the range as well', () => {
    const log = eventLog({ ada: 'x@-1h b@0d a@1h y@2h c@3h a@4h z@5h' })
    expect(waysOf(ask(log, { backward: true, steps: 5 }))).toEqual({ 'c y a b x': 1 })
  })

  test('of repeats the nearest counts', () => {
    const log = eventLog({ ada: 'b@-1d b@5h a@10h' })
    const result = ask(log, { backward: true })
    expect(result.all.steps[0].nodes[0]).toMatchObject({ count: 1, median: 5 * 3_600_000 })
    expect(result.all.cut).toBe(0)
  })

  test('occurrences go no further than the start before', () => {
    const log = eventLog({ ada: 'b@0d a@1h c@2h a@3h' })
    expect(waysOf(ask(log, { backward: true, count: 'occurrences' }))).toEqual({ b: 1, c: 1 })
  })
})

describe('between', () => {
  const between = { end: did('z'), steps: 5 }

  test('goes to the earliest end; who does not get there in time is in no step', () => {
    const log = eventLog({ ada: 'a@0d b@1m z@2m c@3m z@4m', bea: 'a@0d b@1m', cai: 'a@0d z@1d+1ms', dot: 'a@0d z@1d' })
    const result = ask(log, between)
    expect([result.all.ways, result.all.reached, result.all.cut]).toEqual([4, 2, 1])
    expect(stepsOf(result.all)).toEqual([{ b: 1, z: 1 }, { z: 1 }, {}, {}, {}])
    expect(waysOf(result)).toEqual({ 'b z': 1, z: 1 })
    expect(peopleIn(log, { ...base, ...between }, [{ kind: 'anchor', got: false }])).toEqual(['bea', 'cai'])
  })

  test('of start start end the first start did not get there; a person’s first does', () => {
    const log = eventLog({ ada: 'a@0d b@1m a@2m z@3m' })
    expect(ask(log, { ...between, count: 'occurrences' }).all).toMatchObject({ ways: 2, reached: 1 })
    const people = ask(log, between)
    expect(people.all).toMatchObject({ ways: 1, reached: 1, took: 180_000 })
    expect(people.loops).toEqual({ count: 1, median: 180_000 })
  })

  test('a way with more steps than are followed got there all the same', () => {
    const log = eventLog({ ada: 'a@0d b@1m c@2m d@3m z@4m' })
    const result = ask(log, { end: did('z'), steps: 2 })
    expect(result.all.reached).toBe(1)
    expect(result.ways[0]).toMatchObject({ more: true, median: 240_000 })
    expect(stepsOf(result.all)).toEqual([{ b: 1 }, { c: 1 }])
  })
})

describe('must contain and must not contain', () => {
  const log = eventLog({
    // The first way has no x on its three steps, the second has: the person's way is chosen before.
    ada: 'a@0d b@1m c@2m d@3m x@4m a@1h x@1h+1m',
    bea: 'a@0d x@1m b@2m',
    cai: 'a@0d b@1m',
  })

  test('keep or drop whole ways, read on the steps that are followed', () => {
    expect(waysOf(ask(log, { contains: [did('x')] }))).toEqual({ 'x b': 1 })
    expect(waysOf(ask(log, { lacks: [did('x')] }))).toEqual({ 'b c d': 1, b: 1 })
    // The start is not on the way.
    expect(ask(log, { contains: [did('a')] }).all.ways).toBe(0)
  })

  test('only ways through an event at a step', () => {
    expect(waysOf(ask(log, { through: [{ step: 2, node: { event: 'c' } }] }))).toEqual({ 'b c d': 1 })
  })
})

describe('sessions and opened events', () => {
  test('within one session: a gap of exactly the time-out does not end it', () => {
    const log = eventLog({ ada: 'a@0d b@30m c@60m+1ms', bea: 'x@0d+1h a@1h+10m b@1h+20m' })
    expect(waysOf(ask(log, { session: true }))).toEqual({ b: 2 })
    expect(waysOf(ask(log, { session: true, backward: true }))).toEqual({ '': 1, x: 1 })
  })

  test('each value is a node of its own: text, number, day, yes or no, none', () => {
    const open = (value: unknown, at: number): TestEvent => ({
      ...{ person: 'ada', event: 'p', time: MONDAY + at * 60_000 },
      properties: value === null ? {} : { v: value as string },
    })
    const log = logOf([
      { person: 'ada', event: 'a', time: MONDAY },
      ...['x', 'x', 7, 7, '2026-02-03T10:00:00Z', true, null].map((value, i) => open(value, i + 1)),
    ])
    const result = ask(log, { steps: 8, open: [{ event: { names: ['p'] }, by: { of: 'event', name: 'v' } }] })
    expect(result.ways[0].nodes.map(({ value }) => value)).toEqual(['x', 7, '2026-02-03', true, null])
    const question = { ...base, steps: 8, open: [{ event: { names: ['p'] }, by: { of: 'event' as const, name: 'v' } }] }
    for (const [step, value] of [
      [1, 'x'],
      [2, 7],
      [3, '2026-02-03'],
      [4, true],
      [5, null],
    ] as const) {
      const mark: PathsMark = { kind: 'node', step, place: { event: 'p', value } }
      expect(peopleIn(log, question, [mark])).toEqual(['ada'])
      expect(ask(log, { ...question, through: [{ step, node: { event: 'p', value } }] }).all.ways).toBe(1)
    }
  })
})

describe('at each step', () => {
  const log = eventLog({
    ...{
      p1: 'a@0d b@1m',
      p2: 'a@0d b@1m d@2m',
      p3: 'a@0d c@1m b@2m',
      p4: 'a@0d d@1m',
      p5: 'a@0d e@1m b@2m',
      p6: 'a@0d',
    },
  })

  test('the largest stand by themselves, the rest is everything else, step by step', () => {
    const { all } = ask(log, { keep: 1 })
    expect(stepsOf(all)).toEqual([{ b: 2, rest: 3, ends: 1 }, { b: 2, rest: 1, ends: 2 }, { ends: 3 }])
    expect(all.steps[0].nodes[1].place).toEqual({ rest: true, nodes: 3 })
    expect(all.steps.map(({ before }) => before)).toEqual([6, 5, 3])
    const question = { ...base, keep: 1 }
    expect(peopleIn(log, question, [{ kind: 'node', step: 1, place: { rest: true } }])).toEqual(['p3', 'p4', 'p5'])
    const from: PathsMark = { kind: 'node', step: 2, place: { event: 'b' }, from: { rest: true } }
    expect(peopleIn(log, question, [from])).toEqual(['p3', 'p5'])
    expect(peopleIn(log, question, [{ kind: 'node', step: 2, place: { ends: true }, from: { event: 'b' } }])).toEqual([
      'p1',
    ])
    // One that does not stand by itself can be asked for all the same.
    expect(peopleIn(log, question, [{ kind: 'node', step: 1, place: { event: 'e' } }])).toEqual(['p5'])
    expect(peopleIn(log, question, [{ kind: 'way', nodes: [{ event: 'c' }, { event: 'b' }] }])).toEqual(['p3'])
    expect(peopleIn(log, question, [{ kind: 'way', nodes: [] }])).toEqual(['p6'])
  })

  test('opened at one step, all stand by themselves there, and at no other', () => {
    const question = { ...base, keep: 1, wide: [1] }
    expect(stepsOf(ask(log, question).all)).toEqual([
      { b: 2, c: 1, d: 1, e: 1, ends: 1 },
      { b: 2, rest: 1, ends: 2 },
      { ends: 3 },
    ])
    expect(peopleIn(log, question, [{ kind: 'node', step: 2, place: { rest: true } }])).toEqual(['p2'])
    expect(stepsOf(ask(log, { ...question, wide: [2] }).all).slice(0, 2)).toEqual([
      { b: 2, rest: 3, ends: 1 },
      { b: 2, d: 1, ends: 2 },
    ])
  })
})

describe('what is wrong is told at its word', () => {
  const faults = (more: object) => parseQuestion({ ...base, ...more }).faults
  test.each([
    ['the start left out', { leaveOut: { event: { names: ['a'] } } }, 'leaveOut', 'where the ways begin'],
    [
      'the end left out',
      { end: did('z'), leaveOut: { event: { names: ['z'] } } },
      'leaveOut',
      'where the ways have to get',
    ],
    ['demanded and left out', { contains: [did('x')], leaveOut: { event: { names: ['x'] } } }, 'contains', 'left out'],
    ['demanded and forbidden', { contains: [did('x')], lacks: [did('x')] }, 'contains', 'cannot contain'],
    ['between an event and itself', { end: did('a') }, 'end', 'another event'],
    ['back between two', { end: did('z'), backward: true }, 'backward', 'forward'],
    ['eleven steps', { steps: 11 }, 'steps', 'at most 10'],
    ['a step opened that is not there', { wide: [4] }, 'wide', 'one of the 3 steps'],
    ['a step opened twice', { wide: [2, 2] }, 'wide', 'opened already'],
    ['51 ways a step', { keep: 51 }, 'keep', 'at most 50'],
    ['a step that is not followed', { through: [{ step: 4, node: { event: 'b' } }] }, 'through', 'one of the 3 steps'],
  ])('%s', (_name, more, at, says) => {
    const [fault] = faults(more)
    expect(fault.path[0]).toBe(at)
    expect(fault.want).toContain(says)
  })

  test('unknown events and properties', () => {
    const log = eventLog({ ada: 'a@0d b@1m' })
    const by = { of: 'event' as const, name: 'nope' }
    const found = faultsOf(log, {
      ...base,
      leaveOut: { event: { names: ['q'] } },
      open: [{ event: { names: ['b'] }, by }],
      contains: [did('r')],
    })
    expect(found.map(({ path }) => path.join('.')).sort()).toEqual(['contains.0.event', 'leaveOut.event', 'open.0.by'])
  })

  test('10 steps of 50 nodes are counted', () => {
    const names = Array.from({ length: 60 }, (_, i) => `e${i}`)
    const log = logOf(
      Array.from({ length: 400 }, (_, i) => [
        { person: `p${i}`, event: 'a', time: MONDAY },
        ...Array.from({ length: 10 }, (_, k) => ({
          person: `p${i}`,
          event: names[(i * 7 + k * k * 3) % 60],
          time: MONDAY + k + 1,
        })),
      ]).flat(),
    )
    const { all } = ask(log, { steps: 10, keep: 50 })
    expect(all.steps.map(({ nodes }) => nodes.reduce((sum, { count }) => sum + count, 0))).toEqual(Array(10).fill(400))
  })
})

/** Timelines of few events close together, so that everything happens. */
const timelines = fc.array(
  fc.record({
    person: fc.constantFrom('p', 'q', 'r', 's'),
    event: fc.constantFrom('a', 'b', 'c', 'z'),
    // Mostly within two days, so that ways and sessions come of them; some around the edges of the range.
    time: fc
      .oneof(
        { weight: 4, arbitrary: fc.integer({ min: 0, max: 48 * 4 }) },
        { weight: 1, arbitrary: fc.integer({ min: -40 * 4, max: (14 * 24 + 40) * 4 }) },
      )
      .map((quarters) => MONDAY + quarters * 900_000),
    properties: fc.record({ v: fc.constantFrom('x', 'y', 1) }, { requiredKeys: [] }),
    source: fc.constantFrom('app', 'kiosk'),
  }),
  // Left to itself the generator makes lists of a few events, of which hardly any way is made.
  { minLength: 1, maxLength: 60, size: 'max' },
)
/** A few at a time: with all of them no way is left. */
const seldom = <T>(value: fc.Arbitrary<T>) =>
  fc.oneof({ weight: 3, arbitrary: fc.constant(undefined) }, { weight: 1, arbitrary: value })
const settings: fc.Arbitrary<Partial<PathsQuestion>> = fc
  .record({
    steps: seldom(fc.integer({ min: 1, max: 5 })),
    count: seldom(fc.constant('occurrences' as const)),
    window: seldom(fc.record({ count: fc.integer({ min: 1, max: 60 }), unit: fc.constant('hour' as const) })),
    leaveOut: seldom(fc.constant({ event: { names: ['c'] } })),
    contains: seldom(fc.constant([did('b')])),
    lacks: seldom(fc.constant([did('b', ['v', 'x'])])),
    open: seldom(
      fc.constantFrom(
        [{ event: { names: ['b'] }, by: { of: 'event' as const, name: 'v' } }],
        [{ event: { names: ['a'] }, by: { of: 'source' as const } }],
        [{ event: { names: ['a'] }, by: { of: 'person' as const, name: 'kind' } }],
      ),
    ),
    unfolded: seldom(fc.constant(true as const)),
    session: seldom(fc.constant(true as const)),
    start: seldom(fc.constantFrom(did('a'), did('a', ['v', 'y']))),
  })
  .map((all) => Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)))
const direction = fc.constantFrom({}, { backward: true as const }, { end: did('z') })

test('what comes after the moment is not seen, neither a step nor that they get there', () => {
  const log = eventLog({ p: 'a@0h b@1h z@2h' })
  const asOf = (hours: number, more: Partial<PathsQuestion> = {}) =>
    answer<PathsResult>(log, { ...base, ...more }, { now: MONDAY + hours * 3_600_000 }).all
  expect(asOf(0.5)).toMatchObject({ ways: 1, open: 1 })
  expect(asOf(0.5).steps[0].nodes.map(({ place }) => place)).toEqual([{ ends: true }])
  expect(asOf(1.5, { end: did('z') })).toMatchObject({ ways: 1, reached: 0, open: 1, cut: 0 })
  expect(asOf(2, { end: did('z') })).toMatchObject({ reached: 1, open: 0 })
})

describe('as a slow reading of the definition', () => {
  const at = (day: string) => Date.parse(`${day}T00:00:00Z`)
  const span = { from: at('2026-01-05'), until: at('2026-01-19'), now: NOW }
  const profiles = { p: { kind: 'old' }, q: { kind: 'new' }, r: {}, s: { kind: 3 } }

  test('in all settings: every way, every step, every time; cut anywhere; and the people behind them', () => {
    fc.assert(
      fc.property(
        timelines,
        settings,
        direction,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
        // As of the moment of one of the events, too, so that others come after it.
        fc.option(fc.nat({ max: 59 })),
        (events, more, way, cuts, asOf) => {
          const now = asOf === null ? NOW : Math.max(MONDAY, events[asOf % events.length].time)
          const seed: TestEvent[] = ['a', 'b', 'c', 'z'].map((event) => ({
            person: 'seed',
            event,
            time: MONDAY - 90 * 86_400_000,
            properties: { v: 'x' },
          }))
          const log = logOf([...events, ...seed], { profiles })
          const parsed = parseQuestion({ ...base, ...more, ...way })
          if (parsed.faults.length > 0) return
          const question = parsed.question as PathsQuestion
          const ways = referenceWays(log, question, { ...span, now })
          const result = answer<PathsResult>(log, question, { now })
          expect(answer(log, question, { now, cuts })).toEqual(result)
          expect(result.all.ways).toBe(ways.length)
          expect(result.all.people).toBe(new Set(ways.map(({ person }) => person)).size)
          const counted = question.end ? ways.filter(({ took }) => took !== null) : ways
          expect(result.all.reached).toBe(question.end ? counted.length : null)
          // Whole ways, with their times.
          const expected = new Map<string, number[]>()
          for (const { steps, took, anchor, more: on } of counted) {
            const id = wayId({ nodes: steps.map(({ node }) => node), more: on })
            const time = took ?? (steps.length > 0 ? Math.abs(steps.at(-1)!.time - anchor.time) : 0)
            expected.set(id, [...(expected.get(id) ?? []), time])
          }
          const found = result.ways.map((each) => [wayId(each), [each.count, each.median]] as const)
          expect(Object.fromEntries(found)).toEqual(
            Object.fromEntries(
              [...expected].map(([id, times]) => [
                id,
                [times.length, id === '' ? null : quantile(Float64Array.from(times).sort(), 0.5)],
              ]),
            ),
          )
          // Step by step, with ribbons in = node, and nodes + ended = the step before.
          result.all.steps.forEach(({ nodes, ribbons, before }, step) => {
            for (const [index, { place, count }] of nodes.entries()) {
              const own =
                'ends' in place
                  ? counted.filter(({ steps }) => steps.length === step)
                  : counted.filter(({ steps }) => steps[step] && nodeId(steps[step].node) === nodeId(place as PathNode))
              expect(count).toBe(own.length)
              expect(ribbons.filter(({ to }) => to === index).reduce((sum, each) => sum + each.count, 0)).toBe(count)
              const mark: PathsMark = {
                kind: 'node',
                step: step + 1,
                place: 'ends' in place ? { ends: true } : (place as PathNode),
              }
              expect(peopleIn(log, question, [mark], { now }).sort()).toEqual(
                [...new Set(own.map(({ person }) => person))].sort(),
              )
            }
            const all = nodes.reduce((sum, { count }) => sum + count, 0)
            if (!question.end) expect(all).toBe(before)
            else expect(all).toBeLessThanOrEqual(before)
          })
        },
      ),
      { numRuns: 200 },
    )
  })

  test('groups of people add up to all', () => {
    fc.assert(
      fc.property(timelines, direction, (events, way) => {
        const log = logOf(
          [...events, { person: 'p', event: 'z', time: MONDAY }, { person: 'p', event: 'a', time: MONDAY }],
          { profiles },
        )
        const breakdowns = [{ by: { of: 'person' as const, name: 'kind' }, keep: 2 }]
        const { all, groups } = ask(log, { ...way, breakdowns })
        expect(groups.reduce((sum, { ways }) => sum + ways, 0)).toBe(all.ways)
        all.steps.forEach(({ nodes }, step) =>
          nodes.forEach(({ count }, i) =>
            expect(groups.reduce((sum, { steps }) => sum + steps[step].nodes[i].count, 0)).toBe(count),
          ),
        )
      }),
      { numRuns: 60 },
    )
  })
})
