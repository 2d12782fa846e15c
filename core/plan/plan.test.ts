import { atOnce } from '../steps.js'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { logOf, MONDAY, NOW, type TestEvent } from '../../tests/eventLog.js'
import type { Value } from '../log/values.js'
import { NOTHING_MENDED } from '../made/definitions.js'
import { checkerOf } from './check.js'
import { planFromJsonSchema, planToJsonSchema } from './jsonSchema.js'
import { planEventSchema, planKinds, policies, type Plan, type PlanEvent, type PlanProperty } from './plan.js'
import { PLAN_COLUMNS, planFromRows, planToRows } from './planRows.js'
import { findProblems, type QualityContext } from './quality.js'

const property = (name: string, more: Partial<PlanProperty> = {}): PlanProperty => ({
  ...{ name, kind: 'any', required: false, description: '' },
  ...more,
})
const planned = (name: string, ...properties: PlanProperty[]): PlanEvent => planEventSchema.parse({ name, properties })
const planOf = (...events: PlanEvent[]): Plan => ({ policy: 'flag', events, others: {} })
const RIDE = planned(
  'Ride',
  property('minutes', { kind: 'number', required: true }),
  property('bike', { kind: 'text', allowed: ['pedal', 'cargo'] }),
  property('dock', { kind: 'text', pattern: '^[A-Z]\\d+$' }),
  property('marks', { kind: 'list', allowed: ['good', 'bad'] }),
)

test('a property that is planned twice is refused, with its place', () => {
  const read = planEventSchema.safeParse({ name: 'Ride', properties: [{ name: 'a' }, { name: 'b' }, { name: ' a' }] })
  expect(read.error?.issues).toMatchObject([{ path: ['properties', 2, 'name'], message: '“a” is there twice' }])
})

describe('an event that comes in', () => {
  const { check, policyOf } = checkerOf(planOf(RIDE), NOTHING_MENDED)
  test.each<[string, Record<string, Value>, string[]]>([
    ['fits', { minutes: 5, bike: 'cargo', dock: 'A7', marks: ['good'] }, []],
    ['lacks what is required', { bike: 'cargo' }, ['missing property minutes']],
    ['has a text for a number', { minutes: '5' }, ['wrong type minutes']],
    ['has a value outside the list', { minutes: 5, bike: 'boat' }, ['value not allowed bike']],
    ['has an element outside the list', { minutes: 5, marks: ['good', 'odd'] }, ['value not allowed marks']],
    ['does not match the pattern', { minutes: 5, dock: 'a7' }, ['pattern not matched dock']],
    ['carries what is not planned', { minutes: 5, bikeType: 'cargo' }, ['unknown property bikeType']],
    ['has an empty list, which is no value', { minutes: 5, extra: [] }, []],
  ])('%s', (_what, properties, expected) => {
    expect(check('Ride', properties).map(({ rule, property }) => `${rule} ${property}`)).toEqual(expected)
  })

  test('of an unknown name is one violation, whatever it carries', () => {
    expect(check('Walk', { a: 1 })).toEqual([{ rule: 'unknown event', property: null, got: null }])
    expect(policyOf('Walk')).toBe('flag')
  })

  test('fits while nothing is planned', () => {
    const none = checkerOf(planOf(), NOTHING_MENDED)
    expect([none.active, none.check('Walk', { a: 1 })]).toEqual([false, []])
  })

  test('under an old name fits as what it is merged into, with its old properties', () => {
    const mending = {
      mergedEvents: { ride_old: 'Ride' },
      mergedProperties: [{ of: 'event' as const, from: 'mins', into: 'minutes' }],
    }
    const mended = checkerOf(planOf({ ...RIDE, policy: 'set aside' }), mending)
    expect(mended.check('ride_old', { mins: 5 })).toEqual([])
    expect(mended.check('ride_old', { mins: 'x' })).toMatchObject([{ rule: 'wrong type', property: 'minutes' }])
    expect(mended.policyOf('ride_old')).toBe('set aside')
  })

  test('a text may be a date, a date may not be any text', () => {
    const plan = planOf(planned('E', property('t', { kind: 'text' }), property('d', { kind: 'date' })))
    const { check: checkDates } = checkerOf(plan, NOTHING_MENDED)
    expect(checkDates('E', { t: '2026-10-08', d: '2026-10-08' })).toEqual([])
    expect(checkDates('E', { d: 'soon' })).toMatchObject([{ rule: 'wrong type', property: 'd' }])
  })

  test('a pattern that would take for ever elsewhere answers at once', () => {
    const plan = planOf(planned('E', property('t', { pattern: '^(a+)+$' })))
    const text = `${'a'.repeat(5000)}!`
    expect(checkerOf(plan, NOTHING_MENDED).check('E', { t: text })).toMatchObject([{ rule: 'pattern not matched' }])
  })
})

describe('the quality of what has come', () => {
  const context = (test: ReturnType<typeof logOf>, plan: Plan): QualityContext => ({
    ...{ schema: test.schema, plan, mending: NOTHING_MENDED, now: NOW, versionProperty: 'app' },
  })

  test('tells events, people, values, sources, versions and samples of each problem', () => {
    const ride = (person: string, n: number, properties: Record<string, Value>, source?: string): TestEvent => ({
      ...{ person, event: 'Ride', time: MONDAY + n, properties },
      ...(source ? { source } : {}),
    })
    const log = logOf([
      ride('ada', 1, { minutes: 1, bike: 'boat', app: '1.0' }, 'kiosk'),
      ride('ada', 2, { minutes: 1, bike: 'boat' }),
      ride('bea', 3, { minutes: 1, bike: 'raft', app: '1.0' }, 'kiosk'),
      ride('bea', 4, { minutes: 1, bike: 'cargo' }),
    ])
    const plan = planOf({ ...RIDE, properties: [...RIDE.properties, property('app')] })
    expect(atOnce(findProblems([log.log], context(log, plan)))).toMatchObject([
      {
        ...{ rule: 'value not allowed', event: 'Ride', property: 'bike', events: 3, people: 2 },
        ...{ firstMs: MONDAY + 1, lastMs: MONDAY + 3, samples: [3, 2, 1] },
        values: [
          { text: 'boat', events: 2 },
          { text: 'raft', events: 1 },
        ],
        bySource: [
          { name: 'kiosk', events: 2 },
          { name: null, events: 1 },
        ],
        byVersion: [
          { name: '1.0', events: 2 },
          { name: null, events: 1 },
        ],
      },
    ])
  })

  test('is silent about events whose policy is to accept, and about everything while nothing is planned', () => {
    const log = logOf([{ person: 'a', event: 'Walk', time: MONDAY }])
    expect(atOnce(findProblems([log.log], context(log, planOf(RIDE))))).toHaveLength(1)
    expect(atOnce(findProblems([log.log], context(log, { ...planOf(RIDE), others: { Walk: 'accept' } })))).toEqual([])
    expect(atOnce(findProblems([log.log], context(log, planOf())))).toEqual([])
  })

  test('column by column finds what the check of each event finds', () => {
    const value = fc.constantFrom<Value | undefined>(
      'pedal',
      'boat',
      'A7',
      5,
      true,
      ['good'],
      ['odd', 'bad'],
      undefined,
    )
    const event = fc.record({
      person: fc.constantFrom('x', 'y'),
      event: fc.constantFrom('Ride', 'ride_old', 'Walk', 'Swim'),
      values: fc.record({ minutes: value, bike: value, dock: value, marks: value, mins: value, other: value }),
    })
    const mending = {
      ...NOTHING_MENDED,
      mergedEvents: { ride_old: 'Ride' },
      mergedProperties: [{ of: 'event' as const, from: 'mins', into: 'minutes' }],
    }
    const plan: Plan = { ...planOf(RIDE), others: { Swim: 'accept' } }
    const checker = checkerOf(plan, mending)
    fc.assert(
      fc.property(fc.array(event, { minLength: 1, maxLength: 30 }), (drawn) => {
        const events: TestEvent[] = drawn.map(({ person, event: name, values }, i) => {
          const properties = Object.fromEntries(Object.entries(values).filter(([, each]) => each !== undefined))
          return { person, event: name, time: MONDAY + i, properties: properties as Record<string, Value> }
        })
        const log = logOf(events, { mending })
        const expected = new Map<string, number>()
        for (const { event: name, properties } of events) {
          if (checker.policyOf(name) === 'accept') continue
          for (const { rule, property: of } of checker.check(name, properties!)) {
            const key = `${rule} ${name} ${of}`
            expected.set(key, (expected.get(key) ?? 0) + 1)
          }
        }
        const found = atOnce(findProblems([log.log], { ...context(log, plan), mending }))
        expect(new Map(found.map((each) => [`${each.rule} ${each.event} ${each.property}`, each.events]))).toEqual(
          expected,
        )
      }),
    )
  })
})

describe('a plan in a file', () => {
  const text = fc.string({ minLength: 1, maxLength: 12 }).filter((s) => s.trim() === s && s !== '')
  const anyProperty = fc.record(
    {
      name: text,
      kind: fc.constantFrom(...planKinds),
      required: fc.boolean(),
      description: fc.constantFrom('', 'what it is'),
      allowed: fc.uniqueArray(fc.constantFrom('a', 'b|c', 'd e'), { minLength: 1 }),
      pattern: fc.constantFrom('^a+$', 'x|y'),
    },
    { requiredKeys: ['name', 'kind', 'required', 'description'] },
  )
  const anyPlan = fc.uniqueArray(
    fc.record(
      {
        name: text,
        description: fc.constantFrom('', 'an event, "quoted"'),
        owner: fc.constantFrom('', 'App team'),
        policy: fc.constantFrom(...policies),
        properties: fc.uniqueArray(anyProperty, { maxLength: 4, selector: ({ name }) => name }),
      },
      { requiredKeys: ['name', 'description', 'owner', 'properties'] },
    ),
    { minLength: 1, maxLength: 4, selector: ({ name }) => name },
  )

  test('comes back as it was, from rows', () => {
    fc.assert(
      fc.property(anyPlan, (events) => {
        expect(planFromRows([[...PLAN_COLUMNS], ...planToRows(events)])).toEqual({ events, problems: [] })
      }),
    )
  })

  test('comes back as it was, from JSON Schema', () => {
    const readable = (events: PlanEvent[]) =>
      events.every(({ name, properties }) =>
        // A number's values are numbers there, and keys of objects are ordered and named in their own way.
        [name, ...properties.map((each) => each.name)].every((key) => !/^\d+$|^__proto__$/.test(key)),
      ) && events.every(({ properties }) => properties.every((each) => each.kind !== 'number' || !each.allowed))
    fc.assert(
      fc.property(anyPlan.filter(readable), (events) => {
        const document: unknown = JSON.parse(JSON.stringify(planToJsonSchema(events)))
        expect(planFromJsonSchema(document)).toEqual({ events, problems: [] })
      }),
    )
  })

  test('bad lines are told with their number and reason, the others are read', () => {
    const { events, problems } = planFromRows([
      ['event', 'property', 'type', 'required', 'pattern'],
      ['Ride', 'minutes', 'number', 'yes', ''],
      ['', 'lost', 'text', '', ''],
      ['Ride', 'bike', 'colour', '', ''],
      ['Ride', 'dock', 'text', 'perhaps', ''],
      ['Ride', 'plate', 'text', '', '('],
      ['Ride', 'minutes', 'text', '', ''],
    ])
    expect(events).toEqual([planned('Ride', property('minutes', { kind: 'number', required: true }))])
    expect(problems.map(({ line }) => line)).toEqual([3, 4, 5, 6, 7])
    expect(problems.map(({ reason }) => reason).join('\n')).toMatch(
      /name is missing[^]*“colour”[^]*“perhaps”[^]*regular expression[^]*twice/,
    )
  })

  test('a schema from elsewhere: one event, nullable and unknown types', () => {
    const { events, problems } = planFromJsonSchema({
      title: 'Ride',
      properties: { minutes: { type: ['number', 'null'] }, who: { type: 'object' }, kind: { enum: ['a', null] } },
      required: ['minutes'],
    })
    expect(events).toEqual([
      planned('Ride', property('minutes', { kind: 'number', required: true }), property('kind', { allowed: ['a'] })),
    ])
    expect(problems).toMatchObject([
      { line: 1, reason: expect.stringMatching(/“who” is of the type "object"/) as string },
    ])
    expect(planFromJsonSchema([]).problems).toHaveLength(1)
    expect(planFromJsonSchema({}).problems[0].reason).toMatch(/no events/)
  })
})
