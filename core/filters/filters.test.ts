import { describe, expect, test } from 'vitest'
import { days, eventLog, faultsOf, logOf, MONDAY, peopleIn } from '../../tests/eventLog.js'
import type { Value } from '../log/values.js'
import type { Condition, Filter } from '../questions/parts.js'
import type { TrendQuestion } from '../analyses/trend/question.js'

/** Each person did one event that carries their value of P; who has none is called none. */
const people: Record<string, Value | undefined> = {
  red: 'red',
  Red: 'Red',
  dark: 'dark red',
  empty: '',
  list: ['red', 'blue'],
  blue: ['blue'],
  five: 5,
  ten: 10,
  fiveText: '5',
  yes: true,
  no: false,
  first: '2026-01-01T23:59:59.999Z',
  second: '2026-01-02T00:00:00Z',
  third: '2026-01-03',
  none: undefined,
}
const log = logOf(
  Object.entries(people).map(([person, value]) => ({
    person,
    event: 'did',
    time: MONDAY,
    ...(value === undefined ? {} : { properties: { P: value } }),
  })),
)
const P = { of: 'event', name: 'P' } as const

function ask(where: Filter): TrendQuestion {
  return {
    kind: 'trend',
    series: [{ event: { names: ['did'] }, where, measure: 'people' }],
    every: 'day',
    range: { from: '2026-01-05', to: '2026-01-05' },
    show: { form: 'lines', as: 'number' },
  }
}
const holdsFor = (where: Filter) => peopleIn(log, ask(where), [{ kind: 'point' }])
const everyone = Object.keys(people)
const allBut = (...names: string[]) => everyone.filter((name) => !names.includes(name))

describe('texts', () => {
  test.each<[Condition, string[]]>([
    [{ property: P, op: 'is', values: ['red'] }, ['red', 'list']],
    [{ property: P, op: 'is', values: ['red', 'dark red'] }, ['red', 'dark', 'list']],
    [{ property: P, op: 'is', values: ['red'], ignoreCase: true }, ['red', 'Red', 'list']],
    [{ property: P, op: 'is', values: [''] }, ['empty']],
    [{ property: P, op: 'is', values: ['5'] }, ['fiveText']],
    [{ property: P, op: 'contains', text: 'red' }, ['red', 'dark', 'list']],
    [{ property: P, op: 'starts with', text: 'dark' }, ['dark']],
    [{ property: P, op: 'ends with', text: 'red' }, ['red', 'dark', 'list']],
    [{ property: P, op: 'matches', text: '^(r|b)' }, ['red', 'list', 'blue']],
  ])('%o', (condition, names) => expect(holdsFor(condition)).toEqual(names))

  test('negated conditions hold for no value, and on lists if no element fulfils them', () => {
    expect(holdsFor({ property: P, op: 'is not', values: ['red'] })).toEqual(allBut('red', 'list'))
    expect(holdsFor({ property: P, op: 'does not contain', text: 'red' })).toEqual(allBut('red', 'dark', 'list'))
  })
})

describe('numbers', () => {
  test.each<[Condition, string[]]>([
    [{ property: P, op: '=', number: 5 }, ['five']],
    [{ property: P, op: '<', number: 10 }, ['five']],
    [{ property: P, op: '≤', number: 10 }, ['five', 'ten']],
    [{ property: P, op: '>', number: 5 }, ['ten']],
    [{ property: P, op: '≥', number: 5 }, ['five', 'ten']],
    [{ property: P, op: 'between', numbers: [5, 10] }, ['five', 'ten']],
    [{ property: P, op: '≠', number: 5 }, allBut('five')],
  ])('%o', (condition, names) => expect(holdsFor(condition)).toEqual(names))
})

describe('dates, by local day', () => {
  test.each<[Condition, string[]]>([
    [{ property: P, op: 'before', day: '2026-01-02' }, ['first']],
    [{ property: P, op: 'after', day: '2026-01-02' }, ['third']],
    [{ property: P, op: 'between days', days: ['2026-01-01', '2026-01-02'] }, ['first', 'second']],
  ])('%o', (condition, names) => expect(holdsFor(condition)).toEqual(names))

  test('in the last days, up to now', () => {
    const asked = ask({ property: P, op: 'in the last', last: 5, unit: 'day' })
    expect(peopleIn(log, asked, [{ kind: 'point' }], { now: MONDAY + days(1) - 1 })).toEqual([
      'first',
      'second',
      'third',
    ])
    expect(peopleIn(log, asked, [{ kind: 'point' }], { now: MONDAY + days(1) })).toEqual(['second', 'third'])
  })
})

describe('values and trees', () => {
  test.each<[Condition, string[]]>([
    [{ property: P, op: 'has no value' }, ['none']],
    [{ property: P, op: 'has a value' }, allBut('none')],
    [{ property: P, op: 'is true' }, ['yes']],
    [{ property: P, op: 'is false' }, ['no']],
  ])('%o', (condition, names) => expect(holdsFor(condition)).toEqual(names))

  test('all and any, nested; an empty all holds, an empty any does not', () => {
    const is = (...values: string[]): Filter => ({ property: P, op: 'is', values })
    expect(holdsFor({ all: [is('red'), is('blue')] })).toEqual(['list'])
    expect(holdsFor({ any: [is('Red'), { all: [is('red'), is('blue')] }] })).toEqual(['Red', 'list'])
    expect(holdsFor({ all: [] })).toEqual(everyone)
    expect(holdsFor({ any: [] })).toEqual([])
  })

  test('profile properties are read from the person, sources from the event', () => {
    const rides = eventLog(
      { ada: [{ person: 'ada', event: 'did', time: MONDAY, source: 'kiosk' }], grace: 'did@0d' },
      { profiles: { grace: { plan: 'Annual' } } },
    )
    const found = (where: Filter) => peopleIn(rides, ask(where), [{ kind: 'point' }])
    expect(found({ property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] })).toEqual(['grace'])
    expect(found({ property: { of: 'source' }, op: 'is', values: ['kiosk'] })).toEqual(['ada'])
    expect(found({ property: { of: 'source' }, op: 'has no value' })).toEqual(['grace'])
  })
})

describe('faults', () => {
  test('a pattern that cannot be read and a property that is not known are told with their place', () => {
    const faults = faultsOf(
      log,
      ask({
        all: [
          { property: P, op: 'matches', text: '(' },
          { property: { of: 'event', name: 'Q' }, op: 'has a value' },
        ],
      }),
    )
    expect(faults.map(({ path, code, got }) => [path, code, got])).toEqual([
      [['series', 0, 'where', 'all', 0], 'bad_pattern', '('],
      [['series', 0, 'where', 'all', 1], 'unknown_property', 'Q'],
    ])
  })
})
