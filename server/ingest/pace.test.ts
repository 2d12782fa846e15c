import { describe, expect, it } from 'vitest'
import { Pace } from './pace.js'

/**
 * Eight senders without a pause, and a refresh that takes `msEach` for each event it takes in.
 * @returns how long after it was accepted the oldest event of each refresh was seen, ms
 */
function underLoad(msEach: (events: number) => number, refreshes: number): number[] {
  let now = 0
  const pace = new Pace(() => now)
  const seen: number[] = []
  let tookMs = 0
  for (let turn = 0; turn < refreshes; turn++) {
    const behindMs = tookMs + 500
    // A batch takes 100 ms, and waits as long as it is told.
    const events = (behindMs / (100 + pace.holdMs(behindMs / 2))) * 8 * 500
    tookMs = events * msEach(events)
    now += tookMs + 500
    seen.push(behindMs + tookMs)
    pace.seen(behindMs + tookMs)
  }
  return seen
}

describe('Pace', () => {
  it('holds nobody back while what is sent is soon seen', () => {
    const pace = new Pace()
    pace.seen(900)
    expect(pace.holdMs(900)).toBe(0)
  })

  it('finds the pace at which senders that go without a pause are seen in time, and keeps it', () => {
    const seen = underLoad(() => 0.06, 60)
    expect(Math.max(...seen.slice(0, 5))).toBeGreaterThan(5000)
    expect(Math.max(...seen.slice(30))).toBeLessThan(5000)
    expect(Math.max(...seen.slice(40)) - Math.min(...seen.slice(40))).toBeLessThan(1000)
  })

  it('holds a batch back by what waits now, whatever was before', () => {
    const pace = new Pace()
    expect(pace.holdMs(2500)).toBe(0)
    expect(pace.holdMs(4000)).toBeGreaterThan(0)
    expect(pace.holdMs(60_000)).toBe(pace.holdMs(5000))
  })

  it('makes room where one question in ten takes long, and gives it back', () => {
    const pace = new Pace()
    const ask = (rounds: number, longMs: number) => {
      for (let round = 0; round < rounds; round++) {
        for (let i = 0; i < 9; i++) pace.answered(400)
        pace.answered(longMs)
      }
    }
    ask(20, 4000)
    expect(pace.holdMs(0)).toBeGreaterThan(500)
    ask(20, 900)
    expect(pace.holdMs(0)).toBe(0)
  })

  it('forgets after the senders have paused', () => {
    let now = 0
    const pace = new Pace(() => now)
    for (; now < 10_000; now += 1000) pace.seen(8000)
    expect(pace.holdMs(0)).toBeGreaterThan(500)
    now += 30_000
    expect(pace.holdMs(0)).toBe(0)
  })
})
