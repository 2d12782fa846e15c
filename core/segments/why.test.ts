import { describe, expect, test } from 'vitest'
import { days, eventLog, MONDAY, type TestLog } from '../../tests/eventLog.js'
import { membersIn, planOf } from '../../tests/segmentLog.js'
import type { LeafPlan } from './plan.js'
import { conditionsIn, type DidCondition, type Rule } from './rule.js'
import { lastChange, whyMember } from './why.js'

const at = (day: number) => MONDAY + days(day)
const did = (name: string, more: Partial<DidCondition> = {}): DidCondition => ({
  ...{ kind: 'did', event: { names: [name] } },
  ...more,
})
const log = eventLog(
  {
    ada: 'look@0d ride@1d ride@3d ride@3d+2h',
    bea: 'look@0d look@9d',
    cai: 'ride@20d',
  },
  { profiles: { ada: { plan: 'Annual' }, bea: { plan: 'Day' } } },
)

/** As the person's page asks it: every condition of the rule by itself. */
function why(test: TestLog, person: string, rule: Rule, now = at(10)) {
  const paths = conditionsIn(rule).map(({ path }) => path)
  const { plan } = planOf(test, rule, [now], {}, paths)
  const leaves = plan.alone.map((node): LeafPlan | null => (typeof node === 'number' ? plan.leaves[node] : null))
  const index = test.log.person.indexOf(test.people.indexOf(person) + 1)
  return whyMember(plan, paths, leaves, test.log, index)
}

describe('why somebody is in a segment, or not', () => {
  const often: Rule = {
    hold: 'all',
    of: [
      did('ride', { count: { measure: 'times', test: { op: '≥', number: 3 } } }),
      { kind: 'profile', where: { property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] } },
    ],
  }

  test('each condition tells what it found, and when it was done first and last', () => {
    expect(why(log, 'ada', often)).toEqual({
      member: true,
      conditions: [
        { path: ['of', 0], holds: true, value: 3, firstMs: at(1), lastMs: at(3) + 2 * 3_600_000 },
        { path: ['of', 1], holds: true, value: null, firstMs: null, lastMs: null },
      ],
    })
  })

  test('of who is out, it is seen which condition does not hold', () => {
    expect(why(log, 'bea', often)).toEqual({
      member: false,
      conditions: [
        { path: ['of', 0], holds: false, value: 0, firstMs: null, lastMs: null },
        { path: ['of', 1], holds: false, value: null, firstMs: null, lastMs: null },
      ],
    })
  })

  test('it is told as of the moment: what comes later is not known yet', () => {
    const { member, conditions } = why(log, 'ada', often, at(2))
    expect(member).toBe(false)
    expect(conditions[0]).toMatchObject({ holds: false, value: 1, firstMs: at(1), lastMs: at(1) })
  })

  test('a window counts what is in it; first and last are of all times', () => {
    const rule: Rule = { hold: 'all', of: [did('ride', { window: { from: '2026-01-08', to: '2026-01-09' } })] }
    expect(why(log, 'ada', rule).conditions[0]).toMatchObject({
      holds: true,
      firstMs: at(1),
      lastMs: at(3) + 7_200_000,
    })
    const { value } = why(log, 'ada', {
      ...rule,
      of: [
        did('ride', {
          ...{ window: { from: '2026-01-08', to: '2026-01-09' } },
          count: { measure: 'times', test: { op: '>', number: 0 } },
        }),
      ],
    }).conditions[0]
    expect(value).toBe(2)
  })

  test('did not do it holds for who has been seen and never did', () => {
    const rule: Rule = { hold: 'all', of: [did('ride', { not: true })] }
    expect(why(log, 'bea', rule)).toMatchObject({ member: true, conditions: [{ holds: true }] })
    expect(why(log, 'ada', rule)).toMatchObject({ member: false, conditions: [{ holds: false }] })
    // Whose first event lies ahead is nobody yet, whatever holds of nobody.
    expect(why(log, 'cai', rule).member).toBe(false)
  })

  test('any of several, and none of them, are told condition by condition', () => {
    const either: Rule = { hold: 'any', of: [did('ride'), did('look')] }
    expect(why(log, 'bea', either)).toMatchObject({ member: true, conditions: [{ holds: false }, { holds: true }] })
    expect(why(log, 'bea', { ...either, hold: 'none' })).toMatchObject({
      member: false,
      conditions: [{ holds: false }, { holds: true }],
    })
  })

  test('agrees with who the members are, for every person', () => {
    const rules: Rule[] = [often, did('look'), { hold: 'none', of: [did('look')] }]
    for (const rule of rules)
      for (const person of log.people)
        expect(why(log, person, rule).member).toBe(membersIn(log, rule, { now: at(10) }).includes(person))
  })
})

describe('when somebody last came in or went out', () => {
  const changed = (person: string, rule: Rule, moments: number[]) => {
    const { plan } = planOf(log, rule, moments)
    return lastChange(plan, log.log, log.log.person.indexOf(log.people.indexOf(person) + 1))
  }
  const daily = Array.from({ length: 15 }, (_, day) => at(day + 1) - 1)
  const lately: Rule = did('ride', { window: { last: 7, unit: 'day' } as never })

  test('is the first moment at which it is so', () => {
    expect(changed('ada', did('ride'), daily)).toEqual({ came: 'in', at: at(2) - 1 })
  })
  test('out again, when the last time is too long ago', () => {
    // The last ride was on day 3; from the end of day 10 on it is not among the last 7 days.
    expect(changed('ada', lately, daily)).toEqual({ came: 'out', at: at(11) - 1 })
  })
  test('never, for who was never in', () => {
    expect(changed('bea', did('ride'), daily)).toBeNull()
  })
})
