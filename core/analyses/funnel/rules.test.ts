import { parseFunnel } from './schema.js'
import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, MONDAY, peopleIn, type TestEvent, type TestLog } from '../../../tests/eventLog.js'
import type { Value } from '../../log/values.js'
import type { FunnelResult } from './finish.js'
import type { FunnelQuestion, FunnelStep } from './question.js'
import { withSteps } from './steps.js'

const HOUR = 3_600_000
const P = { of: 'event', name: 'pass' } as const

function funnel(names: string, more: Partial<FunnelQuestion> = {}): FunnelQuestion {
  return {
    ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range: { from: '2026-01-05', to: '2026-02-28' } },
    steps: names.split(' ').map((name): FunnelStep => ({ event: { names: name.split('|') } })),
    ...more,
  }
}
/** What one person did: `look m@2` is a look with pass m two hours after Monday's midnight. */
function person(text: string, values: Record<string, Value> = {}): TestEvent[] {
  return text.split(', ').map((word) => {
    const [, event, pass, hour] = /^(\w+)(?: (\w+))?@(\d+)$/.exec(word)!
    const value = pass === undefined ? undefined : (values[pass] ?? pass)
    const properties = value === undefined ? {} : { properties: { pass: value } }
    return { person: 'ada', event, time: MONDAY + Number(hour) * HOUR, ...properties }
  })
}
/** Every name is known, whatever Ada did: somebody did all of it long ago. */
const zoe = 'look add buy rate rent ride chat drop ping'.split(' ').map((event): TestEvent => {
  return { person: 'zoe', event, time: 0, properties: { pass: 'm' } }
})
const one = (text: string, options: { passive?: string[]; values?: Record<string, Value> } = {}) =>
  eventLog({ ada: person(text, options.values), zoe }, options)
const reached = (log: TestLog, question: FunnelQuestion, now?: number) =>
  answer<FunnelResult>(log, question, now === undefined ? {} : { now }).all.steps.map(({ people }) => people)
const open = (log: TestLog, question: FunnelQuestion, now: number) =>
  answer<FunnelResult>(log, question, { now }).all.open

describe('back to back', () => {
  const question = funnel('look buy', { order: 'back to back' })
  test.each([
    ['the very next event is the next step', 'look@0, buy@1', [1, 1]],
    ['anything between ends it', 'look@0, chat@1, buy@2', [1, 0]],
    ['passive events are passed over', 'look@0, ping@1, buy@2', [1, 1]],
    ['a later entry may do better', 'look@0, chat@1, look@2, buy@3', [1, 1]],
    ['a second entry stands between as well', 'look@0, look@1, buy@2', [1, 1]],
  ])('%s', (_name, text, steps) => expect(reached(one(text, { passive: ['ping'] }), question)).toEqual(steps))

  test('a passive event that is a step is not passed over', () => {
    const log = one('look@0, ping@1, buy@2', { passive: ['ping'] })
    expect(reached(log, funnel('look ping buy', { order: 'back to back' }))).toEqual([1, 1, 1])
    expect(reached(log, funnel('look buy ping', { order: 'back to back' }))).toEqual([1, 0, 0])
  })

  test('with a step of any of several, whichever is next counts', () => {
    const question = funnel('look buy|rent ride', { order: 'back to back' })
    expect(reached(one('look@0, rent@1, ride@2, buy@3'), question)).toEqual([1, 1, 1])
    // Of both kinds the first is taken; the second then stands between.
    expect(reached(one('look@0, rent@1, buy@2, ride@3'), question)).toEqual([1, 1, 0])
  })

  test('an attempt that something ended is not open any more, one that waits is', () => {
    const now = MONDAY + days(2)
    expect(open(one('look@0, chat@1, buy@90'), question, now)).toBe(0)
    expect(open(one('look@0, chat@90, buy@91'), question, now)).toBe(1)
  })

  test('back to back, with the same value: the next event must be the step and carry it', () => {
    const same = { ...question, same: P }
    expect(reached(one('look m@0, buy m@1'), same)).toEqual([1, 1])
    expect(reached(one('look m@0, buy s@1, buy m@2'), same)).toEqual([1, 0])
  })
})

describe('whatever the order', () => {
  const question = funnel('look add buy', { order: 'any order' })
  test('an attempt begins with any of the steps, and step k means k of them done', () => {
    expect(reached(one('buy@0, look@1'), question)).toEqual([1, 1, 0])
    expect(reached(one('buy@0, look@1, add@2'), question)).toEqual([1, 1, 1])
  })
  test('an event that fits several takes the first of them that is not done', () => {
    const either = funnel('look|buy buy', { order: 'any order' })
    // The first buy is taken for the first step, the second for the second.
    expect(reached(one('buy@0, buy@1'), either)).toEqual([1, 1])
    expect(reached(one('look@0, buy@1'), either)).toEqual([1, 1])
    // A buy that was taken for the first step leaves nothing for a look to do.
    expect(reached(one('buy@0, look@1'), either)).toEqual([1, 0])
  })
  test('all of them within the time of the one that began', () => {
    expect(reached(one('buy@0, look@168, add@169'), question)).toEqual([1, 1, 0])
    expect(reached(one('buy@0, look@167, add@168'), question)).toEqual([1, 1, 1])
  })
  test('with the same value: whichever begins gives it', () => {
    const same = { ...funnel('look buy', { order: 'any order' }), same: P }
    expect(reached(one('buy m@0, look s@1, look m@2'), same)).toEqual([1, 1])
    expect(reached(one('buy@0, look m@1'), same)).toEqual([1, 0])
  })
})

describe('counting attempts', () => {
  const question = funnel('look buy', { count: 'attempts' })
  test('five entries and one purchase give 20 %', () => {
    const { all } = answer<FunnelResult>(one('look@0, look@1, look@2, look@3, look@4, buy@5'), question)
    expect(all.steps.map(({ people }) => people)).toEqual([5, 1])
    expect(all.steps[1].ofStart).toBeCloseTo(0.2)
    // The oldest took it.
    expect(all.steps[1].fromEntry.median).toBe(5 * HOUR)
  })
  test('attempts overlap and share no event', () => {
    const log = one('look@0, look@1, add@2, add@3, buy@4')
    expect(reached(log, funnel('look add buy', { count: 'attempts' }))).toEqual([2, 2, 1])
  })
  test('an event used as a later step begins no attempt of its own', () => {
    expect(reached(one('look@0, look@1, look@2'), funnel('look look', { count: 'attempts' }))).toEqual([2, 1])
    expect(reached(one('look@0, look@1, look@2, look@3'), funnel('look look', { count: 'attempts' }))).toEqual([2, 2])
  })
  test('the oldest takes it only while its own time runs', () => {
    const short = { ...question, window: { count: 2, unit: 'hour' as const } }
    const { all } = answer<FunnelResult>(one('look@0, look@2, buy@4'), short)
    expect(all.steps.map(({ people }) => people)).toEqual([2, 1])
    expect(all.steps[1].fromEntry.median).toBe(2 * HOUR)
  })
  test('with the same value, each takes its own', () => {
    const log = one('look m@0, look s@1, buy s@2, buy m@4')
    const { all } = answer<FunnelResult>(log, { ...question, same: P })
    expect(all.steps[1].people).toBe(2)
    expect(all.steps[1].fromEntry.median).toBe(2.5 * HOUR)
  })
  test('what one attempt takes still happens for the others, and ends those for which it is forbidden', () => {
    // The first look takes the first buy, which ends the second.
    const log = one('look@0, look@1, buy@2, rate@3, rate@4')
    const asked = funnel('look buy rate', { count: 'attempts', forbidden: [{ event: { names: ['buy'] }, after: 0 }] })
    const { all } = answer<FunnelResult>(log, asked)
    expect(all.steps.map(({ people }) => people)).toEqual([2, 1, 1])
    expect(all.open).toBe(0)
  })
  test('of each person all are counted, and the people are told apart from the attempts', () => {
    const log = one('look@0, look@1, buy@2')
    expect(peopleIn(log, question, [{ kind: 'step', step: 0, what: 'reached' }])).toEqual(['ada'])
    expect(peopleIn(log, question, [{ kind: 'step', step: 0, what: 'lost' }])).toEqual(['ada'])
  })
})

describe('the same value all the way', () => {
  const question = funnel('look buy', { same: P })
  test.each([
    ['the pass they looked at is the pass they bought', 'look m@0, buy m@1', [1, 1]],
    ['another pass is not', 'look m@0, buy s@1', [1, 0]],
    ['the right one may come later', 'look m@0, buy s@1, buy m@2', [1, 1]],
    ['an entry without it is none', 'look@0, buy@1', [0, 0]],
    ['a step without it is none', 'look m@0, buy@1', [1, 0]],
    ['another entry may do better', 'look m@0, look s@1, buy s@2', [1, 1]],
  ])('%s', (_name, text, steps) => expect(reached(one(text), question)).toEqual(steps))

  test('lists are the same when equal', () => {
    const values = { ab: ['a', 'b'], ba: ['b', 'a'] }
    expect(reached(one('look ab@0, buy ab@1', { values }), question)).toEqual([1, 1])
    expect(reached(one('look ab@0, buy ba@1', { values }), question)).toEqual([1, 0])
  })
  test('a forbidden event need not carry it', () => {
    const log = one('look m@0, drop@1, buy m@2')
    expect(reached(log, { ...question, forbidden: [{ event: { names: ['drop'] } }] })).toEqual([1, 0])
    const other = one('look m@0, drop s@1, buy m@2')
    expect(reached(other, { ...question, forbidden: [{ event: { names: ['drop'] } }] })).toEqual([1, 0])
  })
  test('where the step’s event is forbidden, one with the right value is the step, and one with another ends it', () => {
    const strict = { ...question, forbidden: [{ event: { names: ['buy'] } }] }
    expect(reached(one('look m@0, buy m@1'), strict)).toEqual([1, 1])
    expect(reached(one('look m@0, buy s@1, buy m@2'), strict)).toEqual([1, 0])
  })
})

describe('what must not happen', () => {
  const drop = { event: { names: ['drop'] } }
  const question = funnel('look add buy', { forbidden: [{ ...drop, after: 1 }] })
  test('ends an attempt between the two steps that it stands between, and nowhere else', () => {
    expect(reached(one('look@0, add@1, drop@2, buy@3'), question)).toEqual([1, 1, 0])
    expect(reached(one('look@0, drop@1, add@2, buy@3'), question)).toEqual([1, 1, 1])
    expect(reached(one('look@0, drop@1, add@2, buy@3'), { ...question, forbidden: [drop] })).toEqual([1, 0, 0])
    expect(reached(one('look@0, add@1, buy@2, drop@3'), question)).toEqual([1, 1, 1])
  })
  test('at the same moment, what arrived first is first', () => {
    expect(reached(one('look@0, add@1, buy@2, drop@2'), question)).toEqual([1, 1, 1])
    expect(reached(one('look@0, add@1, drop@2, buy@2'), question)).toEqual([1, 1, 0])
  })
  test('after the time is up it changes nothing, at its very end it does', () => {
    const short = { ...question, window: { count: 3, unit: 'hour' as const } }
    const lost = (text: string) => answer<FunnelResult>(one(text), short).all
    expect(lost('look@0, add@1, drop@3').open).toBe(0)
    expect(reached(one('look@0, add@1, drop@3, buy@3'), short)).toEqual([1, 1, 0])
    expect(reached(one('look@0, add@1, buy@3, drop@3'), short)).toEqual([1, 1, 1])
  })
  test('who it ended is lost for good, though the time still runs', () => {
    const now = MONDAY + days(1)
    expect(open(one('look@0, add@1, drop@2, other@99'), question, now)).toBe(0)
    expect(open(one('look@0, add@1, other@99'), question, now)).toBe(1)
  })
})

describe('optional steps', () => {
  const question = funnel('look chat buy')
  question.steps[1].optional = true
  test('are filled on the way where they happen, and stop nobody', () => {
    expect(reached(one('look@0, chat@1, buy@2'), question)).toEqual([1, 1, 1])
    expect(reached(one('look@0, buy@2'), question)).toEqual([1, 0, 1])
    // After the step that follows it is no longer on the way.
    expect(reached(one('look@0, buy@1, chat@2'), question)).toEqual([1, 0, 1])
  })
  test('lose nobody, and those before lose to the next required one', () => {
    const { all } = answer<FunnelResult>(eventLog({ ada: 'look@0d chat@1d', bea: 'look@0d buy@1d' }), question)
    expect(all.steps.map(({ lost }) => lost)).toEqual([1, 0, 0])
  })
})

describe('where a step is compared with the start', () => {
  const question = funnel('look buy')
  question.steps[1].entry = [{ property: P, op: '≠', entry: P }]
  test('text is the same or not, and a missing value differs from any', () => {
    expect(reached(one('look m@0, buy m@1'), question)).toEqual([1, 0])
    expect(reached(one('look m@0, buy s@1'), question)).toEqual([1, 1])
    expect(reached(one('look m@0, buy@1'), question)).toEqual([1, 1])
  })
  test('numbers are compared as numbers, with the value of each attempt’s own start', () => {
    const more = funnel('look buy', { count: 'attempts' })
    more.steps[1].entry = [{ property: P, op: '>', entry: P }]
    const values = { three: 3, nine: 9, ten: 10 }
    expect(reached(one('look nine@0, buy ten@1', { values }), more)).toEqual([1, 1])
    // Ten is not more than ten; it is more than three, which began later.
    expect(reached(one('look ten@0, look three@1, buy ten@2', { values }), more)).toEqual([2, 1])
  })
})

describe('when it begins', () => {
  test('only the first time ever: who began before the range does not begin in it', () => {
    const log = eventLog({ ada: 'look@-9d look@1d buy@2d', bea: 'look@0d look@1d buy@9d', cai: 'look@3d buy@4d' })
    expect(reached(log, funnel('look buy'))).toEqual([3, 2])
    expect(reached(log, funnel('look buy', { first: true }))).toEqual([2, 1])
  })
  test.each([
    ['second', 1000],
    ['minute', 60_000],
    ['month', days(30)],
  ] as const)('two %ss end exactly then', (unit, ms) => {
    const at = (time: number) => [
      { person: 'ada', event: 'look', time: MONDAY },
      { person: 'ada', event: 'buy', time: MONDAY + time },
    ]
    const asked = funnel('look buy', { window: { count: 2, unit } })
    expect(reached(eventLog({ ada: at(2 * ms) }), asked)).toEqual([1, 1])
    expect(reached(eventLog({ ada: at(2 * ms + 1) }), asked)).toEqual([1, 0])
  })
})

describe('a definition that cannot be asked as it stands', () => {
  const good = funnel('look add buy')
  const [look, add, buy] = good.steps
  test.each([
    ['a first step that is not required', { steps: [{ ...look, optional: true }, buy] }, ['steps', 0, 'optional']],
    ['a last step that is not required', { steps: [look, { ...buy, optional: true }] }, ['steps', 1, 'optional']],
    [
      'an optional step without an order',
      { order: 'any order', steps: [look, { ...add, optional: true }, buy] },
      ['steps', 1, 'optional'],
    ],
    ['something forbidden after the last step', { forbidden: [{ ...add, after: 2 }] }, ['forbidden', 0, 'after']],
    ['a breakdown read at no step', { readAt: 3 }, ['readAt']],
    ['a loss at the last step', { show: { form: 'after', step: 2, within: 'session' } }, ['show']],
    ['times to an earlier step', { show: { form: 'time', from: 2, to: 1 } }, ['show', 'to']],
    ['repeats without an order', { order: 'any order', show: { form: 'repeats' } }, ['show', 'form']],
    ['a target beyond everybody', { target: 1.2 }, ['target']],
    ['no time at all', { window: { count: 0, unit: 'day' } }, ['window', 'count']],
  ])('%s is marked where it stands, and the rest is kept', (_name, wrong, path) => {
    const { question, faults } = parseFunnel({ ...good, ...wrong })
    expect(faults.map((fault) => fault.path)).toEqual([path])
    expect(question.range).toEqual(good.range)
    expect(parseFunnel(question).faults).toEqual([])
  })
})

describe('steps that are moved, put in and taken out', () => {
  const question: FunnelQuestion = {
    ...funnel('look add pay buy', { readAt: 2 }),
    forbidden: [{ event: { names: ['drop'] }, after: 1 }, { event: { names: ['rate'] } }],
  }
  const [look, add, pay, buy] = question.steps
  const afters = (steps: FunnelStep[]) => withSteps(question, steps).forbidden?.map(({ after }) => after)
  test('take along what must not happen after them, and where a group is read', () => {
    expect(afters([add, pay, buy])).toEqual([0, undefined])
    expect(afters([look, pay, add, buy])).toEqual([2, undefined])
    expect(withSteps(question, [add, pay, buy]).readAt).toBe(1)
    // Read at the first step: that is said by saying nothing.
    expect(withSteps(question, [pay, buy])).not.toHaveProperty('readAt')
  })
  test('let go what hung on a step that is gone, or is now the last', () => {
    expect(afters([look, pay, buy])).toEqual([undefined])
    expect(afters([look, pay, buy, add])).toEqual([undefined])
  })
  test('keep it where a step is changed in its place', () => {
    expect(afters([look, { ...add, optional: true }, pay, buy])).toEqual([1, undefined])
    expect(parseFunnel(withSteps(question, [{ ...add, optional: true }, look])).faults).toEqual([])
  })
})
