import type { Response } from 'express'
import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible'

/** How much one key may do in a span of time. */
export interface Rate {
  /** as the headers call it */
  name: 'events' | 'questions'
  most: number
  seconds: number
}

/**
 * Holds each key to a rate, and tells in the standard headers how much is left. What is only known afterwards, how many
 * events a body held, is counted then: who went over waits before the next.
 */
export function rateOf({ name, most, seconds }: Rate) {
  const limiter = new RateLimiterMemory({ points: most, duration: seconds, keyPrefix: name })

  function tell(res: Response, state: RateLimiterRes | null): void {
    const left = state ? Math.max(0, most - state.consumedPoints) : most
    const reset = Math.ceil((state?.msBeforeNext ?? seconds * 1000) / 1000)
    res.setHeader('RateLimit-Policy', `"${name}";q=${most};w=${seconds}`)
    res.setHeader('RateLimit', `"${name}";r=${left};t=${reset}`)
  }

  return {
    /** @returns seconds to wait where the key has used up what it may; null where it may go on */
    async waitOf(key: string, res: Response): Promise<number | null> {
      const state = await limiter.get(key)
      tell(res, state)
      return state && state.consumedPoints >= most ? Math.max(1, Math.ceil(state.msBeforeNext / 1000)) : null
    },
    async count(key: string, amount: number, res: Response): Promise<void> {
      if (amount > 0) tell(res, await limiter.penalty(key, amount))
    },
  }
}
