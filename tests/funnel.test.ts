import { limitMs } from '../core/questions/limits.js'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { FunnelQuestion } from '../core/analyses/funnel/question.js'
import { requiredSteps } from '../core/analyses/funnel/question.js'
import { referenceAttempts, type ReferenceRules } from '../core/analyses/funnel/reference.js'
import type { EventPick, Filter } from '../core/questions/parts.js'
import { spanOf } from '../core/time/range.js'
import { answer, days, logOf, MONDAY, peopleIn, UTC, type TestEvent, type TestLog } from './eventLog.js'
import { funnelQuestions } from './funnelQuestions.js'

/** Funnels in all their modes against the definition walked event by event. */
const HOUR = 3_600_000
const NOW = MONDAY + days(30)

const event: fc.Arbitrary<TestEvent> = fc.record({
  person: fc.constantFrom('ada', 'bea', 'cai', 'dot'),
  event: fc.constantFrom('a', 'b', 'c', 'idle', 'other'),
  // Few distinct times, so that equal ones are common; some outside of the range, some after now.
  time: fc.integer({ min: -20, max: 140 }).map((h) => MONDAY + h * 6 * HOUR),
  properties: fc.oneof(
    fc.constant({}),
    fc.record({
      size: fc.constantFrom('s', 'm', 'l'),
      minutes: fc.integer({ min: 0, max: 4 }),
      bike: fc.constantFrom('pedal', 'cargo'),
    }),
    fc.record({ size: fc.subarray(['s', 'm', 'l'], { minLength: 1 }), minutes: fc.integer({ min: 0, max: 4 }) }),
  ),
})
const events = fc.array(event, { minLength: 3, maxLength: 60 }).map((list) => [
  ...list,
  // Every name is known, whatever the dice say.
  ...['a', 'b', 'c', 'idle', 'other'].map((name) => ({
    ...{ person: 'zoe', event: name, time: MONDAY - days(300) },
    properties: { size: 's', minutes: 1, bike: 'pedal' },
  })),
])

type Seen = TestEvent & { properties?: Record<string, unknown> }

function byPerson(test: TestLog): Seen[][] {
  return test.people.map((person) =>
    test.events
      .map((e, arrival) => ({ ...e, arrival }))
      .filter((e) => e.person === person)
      .sort((a, b) => a.time - b.time || a.arrival - b.arrival),
  )
}

/** A property that is missing, or an empty list, is none; lists are told apart by what they hold, in order. */
function valueOf({ properties }: Seen, name: string): string | number | undefined {
  const value = properties?.[name]
  if (value === undefined || (Array.isArray(value) && value.length === 0)) return undefined
  return typeof value === 'number' ? value : JSON.stringify(value)
}

function holds(where: Filter | undefined, e: Seen): boolean {
  if (!where) return true
  if (!('property' in where) || where.op !== 'is') throw new Error('not in these tests')
  const value = e.properties?.[(where.property as { name: string }).name]
  return (Array.isArray(value) ? value : [value]).some((each) => where.values.includes(each as string))
}

const picks = (pick: EventPick, e: Seen) =>
  'names' in pick.event && pick.event.names.includes(e.event) && holds(pick.where, e)

function rulesOf({ steps, window, order, count, first, same, forbidden = [], range }: FunnelQuestion): ReferenceRules {
  const { from, until } = spanOf(range, NOW, UTC)
  const stepTypes = steps.flatMap((step) => ('names' in step.event ? step.event.names : []))
  return {
    steps: steps.map((step) => ({
      optional: step.optional === true,
      matches: (e, entry) =>
        picks(step, e as Seen) &&
        (step.entry ?? []).every(({ property, op, entry: other }) => {
          const x = valueOf(e as Seen, (property as { name: string }).name)
          const y = valueOf(entry as Seen, (other as { name: string }).name)
          if (op === '≠') return x === undefined || x !== y
          if (x === undefined || y === undefined) return false
          return op === '=' ? x === y : typeof x === 'number' && typeof y === 'number' && x > y
        }),
    })),
    ...{
      windowMs: limitMs(window),
      from,
      until,
      now: NOW,
      order,
      attempts: count === 'attempts',
      first: first === true,
    },
    same: same && ((e) => valueOf(e as Seen, (same as { name: string }).name)),
    forbidden: forbidden.map((each) => ({ matches: (e) => picks(each, e as Seen), after: each.after })),
    passive: (e) => e.event === 'idle' && !stepTypes.includes('idle'),
  }
}

describe('a funnel in any mode', () => {
  test('is what the definition gives, walked event by event', () => {
    fc.assert(
      fc.property(events, funnelQuestions, (list, asked) => {
        const log = logOf(list, { passive: ['idle'] })
        const result = answer<FunnelResult>(
          log,
          { ...asked, show: { form: 'steps' }, compare: undefined },
          { now: NOW },
        )
        const attempts = byPerson(log).flatMap((own) => referenceAttempts(own, rulesOf(asked)))
        const required = requiredSteps(asked.steps)
        result.all.steps.forEach((step, i) => {
          expect(step.people).toBe(attempts.filter(({ filled }) => filled[i]).length)
          if (step.optional) return
          const open = attempts.filter(({ state, depth }) => {
            return state === 'open' && (asked.order === 'any order' ? depth - 1 : required[depth - 1]) === i
          })
          expect(step.open).toBe(open.length)
          const times = attempts.flatMap(({ entry, filled }) => (filled[i] ? [filled[i].time - entry.time] : []))
          times.sort((a, b) => a - b)
          if (i > 0 && times.length % 2 === 1) expect(step.fromEntry.median).toBe(times[(times.length - 1) / 2])
        })
      }),
      { numRuns: 3000 },
    )
  }, 120_000)

  test('over time is a funnel of its own in each bucket', () => {
    fc.assert(
      fc.property(events, funnelQuestions, (list, asked) => {
        const log = logOf(list, { passive: ['idle'] })
        const question = { ...asked, breakdowns: undefined, compare: undefined }
        const show = { form: 'over time', every: 'day' } as const
        const { over } = answer<FunnelResult>(log, { ...question, show }, { now: NOW })
        const rules = rulesOf(asked)
        const required = requiredSteps(asked.steps)
        over!.buckets.forEach(({ start, end, key }, b) => {
          const from = Math.max(start, rules.from)
          const until = Math.min(end, rules.until)
          // Attempts that share events are followed together, whenever they begin.
          const attempts = byPerson(log)
            .flatMap((own) => referenceAttempts(own, rules.attempts ? rules : { ...rules, from, until }))
            .filter(({ entry }) => entry.time >= from && entry.time < until)
          const [line] = over!.lines
          asked.steps.forEach((step, i) => {
            expect(line.reached[b][i]).toBe(attempts.filter(({ filled }) => filled[i]).length)
            if (step.optional) return
            const open = attempts.filter(
              ({ state, depth }) =>
                state === 'open' && (asked.order === 'any order' ? depth - 1 : required[depth - 1]) === i,
            )
            expect(line.open[b][i]).toBe(open.length)
            const mark = { kind: 'step', step: i, bucket: key, what: 'reached' } as const
            const people = new Set(attempts.flatMap(({ entry, filled }) => (filled[i] ? [(entry as Seen).person] : [])))
            if (people.size > 0)
              expect(peopleIn(log, { ...question, show }, [mark], { now: NOW }).sort()).toEqual([...people].sort())
          })
        })
      }),
      { numRuns: 60 },
    )
  })

  test('never rises along its steps; those lost and those who went on are those who came; groups of a person add up', () => {
    fc.assert(
      fc.property(events, funnelQuestions, (list, asked) => {
        const profiles = { ada: { kind: 'x' }, bea: { kind: 'y' } }
        const log = logOf(list, { passive: ['idle'], profiles })
        const byKind = [{ by: { of: 'person' as const, name: 'kind' }, keep: 10 }]
        const { all, groups } = answer<FunnelResult>(log, { ...asked, breakdowns: byKind }, { now: NOW })
        const steps = all.steps.filter(({ optional }) => !optional)
        steps.forEach((step, i) => {
          if (i + 1 < steps.length) expect(step.lost + steps[i + 1].people).toBe(step.people)
          else expect(step.lost).toBe(0)
          expect(step.lost).toBeGreaterThanOrEqual(step.open)
        })
        all.steps.forEach((step, i) =>
          expect(groups.reduce((sum, row) => sum + row.steps[i].people, 0)).toBe(step.people),
        )
      }),
      { numRuns: 500 },
    )
  })
})
