import { isNegated } from '../filters/operators.js'
import type { Condition, Filter } from '../questions/parts.js'
import type { RuleRow } from './definitions.js'

/** Why a row of a rule set can never be the first that holds. */
export type Never = { why: 'contradiction' } | { why: 'covered'; by: number[] }

/**
 * Finds rows that can never match: their own conditions exclude one another, or whatever fulfils them fulfils an earlier
 * row already. Looks at rows whose conditions all must hold; other rows are given the benefit of the doubt, so a row that
 * is named really never matches, and some that never match may not be named.
 * @returns for each row, null or the reason
 */
export function findNever(rows: readonly RuleRow[]): (Never | null)[] {
  const parts = rows.map(({ where }) => conjuncts(where))
  return rows.map((_row, i) => {
    const own = parts[i]
    if (!own) return null
    if (contradicts(own)) return { why: 'contradiction' }
    for (let j = 0; j < i; j++) {
      const earlier = parts[j]
      if (earlier && earlier.every((condition) => own.some((mine) => implies(mine, condition))))
        return { why: 'covered', by: [j] }
    }
    return coveredValueByValue(own, parts.slice(0, i))
  })
}

/** The conditions that all must hold; null where some of them are alternatives. */
function conjuncts(filter: Filter): Condition[] | null {
  if ('property' in filter) return [filter]
  if ('any' in filter) return filter.any.length === 1 ? conjuncts(filter.any[0]) : null
  const inner = filter.all.map(conjuncts)
  return inner.includes(null) ? null : inner.flatMap((each) => each!)
}

/** Each value of an "is" is caught by another earlier row: together they cover it. */
function coveredValueByValue(own: readonly Condition[], earlier: readonly (Condition[] | null)[]): Never | null {
  for (const mine of own) {
    if (mine.op !== 'is' || mine.values.length < 2) continue
    const by = mine.values.map((value) => {
      const narrowed = own.map((each) => (each === mine ? { ...mine, values: [value] } : each))
      return earlier.findIndex((row) => row?.every((condition) => narrowed.some((part) => implies(part, condition))))
    })
    if (!by.includes(-1)) return { why: 'covered', by: [...new Set(by)].sort((a, b) => a - b) }
  }
  return null
}

function sameProperty(a: Condition, b: Condition): boolean {
  return JSON.stringify(a.property) === JSON.stringify(b.property)
}

/** Whether two conditions on one property cannot both hold for a single value. A list may fulfil both by two elements. */
function contradicts(conditions: readonly Condition[]): boolean {
  return conditions.some((a, i) =>
    conditions.slice(i + 1).some((b) => {
      if (!sameProperty(a, b)) return false
      if (a.op === 'has no value' || b.op === 'has no value') return requiresValue(a) || requiresValue(b)
      const [x, y] = [intervalOf(a), intervalOf(b)]
      return x !== null && y !== null && (x.low > y.high || y.low > x.high)
    }),
  )
}

/** Whether it holds for nothing that has no value. */
function requiresValue(condition: Condition): boolean {
  return condition.op !== 'has no value' && !isNegated(condition.op)
}

/** Whether whatever fulfils `a` fulfils `b` too. */
function implies(a: Condition, b: Condition): boolean {
  if (!sameProperty(a, b)) return false
  if (JSON.stringify(a) === JSON.stringify(b)) return true
  if (b.op === 'has a value') return requiresValue(a)
  if (a.op === 'is' && a.values.length > 0 && !a.ignoreCase) return a.values.every((value) => fulfils(value, b))
  const [x, y] = [intervalOf(a), intervalOf(b)]
  if (x && y) return x.low >= y.low && x.high <= y.high
  if ('text' in a && 'text' in b && !a.ignoreCase) {
    const [long, part] = b.ignoreCase ? [a.text.toLowerCase(), b.text.toLowerCase()] : [a.text, b.text]
    if (b.op === 'contains' && a.op !== 'matches' && a.op !== 'does not contain') return long.includes(part)
    if (b.op === 'starts with') return a.op === 'starts with' && long.startsWith(part)
    if (b.op === 'ends with') return a.op === 'ends with' && long.endsWith(part)
  }
  return false
}

/** Whether one text fulfils a condition on texts; false where that is not plain to see. */
function fulfils(value: string, condition: Condition): boolean {
  const fold = (text: string) => ('ignoreCase' in condition && condition.ignoreCase ? text.toLowerCase() : text)
  const text = fold(value)
  switch (condition.op) {
    case 'is':
      return condition.values.some((wanted) => fold(wanted) === text)
    case 'contains':
      return text.includes(fold(condition.text))
    case 'starts with':
      return text.startsWith(fold(condition.text))
    case 'ends with':
      return text.endsWith(fold(condition.text))
    default:
      return false
  }
}

/** The numbers that fulfil a comparison, both ends included; an open end is moved by the least there is. */
function intervalOf(condition: Condition): { low: number; high: number } | null {
  switch (condition.op) {
    case '=':
      return { low: condition.number, high: condition.number }
    case '<':
      return { low: -Infinity, high: condition.number - Number.EPSILON * Math.max(1, Math.abs(condition.number)) }
    case '≤':
      return { low: -Infinity, high: condition.number }
    case '>':
      return { low: condition.number + Number.EPSILON * Math.max(1, Math.abs(condition.number)), high: Infinity }
    case '≥':
      return { low: condition.number, high: Infinity }
    case 'between':
      return { low: Math.min(...condition.numbers), high: Math.max(...condition.numbers) }
    default:
      return null
  }
}
