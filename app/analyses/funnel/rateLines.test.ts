import { expect, test } from 'vitest'
import { answer, eventLog } from '../../../tests/eventLog.js'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { Words } from '../../../core/words/words.js'
import { rateLines } from './rateLines.js'

const words = { thisYear: 2026, segments: {} } as unknown as Words
const question: FunnelQuestion = {
  ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range: { from: '2026-01-05' } },
  steps: ['look', 'add', 'buy'].map((name) => ({ event: { names: [name] } })),
  show: { form: 'over time', every: 'week' },
}
const log = eventLog({
  ...{ ada: 'look@0d add@1d buy@2d', bea: 'look@1d add@2d', cai: 'look@57d add@58d', dot: 'look@58d', eve: 'look@58d' },
})

test('the whole way is one rate by week; a week without anybody is a gap', () => {
  const result = answer<FunnelResult>(log, question)
  const [line] = rateLines(question, result, result.over!, 'whole', words)
  const of = (key: string) => result.over!.buckets.findIndex((bucket) => bucket.key === key)
  expect(line).toMatchObject({ step: 2, label: 'Get through' })
  expect([line.rates[of('2026-01-05')], line.rates[of('2026-01-12')]]).toEqual([0.5, null])
  expect([line.rates[of('2026-03-02')], line.open[of('2026-03-02')]]).toEqual([0, 3])
})

test('step by step each rate is of those who came so far, and only those are still open who wait for it', () => {
  const result = answer<FunnelResult>(log, question)
  const at = result.over!.buckets.findIndex(({ key }) => key === '2026-03-02')
  const [add, buy] = rateLines(question, result, result.over!, 'steps', words)
  expect([add.label, add.parts[at], add.wholes[at], add.open[at]]).toEqual(['add', 1, 3, 2])
  expect([buy.label, buy.parts[at], buy.wholes[at], buy.open[at]]).toEqual(['buy', 0, 1, 1])
})
