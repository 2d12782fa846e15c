import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  eventLog,
  logOf,
  MONDAY,
  peopleIn,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { medianEnd, type GapsResult } from './finish.js'
import type { GapsQuestion } from './question.js'
import type { GapsMark } from './marks.js'

const question: GapsQuestion = {
  kind: 'gaps',
  start: { event: { names: ['ride'] } },
  range: { from: '2026-01-05', to: '2026-02-28' },
  show: { form: 'gaps' },
}
const ask = (log: TestLog) => answer<GapsResult>(log, question)

describe('gaps between uses', () => {
  const log = eventLog({
    // Gaps 1, 2 and 7; median 2.
    ada: 'ride@0d ride@0d+3h ride@1d ride@3d ride@10d',
    // Gaps 1 and 2: median 1.5.
    bea: 'ride@0d+23h ride@1d+1h ride@3d',
    cai: 'ride@5d',
    // One gap of 20.
    dot: 'ride@2d ride@22d',
    eve: 'ride@-3d other@4d',
  })
  const result = ask(log)

  test('are days from one day to the next, in the time asked about; several on a day are one', () => {
    expect(result.bins.filter(({ gaps }) => gaps > 0).map(({ least, most, gaps }) => [least, most, gaps])).toEqual([
      [1, 1, 2],
      [2, 2, 2],
      [7, 7, 1],
      [15, 21, 1],
    ])
    expect([result.gaps, result.people, result.once]).toEqual([6, 3, 1])
  })

  test('80 % of returns, the median, and the median of people’s medians', () => {
    // 80 % of six gaps is 4.8: the fifth is 7 days.
    expect(result.eighty).toBe(7)
    expect(result.median).toBe(2)
    // Medians 1.5, 2 and 20.
    expect(result.medianOfMedians).toBe(2)
    expect(result.suggested).toEqual({ unit: 'week', days: 7 })
  })

  test('people by their median: a half day belongs to the span it has begun', () => {
    expect(result.bins.filter(({ people }) => people > 0).map(({ least, people }) => [least, people])).toEqual([
      [1, 1],
      [2, 1],
      [15, 1],
    ])
  })

  test('are their people', () => {
    const of = (mark: object) => peopleIn(log, question, [{ kind: 'gap', ...mark } as GapsMark])
    expect(of({ least: 1, most: 1 })).toEqual(['ada', 'bea'])
    expect(of({ least: 15, most: 21 })).toEqual(['dot'])
    expect(of({ least: 1, most: 1.5, of: 'median' })).toEqual(['bea'])
    expect(of({ least: 0, of: 'once' })).toEqual(['cai'])
  })

  test('who never comes twice leaves nothing to suggest', () => {
    expect(ask(eventLog({ ada: 'ride@1d' }))).toMatchObject({ gaps: 0, eighty: null, suggested: null, once: 1 })
  })
})

test('on random timelines: against a plain walk, cut anywhere, and every bar its people', () => {
  const event = fc.record({
    person: fc.constantFrom('ada', 'bea', 'cai', 'dot'),
    event: fc.constantFrom('ride', 'ride', 'other'),
    time: fc.integer({ min: -5, max: 60 * 24 }).map((hour) => MONDAY + hour * 3_600_000),
  })
  fc.assert(
    fc.property(
      fc.array(event, { maxLength: 40 }),
      fc.array(fc.double({ min: 0, max: 1, noNaN: true })),
      (list, cuts) => {
        const all: TestEvent[] = [...list, { person: 'zoe', event: 'ride', time: MONDAY - days(300) }]
        const log = logOf(all)
        const result = answer<GapsResult>(log, question)
        expect(answer(log, question, { cuts })).toEqual(result)
        const end = MONDAY + days(55)
        const gapsOf = (person: string) => {
          const on = all
            .filter((each) => each.person === person && each.event === 'ride' && each.time >= MONDAY && each.time < end)
            .map(({ time }) => Math.floor((time - MONDAY) / days(1)))
          const sorted = [...new Set(on)].sort((a, b) => a - b)
          return sorted.slice(1).map((day, i) => day - sorted[i])
        }
        const each = log.people.map(gapsOf)
        for (const bin of result.bins) {
          const { least, most } = bin
          const isIn = (gap: number) => gap >= least && (most === null || gap <= most)
          expect(bin.gaps).toBe(each.flat().filter(isIn).length)
          const gap: GapsMark = { kind: 'gap', least, ...(most === null ? {} : { most }) }
          expect(peopleIn(log, question, [gap])).toHaveLength(each.filter((gaps) => gaps.some(isIn)).length)
          const until = medianEnd(bin)
          const median: GapsMark = { kind: 'gap', least, of: 'median', ...(until === undefined ? {} : { most: until }) }
          expect(peopleIn(log, question, [median])).toHaveLength(bin.people)
        }
      },
    ),
    { numRuns: 80 },
  )
})
