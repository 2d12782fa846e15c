import { expect, test } from 'vitest'
import { checkerOf } from '../core/plan/check.js'
import { NOTHING_MENDED } from '../core/made/definitions.js'
import { readEvent } from '../server/ingest/event.js'
import { trackingPlan } from './plan.js'
import { Traffic } from './traffic.js'

const START = Date.UTC(2026, 10, 23, 12)
const HOUR = 3_600_000

function hour(rate: number) {
  const traffic = new Traffic(rate, 7, START)
  const events = []
  // Asked every half second, as it is sent.
  for (let now = START; now < START + HOUR; now += 500)
    events.push(...traffic.until(now).map((event) => ({ event, now })))
  return { traffic, events }
}

test('the simulator keeps its rate, and sends nothing before its moment', () => {
  const { events } = hour(10)
  const perSecond = events.length / 3600
  expect(perSecond).toBeGreaterThan(8)
  expect(perSecond).toBeLessThan(12)
  const ahead = events.filter(({ event, now }) => event.time > now)
  // Only those whose clock is years ahead.
  expect(ahead.length / events.length).toBeLessThan(0.005)
  expect(ahead.every(({ event }) => event.time > START + 1000 * 24 * HOUR)).toBe(true)
})

test('its events are believable: nearly all fit the plan, and the mess of real life is among the rest', () => {
  const { traffic, events } = hour(20)
  const sent = events.map(({ event }) => event)
  for (const event of sent)
    if (event.time < START + HOUR) expect(readEvent(event, () => '', START + HOUR)).not.toHaveProperty('reason')
  const { check } = checkerOf({ policy: 'flag', events: trackingPlan(() => ''), others: {} }, NOTHING_MENDED)
  const wrong = sent.flatMap(({ event, properties }) =>
    check(event, properties).map(({ rule, property }) => `${rule} ${event} ${property ?? ''}`.trim()),
  )
  expect(wrong.length / sent.length).toBeLessThan(0.04)
  expect(new Set(wrong)).toContain('unknown event ride_done_old')
  expect(new Set(wrong)).toContain('unknown event qr_debug')
  const ids = sent.map(({ id }) => id)
  expect(new Set(ids).size).toBeLessThan(ids.length)
  const [newcomer] = traffic.profilesOf(sent)
  expect(newcomer).toMatchObject({ person: expect.stringMatching(/^rider-n/) as string, properties: { plan: 'None' } })
})
