import { expect, test } from 'vitest'
import type { GrowthResult, GrowthStep } from './growth/finish.js'
import { growthFindings } from './growth/findings.js'
import { usualGrowth, type GrowthState } from './growth/question.js'
import { fewIn, fewWords } from './few.js'
import { units } from '../time/range.js'

test('under thirty people in a typical bucket are few, and the unit that holds twice as many is offered', () => {
  expect(fewIn([40, 35, 30], 'week', units)).toBeNull()
  expect(fewIn([0, 0], 'week', units)).toBeNull()
  expect(fewIn([5, 4, 6], 'week', units)).toEqual({ typical: 5, unit: 'quarter' })
  expect(fewIn([20, 25, 12], 'week', units)).toEqual({ typical: 20, unit: 'month' })
  expect(fewIn([1, 1, 1], 'week', ['week', 'month'])).toEqual({ typical: 1, unit: 'month' })
  expect(fewIn([5], 'year', units)).toEqual({ typical: 5, unit: null })
  expect(fewIn([10, 10], { days: 14 }, ['week', 'month'])).toEqual({ typical: 10, unit: 'month' })
  const said = fewWords({ typical: 5, unit: 'month' }, 'week').map(({ text }) => text)
  expect(said.join('')).toBe(
    'Few people: about 5 people a week. One more or less says little; by month it would say more.',
  )
})

function growth(each: (i: number) => Partial<Record<GrowthState, number>>): GrowthResult {
  const steps = Array.from({ length: 8 }, (_, i): GrowthStep => {
    const people = { new: 0, retained: 0, revived: 0, lapsed: 0, idle: 0, ...each(i) }
    const before = people.retained + people.lapsed
    return {
      ...{ key: `2026-0${i + 1}-05`, open: false, people, before, seen: 100, quick: null, flows: null },
      active: people.new + people.retained + people.revived,
      net: people.new + people.revived - people.lapsed,
      kept: before > 0 ? people.retained / before : null,
    }
  })
  return { kind: 'growth', steps, groups: [], rest: 0 }
}
const read = (result: GrowthResult) => {
  const { findings, cautions } = growthFindings(result, usualGrowth('ride'), { thisYear: 2026 })
  const text = (pieces: readonly { text: string }[]) => pieces.map((piece) => piece.text).join('')
  return {
    said: findings.map(text).join(' '),
    cautions: cautions.map(text).join(' '),
    toned: findings.flat().filter(({ tone }) => tone).length,
  }
}

test('of five people a week nothing is said to come or go: two more or less are chance', () => {
  const { said, cautions, toned } = read(growth((i) => ({ new: 2, retained: 2, lapsed: i % 2 ? 3 : 2 })))
  expect(said).toContain('about as many people come or come back as lapse')
  expect(said).not.toMatch(/more people lapse/)
  expect(toned).toBe(0)
  expect(cautions).toContain('Few people: about 4 people a week')
})

test('of many it is', () => {
  const { said, cautions } = read(growth(() => ({ new: 100, retained: 400, lapsed: 140 })))
  expect(said).toContain('more people lapse than come or come back')
  expect(cautions).not.toContain('Few people')
})
