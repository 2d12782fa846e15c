import { expect, test } from 'vitest'
import { valuesOf } from './BreakdownsEditor.js'

test('the values of each breakdown are offered once, and nothing that is no value of it', () => {
  const pairs = [
    { each: [{ value: 'basic' }, { weekday: 1 }] },
    { each: [{ value: 'basic' }, { weekday: 2 }] },
    { each: [{ value: null }, { weekday: 1 }] },
    { rest: true as const },
    { unreached: true as const },
    null,
  ]
  expect(valuesOf(pairs, 0, 2)).toEqual([{ value: 'basic' }, { value: null }])
  expect(valuesOf(pairs, 1, 2)).toEqual([{ weekday: 1 }, { weekday: 2 }])
  expect(valuesOf(pairs, 2, 3)).toEqual([])
  expect(valuesOf([{ value: 'basic' }, { rest: true }], 0, 1)).toEqual([{ value: 'basic' }])
  // Groups of the answer before a second breakdown was chosen are none of either.
  expect(valuesOf([{ value: 'basic' }], 1, 2)).toEqual([])
})
