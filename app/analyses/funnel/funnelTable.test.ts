import { describe, expect, test } from 'vitest'
import { answer, eventLog } from '../../../tests/eventLog.js'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { FunnelQuestion, FunnelShow } from '../../../core/analyses/funnel/question.js'
import type { Words } from '../../../core/words/words.js'
import { funnelTable } from './funnelTable.js'

const words = { thisYear: 2026, segments: {} } as unknown as Words
const log = eventLog({
  ...{ ada: 'look@0d add@1h buy@2h', bea: 'look@0d help@1h', cai: 'look@8d add@9d', dot: 'look@-3d add@-2d buy@-1d' },
})
const question: FunnelQuestion = {
  ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range: { from: '2026-01-05', to: '2026-01-18' } },
  steps: ['look', 'add', 'buy'].map((name) => ({ event: { names: [name] } })),
}
function table(more: Partial<FunnelQuestion>) {
  const asked = { ...question, ...more }
  return funnelTable(asked, answer<FunnelResult>(log, asked), words)
}
const shown = (show: FunnelShow) => table({ show })

describe('a funnel to be downloaded', () => {
  test('has a row for each step, times in seconds, and the rows of the time it is compared with', () => {
    const rows = table({ compare: { to: 'before' } })
    const head = rows[0]
    const column = (name: string) => rows.slice(1).map((row) => row[head.indexOf(name)])
    expect(column('Time')).toEqual([...Array<string>(3).fill('asked about'), ...Array<string>(3).fill('compared with')])
    expect(column('People')).toEqual([3, 2, 1, 1, 1, 1])
    expect(column('Median seconds from the start')).toEqual([null, (3600 + 86_400) / 2, 7200, null, 86_400, 172_800])
    expect(column('Difference')).toEqual([null, null, 1 / 3 - 1, null, null, null])
    expect(rows.every((row) => row.length === head.length)).toBe(true)
  })

  test('over time it has a row for each bucket, with those still open', () => {
    expect(shown({ form: 'over time', every: 'week' })).toEqual([
      ['Begun', '1 look', '2 add', '3 buy', 'Still open'],
      ['2026-01-05', 2, 1, 1, 0],
      ['2026-01-12', 1, 1, 0, 0],
    ])
  })

  test('of times it has the bars, and below them the figures of each group', () => {
    const rows = shown({ form: 'time', from: 0, to: 1 })
    const bars = rows.slice(
      1,
      rows.findIndex((row) => row.length === 0),
    )
    expect(bars.reduce((sum, row) => sum + Number(row[2]), 0)).toBe(2)
    expect(rows.at(-1)).toEqual(['All', 2, 45_000, 45_000, 3600 + 0.9 * 82_800, 0.5])
  })

  test('repeats, what the lost did, and what lies between', () => {
    expect(shown({ form: 'repeats' })[1]).toEqual(['1 look', 1, 2, 1])
    expect(shown({ form: 'after', step: 0, within: { count: 1, unit: 'day' } })).toEqual([
      ['After 1 look', 'People', 'Share', 'Commonest way'],
      ['Did nothing more', 0, 0, ''],
      ['help', 1, 1, 'help'],
    ])
    expect(shown({ form: 'between' }).at(-1)).toEqual(['add', 1, 1])
    expect(shown({ form: 'apart' })[0]).toContain('p, adjusted')
  })
})
