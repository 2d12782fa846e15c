import fc from 'fast-check'
import { expect, test } from 'vitest'
import { MOST_DEEP, readJson } from './readJson.js'

test('reads what JSON.parse reads', () => {
  fc.assert(
    fc.property(fc.json({ maxDepth: 8 }), (text) => {
      expect(readJson(text)).toEqual(JSON.parse(text))
    }),
  )
})

test('brackets within texts are text', () => {
  const text = JSON.stringify({ a: '['.repeat(500), b: '\\"[{' })
  expect(readJson(text)).toEqual(JSON.parse(text))
})

test('what is nested too deep, and what is no JSON, is told', () => {
  const deep = (n: number) => '['.repeat(n) + ']'.repeat(n)
  expect(readJson(deep(MOST_DEEP))).toBeDefined()
  expect(() => readJson(deep(MOST_DEEP + 1))).toThrow(/nested more than/)
  expect(() => readJson(`{"a":${'{"a":'.repeat(4000)}1`)).toThrow(/nested more than/)
  expect(() => readJson('{')).toThrow(/not JSON/)
})
