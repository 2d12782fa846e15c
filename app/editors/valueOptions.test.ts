import { expect, test } from 'vitest'
import { valueOptions } from './valueOptions.js'

const values = [
  { value: 'Monthly', count: 9 },
  { value: 'None', count: 7 },
]

test('values that hold what is typed come first, and it itself last, as one not seen', () => {
  const { options, sideOf } = valueOptions('mon', { values, search: 'mon' }, [])
  expect(options).toEqual(['Monthly', 'mon'])
  expect(options.map(sideOf)).toEqual(['9', 'not seen so far'])
})

test('until the answer has come nothing half typed can be taken, and what was found before is narrowed', () => {
  expect(valueOptions('mo', { values, search: '' }, []).options).toEqual(['Monthly'])
  expect(valueOptions('mo', undefined, []).options).toEqual([])
  expect(valueOptions('Annual', { values, search: 'Annua' }, []).options).toEqual([])
})

test('a slip of the finger is asked about before it is taken as it stands', () => {
  const { options, sideOf } = valueOptions('Montly', { values: [], search: 'Montly' }, ['None', 'Monthly'])
  expect(options).toEqual(['Monthly', 'Montly'])
  expect(options.map(sideOf)).toEqual(['did you mean this?', 'not seen so far'])
})

test('a value that is typed whole stands once', () => {
  expect(valueOptions('None', { values: [values[1]!], search: 'None' }, []).options).toEqual(['None'])
})
