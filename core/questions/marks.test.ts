import { describe, expect, test } from 'vitest'
import { amongMarks, hasMark, pressMark, sameMark } from './marks.js'
import type { Mark } from '../analyses/registry.js'

const week: Mark = { kind: 'point', bucket: '2026-11-02', group: { value: 'Annual' } }
const written: Mark = { group: { value: 'Annual' }, bucket: '2026-11-02', kind: 'point' }
const all: Mark = { kind: 'point', bucket: '2026-11-02' }
const row: Mark = { kind: 'cell', row: [{ value: 'Quay' }, { value: 'Day pass' }] }

describe('marks are compared by what they say', () => {
  test('the order in which the parts are written does not matter', () => {
    expect(sameMark(week, written)).toBe(true)
  })

  test('a part left out, another value, or rows the other way round are another mark', () => {
    expect(sameMark(week, all)).toBe(false)
    expect(sameMark(week, { ...week, group: { value: 'Student' } } as Mark)).toBe(false)
    expect(sameMark(row, { kind: 'cell', row: [{ value: 'Day pass' }, { value: 'Quay' }] })).toBe(false)
  })

  test('one and many are asked alike', () => {
    expect(hasMark([row, week], written)).toBe(true)
    expect(amongMarks([row, week])(written)).toBe(true)
    expect(hasMark([row, week], all)).toBe(false)
    expect(amongMarks([])(all)).toBe(false)
  })
})

describe('pressing', () => {
  test('alone it replaces, and pressed again it goes', () => {
    expect(pressMark([], week, false)).toEqual([week])
    expect(pressMark([all, row], week, false)).toEqual([week])
    expect(pressMark([week], written, false)).toEqual([])
  })

  test('added it joins, and pressed again it goes alone', () => {
    expect(pressMark([all], week, true)).toEqual([all, week])
    expect(pressMark([all, week], written, true)).toEqual([all])
  })

  test('one of several, pressed without adding, stays by itself', () => {
    expect(pressMark([all, week], week, false)).toEqual([week])
  })
})
