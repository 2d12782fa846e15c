import { describe, expect, test } from 'vitest'
import { parseFormula } from './formula.js'

function value(text: string, values: Record<string, number> = {}): number {
  const formula = parseFormula(text)
  if ('fault' in formula) throw new Error(formula.fault.message)
  return formula.evaluate(formula.names.map((name) => values[name] ?? NaN))
}

describe('a formula', () => {
  test.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) × 3', 9],
    ['10 − 4 - 3', 3],
    ['8 ÷ 2 / 2', 2],
    ['-2 + 5', 3],
    ['min(3, 1, 2)', 1],
    ['max(3, 1, 2)', 3],
    ['abs(-4)', 4],
    ['round(2.5)', 3],
    ['round(-2.5)', -3],
    ['round(2.4)', 2],
  ])('%s is %d', (text, result) => expect(value(text)).toBe(result))

  test('reads names, dotted ones, and any others in quotes', () => {
    expect(value('fare / minutes', { fare: 6, minutes: 4 })).toBe(1.5)
    expect(value('"wait seconds" / 60', { 'wait seconds': 90 })).toBe(1.5)
    expect(value('cart.total * 2', { 'cart.total': 3 })).toBe(6)
  })

  test('÷ 0 is a gap, and so is a gap in any argument', () => {
    expect(value('1 / 0')).toBeNaN()
    expect(value('1 / (a - a)', { a: 1 })).toBeNaN()
    expect(value('max(1, missing)')).toBeNaN()
    expect(value('0 * missing')).toBeNaN()
  })
})

describe('a broken formula says where and what', () => {
  test.each([
    ['', 0, /empty/],
    ['fare /', 6, /ends too early/],
    ['fare minutes', 5, /side by side/],
    ['(fare + 1', 9, /parenthesis/],
    ['fare + "x', 7, /quote/],
    ['fare = 2', 5, /“=” cannot stand here/],
    ['fare > 2', 5, /cannot stand here/],
    ['sum(fare)', 0, /no function “sum”/],
    ['round(1, 2)', 0, /takes one value/],
    ['fare[0]', 4, /quotes/],
  ])('%j at %d', (text, at, message) => {
    const formula = parseFormula(text)
    if (!('fault' in formula)) throw new Error('it was taken')
    expect(formula.fault.message).toMatch(message)
    expect(formula.fault.at).toBe(at)
  })

  test('a name that is not known is pointed at as a word of its own', () => {
    const formula = parseFormula('fares + fare * 2', new Set(['fares']))
    expect(formula).toEqual({ fault: { at: 8, length: 4, message: '“fare” is not known here.' } })
  })

  test('nothing but arithmetic runs', () => {
    for (const text of ['constructor.constructor(1)', 'a ? b : c', '`x`', 'this', 'toString()', '[1]'])
      expect(parseFormula(text), text).toHaveProperty('fault')
  })
})
