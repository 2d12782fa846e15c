import { describe, expect, test } from 'vitest'
import { answer, days, logOf, MONDAY, peopleIn, type TestEvent } from '../../../tests/eventLog.js'
import type { Value } from '../../log/values.js'
import { featureKey, type FeatureOf } from './features.js'
import type { LikelihoodResult } from './finish.js'
import type { LikelihoodQuestion } from './question.js'
import { referenceLikelihood } from './reference.js'

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
