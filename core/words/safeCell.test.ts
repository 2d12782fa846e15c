import { expect, test } from 'vitest'
import { plainCell, safeCell } from './safeCell.js'

test.each<[unknown, unknown]>([
  ['=1+1', "'=1+1"],
  ['@SUM(A1)', "'@SUM(A1)"],
  ['+HYPERLINK("x")', '\'+HYPERLINK("x")'],
  ['-2+3', "'-2+3"],
  ['\tx', "'\tx"],
  ['\n=1+1', "'\n=1+1"],
  ['＝1+1', "'＝1+1"],
  ['＠SUM(A1)', "'＠SUM(A1)"],
  ['-5', '-5'],
  ['+351 ', "'+351 "],
  ['+3.5e-2', '+3.5e-2'],
  ['a=b', 'a=b'],
  [-5, -5],
  [null, null],
])('%j becomes %j', (cell, expected) => {
  expect(safeCell(cell)).toBe(expected)
  if (typeof expected === 'string') expect(plainCell(expected)).toBe(cell)
})
