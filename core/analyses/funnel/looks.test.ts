import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, MONDAY, peopleIn, type TestEvent, type TestLog } from '../../../tests/eventLog.js'
import { histogramOf } from './histogram.js'
import type { FunnelResult } from './finish.js'
import type { AfterResult, ApartResult, BetweenResult } from './lookResult.js'
import type { FunnelQuestion, FunnelShow } from './question.js'
import { suggestedSteps } from './suggest.js'

const HOUR = 3_600_000

function funnel(names: string, show: FunnelShow, more: Partial<FunnelQuestion> = {}): FunnelQuestion {
  return {
    ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range: { from: '2026-01-05', to: '2026-02-28' } },
    steps: names.split(' ').map((name) => ({ event: { names: [name] } })),
    show,
    ...more,
  }
}
/** So many people alike: name1, name2, … */
function crowd(name: string, count: number, did: string): Record<string, string> {
  return Object.fromEntries(Array.from({ length: count }, (_, i) => [`${name}${i + 1}`, did]))
}

describe('over time', () => {
  const log = eventLog({
    ...{ ada: 'look@0d buy@1d', bea: 'look@1d', cai: 'look@8d buy@16d', dot: 'look@9d buy@10d' },
    ...{ eve: 'look@57d', flo: 'look@58d add@58d', gus: 'look@58d buy@59d' },
  })
  const question = funnel('look buy', { form: 'over time', every: 'week' }, { range: { from: '2026-01-05' } })
  test('by the week in which the counted attempt begins; those who may still go on by themselves', () => {
    const { over } = answer<FunnelResult>(log, question)
    const of = (key: string) => over!.buckets.findIndex((bucket) => bucket.key === key)
    const [line] = over!.lines
    expect(line.reached[of('2026-01-05')]).toEqual([2, 1])
    // Eight days are too many: Cai is lost.
    expect(line.reached[of('2026-01-12')]).toEqual([2, 1])
    expect(line.open[of('2026-01-12')]).toEqual([0, 0])
    expect(line.reached[of('2026-03-02')]).toEqual([3, 1])
    expect(line.open[of('2026-03-02')]).toEqual([2, 0])
  })
  test('a person who comes every week stands in every week, by the deepest that began in it', () => {
    const often = eventLog({ ada: 'look@0d look@1d buy@2d look@7d look@14d buy@15d' })
    const [line] = answer<FunnelResult>(often, question).over!.lines
    expect(line.reached.slice(0, 4)).toEqual([
      [1, 1],
      [1, 0],
      [1, 1],
      [0, 0],
    ])
    // Over the whole time they count once.
    expect(answer<FunnelResult>(often, question).all.steps.map(({ people }) => people)).toEqual([1, 1])
    const lost = { kind: 'step', step: 0, what: 'lost', bucket: '2026-01-12' } as const
    expect(peopleIn(often, question, [lost])).toEqual(['ada'])
  })
  test('an attempt from before the time takes what it takes, when attempts are counted', () => {
    const before = eventLog({ ada: 'look@-1d look@0d buy@1d' })
    const counted = funnel('look buy', { form: 'steps' }, { count: 'attempts', range: { from: '2026-01-05' } })
    const people = (log: TestLog, asked: FunnelQuestion) =>
      answer<FunnelResult>(log, asked).all.steps.map((step) => step.people)
    expect(people(before, counted)).toEqual([1, 0])
    expect(people(before, { ...counted, window: { count: 1, unit: 'day' } })).toEqual([1, 1])
    // Exactly the window before is followed; a moment more is not.
    const edge = { ...counted, window: { count: 2, unit: 'day' as const } }
    expect(people(eventLog({ ada: 'look@-2d look@0d buy@0d' }), edge)).toEqual([1, 0])
    expect(people(eventLog({ ada: 'look@-2d+-1ms look@0d buy@0d' }), edge)).toEqual([1, 1])
  })
  test('a point gives its people, and those of them who may still go on', () => {
    const at = { kind: 'step' as const, step: 0, bucket: '2026-03-02' }
    expect(peopleIn(log, question, [{ ...at, what: 'reached' }])).toEqual(['eve', 'flo', 'gus'])
    expect(peopleIn(log, question, [{ ...at, what: 'open' }])).toEqual(['eve', 'flo'])
    expect(peopleIn(log, question, [{ kind: 'step', step: 0, what: 'gone' }])).toEqual(['bea', 'cai'])
  })
})

describe('how long it takes', () => {
  const log = eventLog({ ada: 'look@0h add@1h buy@2h', bea: 'look@0h add@3h buy@4h', cai: 'look@0h add@1h buy@25h' })
  test('from any step to any later one, with the share that took so long at most', () => {
    const show: FunnelShow = { form: 'time', from: 1, to: 2, by: { count: 1, unit: 'hour' } }
    const { time } = answer<FunnelResult>(log, funnel('look add buy', show))
    expect(time!.lines[0]).toMatchObject({ count: 3, median: HOUR, by: 2 / 3 })
    expect(time!.lines[0].mean).toBeCloseTo((26 / 3) * HOUR)
    expect(time!.lines[0].p90).toBeCloseTo((1 + 0.8 * 23) * HOUR)
  })
  test('a bar holds its lower end and not its upper one, and gives its people', () => {
    const question = funnel('look add buy', { form: 'time', from: 1, to: 2 })
    const bars = answer<FunnelResult>(log, question).time!.lines[0].bars.filter(({ count }) => count > 0)
    expect(bars.map(({ count }) => count)).toEqual([2, 1])
    const took = (least: number, under?: number) =>
      peopleIn(log, question, [{ kind: 'took', from: 1, to: 2, least, under }])
    expect(took(bars[0].least, bars[0].under!)).toEqual(['ada', 'bea'])
    expect(took(HOUR, 24 * HOUR)).toEqual(['ada', 'bea'])
    expect(took(HOUR + 1)).toEqual(['cai'])
    expect(took(0, HOUR)).toEqual([])
  })
  test('bars have a width that can be named, and what took longest shares the last', () => {
    const bars = histogramOf(Float64Array.from([...Array.from({ length: 99 }, (_, i) => i * 1000), 500_000]))
    expect(bars[0]).toEqual({ least: 0, under: 5000, count: 5 })
    expect(bars.at(-1)).toEqual({ least: 100_000, under: null, count: 1 })
    expect(bars.reduce((sum, { count }) => sum + count, 0)).toBe(100)
    expect(histogramOf(new Float64Array())).toEqual([])
  })
})

describe('repeats', () => {
  const log = eventLog({
    ada: 'look@0d look@1d look@2d add@3d buy@4d',
    bea: 'look@0d add@1d look@2d add@2d buy@3d',
    cai: 'look@0d look@1d',
  })
  const question = funnel('look add buy', { form: 'repeats' })
  test('of those who went on: from the step up to, not including, the next one', () => {
    const { repeats } = answer<FunnelResult>(log, question)
    expect(repeats![0]).toEqual({
      ...{ step: 0, people: 2, mean: 2, median: 2 },
      bars: [1, 2, 3].map((times) => ({ times, more: false, people: times === 2 ? 0 : 1 })),
    })
    expect(repeats![1]).toMatchObject({ people: 2, mean: 1.5 })
  })
  test('a bar gives its people', () => {
    const who = (step: number, times: number) => peopleIn(log, question, [{ kind: 'repeats', step, times }])
    expect([who(0, 1), who(0, 3), who(1, 2), who(1, 1)]).toEqual([['bea'], ['ada'], ['bea'], ['ada']])
  })
})

describe('after a loss', () => {
  const log = eventLog(
    {
      ...{ ada: 'look@0d help@0d+10m chat@0d+20m', bea: 'look@0d chat@0d+1h', cai: 'look@0d ping@0d+5m' },
      ...{ dot: 'look@0d chat@0d+1h+1ms', eve: 'look@0d add@1d', flo: 'look@59d chat@59d+1m' },
    },
    { passive: ['ping'] },
  )
  const within = { count: 1, unit: 'hour' } as const
  const question = funnel('look add', { form: 'after', step: 0, within }, { range: { from: '2026-01-05' } })
  const look = answer<FunnelResult>(log, question).look as AfterResult
  test('what they did in the hour after, passive events too; who may still go on is left out', () => {
    expect(look).toMatchObject({ people: 4, nothing: 1 })
    expect(look.events.map(({ event, people }) => [event, people])).toEqual([
      ['chat', 2],
      ['help', 1],
      ['ping', 1],
    ])
  })
  test('with the commonest way there', () => {
    const more = eventLog({ ...crowd('a', 2, 'look@0d help@0d chat@0d'), bea: 'look@0d chat@0d' })
    const asked = funnel('look add', { form: 'after', step: 0, within: 'session' })
    const found = answer<FunnelResult>(eventLog({ zoe: 'add@-9d', ...textOf(more.events) }), asked).look as AfterResult
    expect(found.events[0]).toMatchObject({ event: 'chat', people: 3, way: { events: ['help', 'chat'], people: 2 } })
  })
  test('rows give their people', () => {
    const who = (event: string | null) => peopleIn(log, question, [{ kind: 'after', step: 0, event, within }])
    expect([who('chat'), who('ping'), who(null)]).toEqual([['ada', 'bea'], ['cai'], ['dot']])
  })
})

/** The events as words again, by person. */
function textOf(events: readonly TestEvent[]): Record<string, TestEvent[]> {
  const people: Record<string, TestEvent[]> = {}
  for (const event of events) (people[event.person] ??= []).push(event)
  return people
}

describe('what sets them apart', () => {
  // 12 of 20 who got through asked for help, 3 of 30 of the lost; and after getting through everybody rated.
  const log = eventLog({
    ...crowd('a', 12, 'look@0d help@1d buy@2d rate@3d'),
    ...crowd('b', 8, 'look@0d buy@2d rate@3d'),
    ...crowd('c', 3, 'look@0d help@6d'),
    ...crowd('d', 25, 'look@0d rate@9d'),
    ...crowd('e', 2, 'look@0d gift@1d'),
    ...crowd('f', 5, 'look@59d help@59d'),
  })
  const question = funnel('look buy', { form: 'apart' }, { range: { from: '2026-01-05' } })
  test('shares, phi, odds and interval by hand; what came after getting through, or too late, does not count', () => {
    const look = answer<FunnelResult>(log, question).look as ApartResult
    expect([look.through, look.lost, look.few]).toEqual([20, 30, 1])
    expect(look.features).toHaveLength(1)
    const [row] = look.features
    expect(row).toMatchObject({ feature: { event: 'help' }, through: 12, lost: 3 })
    // (12 × 27 − 8 × 3) ÷ √(15 × 35 × 20 × 30)
    expect(row.phi).toBeCloseTo(300 / Math.sqrt(315_000), 12)
    expect(row.odds).toBeCloseTo((12 * 27) / (8 * 3), 12)
    expect(row.interval!.low).toBeGreaterThan(0.2)
    expect(row.interval!.high).toBeLessThan(0.75)
    // z = 0.5 ÷ √(0.3 × 0.7 × (1/20 + 1/30)) = 3.78
    expect(row.p).toBeGreaterThan(0.0001)
    expect(row.p).toBeLessThan(0.0002)
  })
  test('a cell of nobody leaves the odds a gap', () => {
    const all = eventLog({ ...crowd('a', 12, 'look@0d help@1d buy@2d'), ...crowd('c', 12, 'look@0d'), z: 'buy@-9d' })
    const asked = { ...question, show: { form: 'apart' as const, with: [{ event: 'help' }] } }
    const look = answer<FunnelResult>(all, asked).look as ApartResult
    expect(look.features[0]).toMatchObject({ odds: null, phi: 1 })
  })
  test('what goes along with a step is left out with its values, and can be brought back; so can what is left out', () => {
    const unlock = (at: string, end: string) => `look@0d unlock@${at} ${end}`
    const people = { ...crowd('a', 20, unlock('1d', 'ride@2d')), ...crowd('b', 20, 'look@0d help@1d') }
    const all = eventLog(people)
    all.events.forEach((event) => event.event === 'unlock' && (event.properties = { bike: 'cargo' }))
    const log = eventLog(textOf(all.events))
    const ask = (show: FunnelShow) => answer<FunnelResult>(log, funnel('look ride', show)).look as ApartResult
    const names = ({ features }: ApartResult) => features.map(({ feature }) => feature.property ?? feature.event)
    const first = ask({ form: 'apart' })
    expect(names(first)).toEqual(['help'])
    expect(first.leftOut).toEqual([{ feature: { event: 'unlock' }, why: { step: 1 } }])
    const brought = ask({
      form: 'apart',
      with: [{ event: 'unlock' }, { event: 'unlock', property: 'bike', value: 'cargo' }],
    })
    expect(names(brought).sort()).toEqual(['bike', 'help', 'unlock'])
    const without = ask({ form: 'apart', without: [{ event: 'help' }] })
    expect(without.leftOut).toContainEqual({ feature: { event: 'help' }, why: 'by hand' })
    expect(names(without)).toEqual([])
  })
  test('both shares give their people', () => {
    const who = (through: boolean) => peopleIn(log, question, [{ kind: 'with', event: 'help', through }])
    expect([who(true).length, who(false)]).toEqual([12, ['c1', 'c2', 'c3']])
  })
})

describe('from a start and a goal to steps', () => {
  const log = eventLog({
    ...crowd('a', 3, 'look@0d map@1d card@2d ride@3d'),
    ...crowd('b', 2, 'look@0d card@1d map@1d+1h card@1d+2h pass@2d ride@3d'),
    ...crowd('c', 2, 'look@0d map@1d'),
  })
  const question = funnel('look ride', { form: 'between' })
  const between = answer<FunnelResult>(log, question).look as BetweenResult
  test('what those who got through did in between, in the order in which it usually comes', () => {
    expect(between.people).toBe(5)
    expect(between.events.map(({ event, people }) => [event, people])).toEqual([
      ['map', 5],
      ['card', 5],
      ['pass', 2],
    ])
    expect(between.sequences).toEqual([
      { events: ['map', 'card'], people: 3 },
      { events: ['card', 'map', 'pass'], people: 2 },
    ])
  })
  test('what is taken is put where it belongs, among the steps there are', () => {
    const named = (steps: FunnelQuestion['steps']) => steps.map(({ event }) => 'names' in event && event.names[0])
    expect(named(suggestedSteps(question.steps, between, ['pass', 'map']))).toEqual(['look', 'map', 'pass', 'ride'])
    const more = funnel('look card ride', { form: 'between' }).steps
    expect(named(suggestedSteps(more, between, ['pass', 'map', 'card']))).toEqual([
      'look',
      'map',
      'card',
      'pass',
      'ride',
    ])
  })
  test('rows give their people', () => {
    expect(peopleIn(log, question, [{ kind: 'way', events: ['map', 'card'] }])).toEqual(['a1', 'a2', 'a3'])
    expect(peopleIn(log, question, [{ kind: 'way', events: ['pass'], only: true }])).toEqual(['b1', 'b2'])
  })
})

describe('comparing', () => {
  test('with the time before: each has its own people, and the difference its interval', () => {
    const log = eventLog({
      ...crowd('a', 10, 'look@-5d buy@-4d'),
      ...crowd('b', 10, 'look@-5d'),
      ...crowd('c', 15, 'look@2d buy@2d+6h'),
      ...crowd('d', 5, 'look@2d'),
    })
    const question = funnel(
      'look buy',
      { form: 'steps' },
      { range: { from: '2026-01-05', to: '2026-01-11' }, compare: { to: 'before' } },
    )
    const { all, before } = answer<FunnelResult>(log, question)
    expect([all, before!.all].map(({ steps }) => steps.map(({ people }) => people))).toEqual([
      [20, 15],
      [20, 10],
    ])
    expect(all.difference).toMatchObject({ by: 0.25, sooner: 18 * HOUR })
    // z = 0.25 ÷ √(0.625 × 0.375 × 2/20) = 1.633
    expect(all.difference!.p).toBeCloseTo(0.1025, 4)
    expect(all.difference!.interval!.low).toBeLessThan(0)
    expect(peopleIn(log, question, [{ kind: 'step', step: 0, what: 'lost', before: true }])).toHaveLength(10)
  })
  test('groups read at a later step: who did not get there comes last, and is compared with nobody', () => {
    const at = (person: string, hour: number, event: string, kind?: string): TestEvent => {
      return { person, event, time: MONDAY + hour * HOUR, properties: kind ? { kind } : {} }
    }
    const log = eventLog({
      ada: [at('ada', 0, 'look', 'x'), at('ada', 1, 'add', 'y'), at('ada', 2, 'buy')],
      bea: [at('bea', 0, 'look', 'x'), at('bea', 1, 'add', 'z')],
      cai: [at('cai', 0, 'look', 'y')],
      dot: [at('dot', 0, 'look', 'y')],
    })
    const breakdowns = [{ by: { of: 'event' as const, name: 'kind' }, keep: 5 }]
    const question = funnel('look add buy', { form: 'steps' }, { breakdowns, readAt: 1 })
    const { groups } = answer<FunnelResult>(log, question)
    expect(groups.map(({ key, steps }) => [key, steps.map(({ people }) => people)])).toEqual([
      [{ value: 'y' }, [1, 1, 1]],
      [{ value: 'z' }, [1, 1, 0]],
      [{ unreached: true }, [2, 0, 0]],
    ])
    expect(groups[2].difference).toBeNull()
  })
})

describe('a loss that jumped', () => {
  // Ten weeks of 40 people a week: a quarter is lost; in weeks 5 and 6 all those with version 2, half of them, as well.
  const people: Record<string, TestEvent[]> = {}
  for (let week = 0; week < 10; week++)
    for (let n = 0; n < 40; n++) {
      const person = `p${week}-${n}`
      const version = n % 2 === 0 ? '1' : '2'
      const broken = (week === 5 || week === 6) && version === '2'
      const start = MONDAY - days(30) + days(7 * week) + n * HOUR
      people[person] = [{ person, event: 'look', time: start, properties: { version, half: n < 20 ? 'a' : 'b' } }]
      if (n % 4 !== 0 && !broken)
        people[person].push({ person, event: 'buy', time: start + HOUR, properties: { version } })
    }
  const question = funnel('look buy', { form: 'steps' }, { range: { from: '2025-12-06', to: '2026-02-28' } })
  const { jump } = answer<FunnelResult>(eventLog(people), question)
  test('is told with its weeks, both rates, and the value that it is concentrated in', () => {
    expect(jump).toMatchObject({ step: 0, next: 1, every: 'week', lasting: false })
    expect([jump!.first, jump!.last]).toEqual(['2026-01-05', '2026-01-12'])
    expect(jump!.inside.part / jump!.inside.whole).toBeGreaterThan(0.6)
    expect(jump!.outside.part / jump!.outside.whole).toBeCloseTo(0.25, 1)
    expect(jump!.value).toMatchObject({ property: 'version', value: '2', at: 0 })
    expect(jump!.value!.own.part).toBe(jump!.value!.own.whole)
  })
  test('is not told where weeks differ by chance only', () => {
    const calm = Object.fromEntries(Object.entries(people).filter(([name]) => !/^p[56]/.test(name)))
    expect(answer<FunnelResult>(eventLog(calm), question).jump).toBeNull()
  })
  test('nothing is said of groups', () => {
    const breakdowns = [{ by: { of: 'event' as const, name: 'half' }, keep: 5 }]
    expect(answer<FunnelResult>(eventLog(people), { ...question, breakdowns }).jump).toBeNull()
  })
})
