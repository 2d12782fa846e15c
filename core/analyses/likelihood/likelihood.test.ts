import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  faultsOf,
  logOf,
  MONDAY,
  peopleIn,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { said } from '../../../tests/said.js'
import type { Value } from '../../log/values.js'
import { parseQuestion } from '../registry.js'
import { featureKey, type FeatureOf } from './features.js'
import { likelihoodFindings } from './findings.js'
import type { LikelihoodResult } from './finish.js'
import type { KeptModel } from './model.js'
import { chanceOf } from './onePerson.js'
import { planLikelihood } from './plan.js'
import type { LikelihoodQuestion } from './question.js'
import { referenceLikelihood } from './reference.js'
import { slicesOf } from './slices.js'

const base: LikelihoodQuestion = {
  ...{ kind: 'likelihood', goal: { event: { names: ['buy'] } }, days: 14 },
  show: { form: 'quality' },
}
const now = MONDAY + days(60)

function dice(seed: number): () => number {
  let state = seed
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
}

/** People who come as often as they do; the more often, the likelier they buy, as far as `drawn` says. */
function crowd(size: number, seed: number, drawn = 1, more: (i: number, roll: () => number) => TestEvent[] = () => []) {
  const roll = dice(seed)
  const events: TestEvent[] = []
  const profiles: Record<string, Record<string, Value>> = {}
  for (let i = 0; i < size; i++) {
    const person = `p${i}`
    const often = roll()
    const joined = roll() * 50
    const at = (day: number) => MONDAY + Math.round(days(day))
    events.push({ person, event: 'join', time: at(joined) })
    for (let day = Math.ceil(joined); day < 60; day++)
      if (roll() < often * 0.4) events.push({ person, event: 'open', time: at(day + roll()) })
    if (roll() < 0.3) events.push({ person, event: 'help', time: at(joined + roll() * (60 - joined)) })
    if (roll() < 0.15 + 0.5 * (drawn * often + (1 - drawn) * roll()))
      events.push({ person, event: 'buy', time: at(joined + roll() * (60 - joined)) })
    events.push(...more(i, roll))
    const own: Record<string, Value> = { kind: ['red', 'blue', 'grey'][i % 3], vip: i % 5 === 0 }
    if (i % 4 > 0) own.age = 20 + (i % 37)
    if (i % 7 === 0) own.tags = ['x', 'y'].slice(0, 1 + (i % 2))
    profiles[person] = own
  }
  return { log: logOf(events, { profiles }), profiles }
}

const nameOf = (feature: FeatureOf) => {
  const [of, name, value] = feature.of === 'seen' ? ['seen'] : (JSON.parse(featureKey(feature)) as string[])
  return of === 'seen' ? 'seen' : of === 'value' ? `is ${name} ${value}` : `${of} ${name}`
}

describe.each([[false], [true]])('as a slow reading of the definition, who did it before too: %s', (again) => {
  const { log, profiles } = crowd(900, 5)
  const question: LikelihoodQuestion = { ...base, ...(again ? { again: true } : {}) }
  const result = answer<LikelihoodResult>(log, question, { now })
  const slow = referenceLikelihood(log.events, { goal: 'buy', days: 14, back: 28, again, now, profiles })

  test('the same weights, the same hold, told as well', () => {
    const model = result.model!
    expect(model.counts.trained).toBe(slow.trained)
    expect(model.lambda).toBeCloseTo(slow.lambda, 12)
    expect(model.features.map(nameOf).sort()).toEqual([...slow.weights.keys()].sort())
    for (const feature of model.features) expect(feature.weight).toBeCloseTo(slow.weights.get(nameOf(feature))!, 6)
    expect(model.told.auc!.value).toBeCloseTo(slow.auc, 9)
  })

  test('everyone there is now is told their likelihood, the likeliest first', () => {
    const { scored } = result
    const sorted = [...slow.scores].sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1))
    expect(scored!.people).toBe(sorted.length)
    expect(scored!.expected[100]).toBeCloseTo(
      sorted.reduce((sum, [, score]) => sum + score, 0),
      5,
    )
    const fifth = peopleIn(log, question, [{ kind: 'likely', from: 0, to: 20 }], { now })
    expect(fifth.sort()).toEqual(
      sorted
        .slice(0, Math.floor(sorted.length / 5))
        .map(([id]) => id)
        .sort(),
    )
    expect(scored!.lowest[20]).toBeCloseTo(sorted[Math.floor(sorted.length / 5) - 1][1], 6)
    expect(scored!.hill.reduce((sum, bar) => sum + bar.people, 0)).toBe(sorted.length)
  })

  test('the same however people are cut, and the same again', () => {
    const cut = answer<LikelihoodResult>(log, question, { now, cuts: [0.3, 0.35, 0.8] })
    expect(cut.model!.features.map(({ weight }) => weight.toFixed(7))).toEqual(
      result.model!.features.map(({ weight }) => weight.toFixed(7)),
    )
    expect(answer(log, question, { now })).toEqual(result)
  })
})

const learn = (log: TestLog, question: LikelihoodQuestion, asked: Parameters<typeof answer>[2] = {}) =>
  answer<LikelihoodResult>(log, question, { now, ...asked })
const namesOf = ({ model }: LikelihoodResult) => model!.features.map(nameOf)
const told = (result: LikelihoodResult, question = base) =>
  said(likelihoodFindings(result, question, { thisYear: 2026 }))

describe('what is looked at', () => {
  /** Everybody joins early and buys by chance; one more thing is done by some of them. */
  const withMore = (more: (i: number, bought: boolean) => TestEvent[]) => {
    const roll = dice(3)
    const events: TestEvent[] = []
    for (let i = 0; i < 1000; i++) {
      const person = `p${i}`
      const bought = roll() < 0.4
      events.push({ person, event: 'join', time: MONDAY + i }, ...more(i, bought))
      if (bought) events.push({ person, event: 'buy', time: MONDAY + days(50) + i })
    }
    return logOf(events)
  }
  const at = (i: number, day: number, event = 'look'): TestEvent[] => [
    { person: `p${i}`, event, time: MONDAY + Math.round(days(day)) },
  ]
  const cutOff = 60 - 14

  test('what was done 28 days before the cut-off to the millisecond is not, a millisecond later is', () => {
    const edge = (ms: number) =>
      learn(
        withMore((i) => (i % 2 ? [{ person: `p${i}`, event: 'look', time: MONDAY + days(cutOff - 28) + ms }] : [])),
        base,
      )
    expect(namesOf(edge(0))).not.toContain('count look')
    expect(namesOf(edge(1))).toContain('count look')
  })

  test('what is done at the cut-off is known then, and a millisecond later it is not', () => {
    const edge = (ms: number) =>
      namesOf(
        learn(
          withMore((i) => (i % 2 ? [{ person: `p${i}`, event: 'look', time: MONDAY + days(cutOff) + ms }] : [])),
          base,
        ),
      )
    expect(edge(0)).toContain('count look')
    expect(edge(1)).not.toContain('count look')
  })

  test('an event that less than one in a hundred did is not', () => {
    const few = (part: number) =>
      namesOf(
        learn(
          withMore((i) => (i % part === 0 ? at(i, 30) : [])),
          base,
        ),
      )
    expect(few(250)).not.toContain('count look')
    expect(few(20)).toContain('count look')
  })

  test('what alone tells it nearly is named and left out, unless it is kept on purpose', () => {
    const log = withMore((i, bought) => (bought ? at(i, 40, 'basket') : at(i, 40, 'look')))
    const result = learn(log, base)
    expect(namesOf(result).join()).not.toMatch(/basket|look/)
    expect(result.model!.out.leaks.map(({ feature }) => nameOf(feature))).toContain('count basket')
    expect(told(result).cautions.join()).toMatch(/may know what came after: how often \w+/)
    const kept = learn(log, { ...base, keep: [{ event: 'basket' }] })
    expect(namesOf(kept)).toContain('count basket')
    expect(namesOf(kept)).not.toContain('count look')
    expect(kept.model!.told.auc!.value).toBeGreaterThan(0.98)
  })

  test('a profile value that came after the cut-off without a time of its own is not, unless it is kept on purpose', () => {
    const { log } = crowd(900, 5)
    const code = log.schema.profileCode('kind')!
    const late = new Map([[code, new Uint8Array(log.people.length + 1).fill(1)]])
    const without = learn(log, base, { late })
    expect(namesOf(without).join()).not.toContain('kind')
    expect(without.model!.out.late).toEqual([{ property: 'kind', people: expect.any(Number) as number }])
    expect(namesOf(learn(log, { ...base, keep: [{ property: 'kind' }] }, { late }))).toContain('is kind red')
  })

  test('people who did nothing in those days are asked about, or are not, as the question says', () => {
    const log = withMore((i) => (i % 2 ? at(i, 30) : []))
    const all = learn(log, base)
    const lately = learn(log, { ...base, lately: true })
    const sum = ({ model }: LikelihoodResult) => model!.counts.trained + model!.counts.told
    expect([sum(all), sum(lately)]).toEqual([1000, 500])
  })

  test('nothing that comes after the cut-off changes a feature', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const { log } = crowd(900, 5)
        const roll = dice(seed)
        const later = log.events.filter(({ event }) => event === 'open').slice(0, 200)
        const more = later.map(({ person }): TestEvent => ({
          ...{ person, event: 'open', time: MONDAY + Math.round(days(cutOff + 14 * roll())) + 1 },
        }))
        const [one, other] = [
          learn(log, base),
          learn(logOf([...log.events, ...more], { profiles: log.profiles }), base),
        ]
        expect(other.model!.features).toEqual(one.model!.features)
      }),
      { numRuns: 5 },
    )
  })
})

describe('what it says', () => {
  test('how good it is, and what the likeliest hold, where it tells; who is asked among is said', () => {
    const { log } = crowd(1500, 9)
    const result = learn(log, base)
    const { findings, cautions } = told(result)
    expect(findings[0]).toMatch(
      /the first has the higher likelihood in \d+.% of cases \(95 %: .* to .*\); chance gives half/,
    )
    expect(findings.join()).toMatch(/The likeliest fifth held \d+.% of all who did it/)
    expect(findings.join()).toMatch(/What weighs most: for it, /)
    expect(cautions.join()).toContain('an experiment decides')
    expect(cautions.join()).not.toContain('asked among')
    const asked = { ...base, among: { rule: { kind: 'segment' as const, segment: 's' } } }
    expect(told(result, asked).cautions.join()).toContain('it knows what came after')
  })

  test('that it tells no better than chance where nothing foretells it, and nothing of what weighs', () => {
    let alarms = 0
    for (let seed = 1; seed <= 60; seed++) {
      const roll = dice(seed * 101)
      const events: TestEvent[] = []
      for (let i = 0; i < 500; i++) {
        const person = `p${i}`
        events.push({ person, event: 'join', time: MONDAY + Math.round(days(40 * roll())) })
        for (let n = 0; n < 6; n++)
          if (roll() < 0.5)
            events.push({ person, event: 'abc'[n % 3], time: MONDAY + Math.round(days(18 + 27 * roll())) })
        if (roll() < 0.5) events.push({ person, event: 'buy', time: MONDAY + Math.round(days(47 + 12 * roll())) })
      }
      const { findings } = told(learn(logOf(events), base))
      if (!findings[0].startsWith('It does not tell clearly better than chance')) alarms++
      else expect(findings).toHaveLength(1)
    }
    expect(alarms).toBeLessThanOrEqual(2)
  })

  test('too few who did it, or who did not, are said in place of a model', () => {
    const { log } = crowd(120, 4)
    const result = learn(log, base)
    expect(result.model).toBeNull()
    expect(told(result).findings.join()).toMatch(
      /^Only \d+ of \d+ people to train on did buy in the last 14 days: too few/,
    )
    const later: TestEvent[] = [{ person: 'p', event: 'buy', time: now + 1 }]
    expect(told(learn(logOf(later), base)).findings).toEqual([
      'Nobody was there at the cut-off who might have done it.',
    ])
  })
})

describe('a model that is kept', () => {
  const { log } = crowd(1500, 9)
  const { model } = learn(log, base)
  const later = now + days(3)
  const kept = { model: () => model }

  test('is asked again: the same weights, people as they are by now', () => {
    const again = learn(log, base, { now: later, ...kept })
    expect([again.before, again.model, again.since]).toEqual([true, model, null])
    expect(again.scored!.people).toBe(learn(log, base, { now: later }).scored!.people)
  })

  test('is told of those whose time has passed since, once it has', () => {
    const events = [...log.events]
    const roll = dice(77)
    for (const person of log.people)
      if (roll() < 0.3) events.push({ person, event: 'buy', time: now + Math.round(days(14 * roll())) })
    const more = logOf(events, { profiles: log.profiles })
    const again = learn(more, base, { now: now + days(14), ...kept })
    // Whoever bought in the meantime did so by chance: it no longer tells.
    expect(again.since!.people).toBe(learn(log, base).scored!.people)
    expect(again.since!.auc!.value).toBeLessThan(0.58)
    expect(told(again).cautions[0]).toMatch(/^It tells less well by now: of [\d,]+ people whose time has passed/)
  })

  test('tells of one person what it tells of all, and what speaks for it', () => {
    const plan = planLikelihood(
      base,
      { schema: log.schema, calendar: { zone: 'UTC', firstDayOfWeek: 1 }, now, among: null, ...kept },
      [],
    )
    const chances = new Map(
      log.people.flatMap((person, index) => {
        const found = chanceOf(log.log, index, plan, model as KeptModel, log.schema)
        return found ? [[person, found] as const] : []
      }),
    )
    const [top] = slicesOf(learn(log, base).scored!, model!, [20])
    const fifth = peopleIn(log, base, [{ kind: 'likely', from: 0, to: 20 }], { now })
    expect(fifth.reduce((sum, person) => sum + chances.get(person)!.chance, 0)).toBeCloseTo(top.expected, 6)
    const first = [...chances.values()].sort((a, b) => b.chance - a.chance)[0]
    expect(first.speaksFor.length).toBeGreaterThan(0)
    expect(first.speaksFor.every(({ moves }) => moves > 0) && first.against.every(({ moves }) => moves < 0)).toBe(true)
  })
})

test('what is wrong is told at its place', () => {
  const faults = (more: object) =>
    parseQuestion({ ...base, ...more }).faults.map(({ path, want }) => `${path.join('.')}: ${want}`)
  expect(faults({ days: 0 })).toEqual(['days: at least 1 day'])
  expect(faults({ back: 400 })).toEqual(['back: at most 180 days'])
  expect(faults({ show: { form: 'people', cuts: [40, 20] } })[0]).toMatch(/cuts.*: each further down than the last/)
  expect(faultsOf(crowd(10, 1).log, { ...base, goal: { event: { names: ['bu'] } } })[0]).toMatchObject({
    ...{ path: ['goal', 'event'], code: 'unknown_event', got: 'bu' },
  })
})
