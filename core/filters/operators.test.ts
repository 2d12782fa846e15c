import { describe, expect, test } from 'vitest'
import { eventLog, MONDAY, peopleIn } from '../../tests/eventLog.js'
import type { TrendQuestion } from '../analyses/trend/question.js'
import type { Value, ValueKind } from '../log/values.js'
import { conditionSchema, type Condition } from '../questions/parts.js'
import { conditionWords } from '../words/words.js'
import { isNegated, operatorsFor, startCondition } from './operators.js'

const property = { of: 'event', name: 'it' } as const
const kinds: readonly ValueKind[] = ['text', 'number', 'date', 'boolean', 'list']
/** As somebody fills it in. */
function filled(condition: Condition): Condition {
  if ('values' in condition) return { ...condition, values: ['rain'] }
  return 'text' in condition ? { ...condition, text: 'rain' } : condition
}

describe.each(kinds)('what can be asked of a %s', (kind) => {
  test.each(operatorsFor(kind))('%s can be asked as soon as it is filled in, and is said', (op) => {
    const condition = filled(startCondition(property, op, '2026-01-05'))
    expect(conditionSchema.parse(condition)).toEqual(condition)
    expect(conditionWords(condition, { thisYear: 2026 })).toMatch(/^It /)
  })
  test('each is offered once, and having a value or none goes with any', () => {
    const offered = operatorsFor(kind)
    expect(new Set(offered).size).toBe(offered.length)
    expect(offered).toEqual(expect.arrayContaining(['has a value', 'has no value']))
  })
})

test('what is negated holds for no value, and all else does not', () => {
  const values: Record<string, Value | undefined> = { text: 'sun', number: 7, none: undefined }
  const log = eventLog(
    Object.fromEntries(
      Object.entries(values).map(([person, it]) => [
        person,
        [{ person, event: 'ride', time: MONDAY, ...(it === undefined ? {} : { properties: { it } }) }],
      ]),
    ),
  )
  const holdsFor = (where: Condition) => {
    const study: TrendQuestion = {
      ...{ kind: 'trend', every: 'day', range: { from: '2026-01-05', to: '2026-01-05' } },
      ...{ series: [{ event: { names: ['ride'] }, measure: 'people', where }], show: { form: 'lines', as: 'number' } },
    }
    return peopleIn(log, study, [{ kind: 'point' }])
  }
  for (const op of new Set([...operatorsFor('text'), ...operatorsFor('number')])) {
    if (op === 'has no value') continue
    expect([op, holdsFor(filled(startCondition(property, op, '2026-01-05'))).includes('none')]).toEqual([
      op,
      isNegated(op),
    ])
  }
})
