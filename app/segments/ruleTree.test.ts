import { describe, expect, test } from 'vitest'
import type { Rule, RuleGroup } from '../../core/segments/rule.js'
import { at, duplicated, grouped, moved, nudged, removed, switched, ungrouped } from './ruleTree.js'

const one = (name: string): Rule => ({ kind: 'did', event: { names: [name] } })
const group = (hold: 'all' | 'any', ...of: Rule[]): RuleGroup => ({ hold, of })
/** `a (b c) d` */
const say = (rule: Rule): string =>
  'hold' in rule
    ? rule.of.map((inner) => ('hold' in inner ? `(${say(inner)})` : say(inner))).join(' ')
    : rule.kind === 'did' && 'names' in rule.event
      ? rule.event.names[0]
      : '?'
const rule = group('all', one('a'), group('any', one('b'), one('c')), one('d'))

describe('moving', () => {
  test.each<[number[], number[], boolean, string]>([
    [[0], [2], false, '(b c) d a'],
    [[2], [0], false, 'd a (b c)'],
    [[0], [1, 1], false, '(b a c) d'],
    [[0], [1], true, '(a b c) d'],
    [[2], [1, 0], false, 'a (d b c)'],
    [[1, 0], [0], false, 'b a (c) d'],
    [[1, 1], [2], false, 'a (b) c d'],
    [[1], [0], false, '(b c) a d'],
  ])('what stands at %o to %o', (from, to, into, result) => expect(say(moved(rule, from, to, into))).toBe(result))
  test('a group does not go into itself', () => {
    expect(moved(rule, [1], [1, 0], false)).toBe(rule)
    expect(moved(rule, [1], [1], true)).toBe(rule)
  })
  test('by one place, and out of the group at its ends', () => {
    expect(say(nudged(rule, [0], 1).rule)).toBe('(b c) a d')
    expect(say(nudged(rule, [1, 0], -1).rule)).toBe('a b (c) d')
    expect(say(nudged(rule, [1, 1], 1).rule)).toBe('a (b) c d')
    expect(nudged(rule, [0], -1)).toEqual({ rule, place: [0] })
  })
})

test('a copy, a group of its own and back, switched off and on', () => {
  expect(say(duplicated(rule, [1]))).toBe('a (b c) (b c) d')
  expect(say(grouped(rule, [0]))).toBe('(a) (b c) d')
  expect(say(ungrouped(rule, [1]))).toBe('a b c d')
  expect(say(removed(rule, [1, 0]))).toBe('a (c) d')
  const off = switched(rule, [1, 0])
  expect(at(off, [1, 0])?.off).toBe(true)
  expect(switched(off, [1, 0])).toEqual(rule)
})
