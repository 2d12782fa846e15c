import { dateOperators, numberOperators, textOperators } from '../questions/vocabulary.js'
import type { ValueKind } from '../log/values.js'
import type { Condition, Operator, PropertyRef } from '../questions/parts.js'

/** The operators that go with a property of this kind, in the order they are offered. */
export function operatorsFor(kind: ValueKind): readonly Operator[] {
  switch (kind) {
    case 'text':
    case 'list':
      return [...textOperators, 'has a value', 'has no value']
    case 'number':
      return [...numberOperators, 'has a value', 'has no value']
    case 'date':
      return [...dateOperators, 'has a value', 'has no value']
    case 'boolean':
      return ['is true', 'is false', 'has a value', 'has no value']
  }
}

/** A condition with an operator and something harmless to compare with, as a new line in an editor starts. */
export function startCondition(property: PropertyRef, op: Operator, today: string): Condition {
  switch (op) {
    case 'is':
    case 'is not':
      return { property, op, values: [] }
    case 'contains':
    case 'does not contain':
    case 'starts with':
    case 'ends with':
    case 'matches':
      return { property, op, text: '' }
    case '=':
    case '≠':
    case '<':
    case '≤':
    case '>':
    case '≥':
      return { property, op, number: 0 }
    case 'between':
      return { property, op, numbers: [0, 100] }
    case 'before':
    case 'after':
      return { property, op, day: today }
    case 'between days':
      return { property, op, days: [today, today] }
    case 'in the last':
      return { property, op, last: 30, unit: 'day' }
    case 'has a value':
    case 'has no value':
    case 'is true':
    case 'is false':
      return { property, op }
  }
}

/** Negated conditions hold for *no value*, and for a value of another kind. */
export function isNegated(op: Operator): boolean {
  return op === 'is not' || op === 'does not contain' || op === '≠'
}
