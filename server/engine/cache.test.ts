import { expect, test } from 'vitest'
import { ByteCache, roughBytes } from './cache.js'

test('values are weighed by what they hold', () => {
  expect(roughBytes(new Float64Array(1000))).toBeGreaterThanOrEqual(8000)
  const rows = (n: number) => Array.from({ length: n }, (_, i) => ({ name: 'x'.repeat(100), value: i }))
  const [ten, thousand] = [roughBytes(rows(10)), roughBytes(rows(1000))]
  expect(thousand / ten).toBeGreaterThan(60)
  expect(thousand / ten).toBeLessThan(140)
})

test('the least used go when there is no room, and what is larger than all of it is not kept', () => {
  const cache = new ByteCache<Uint8Array>(1)
  const third = () => new Uint8Array(340_000)
  for (const key of ['a', 'b', 'c']) cache.set(key, third())
  expect(cache.get('a')).toBeDefined()
  cache.set('d', third())
  expect([cache.get('a'), cache.get('b')].map((found) => found !== undefined)).toEqual([true, false])
  expect(cache.bytes).toBeLessThanOrEqual(1_048_576)
  cache.set('huge', new Uint8Array(2_000_000))
  expect(cache.get('huge')).toBeUndefined()
  expect(cache.get('a')).toBeDefined()
})
