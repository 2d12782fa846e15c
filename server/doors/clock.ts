import type { Speed } from '../../core/outreach/clock.js'
import type { EngineStatus } from '../engine/engine.worker.js'
import type { Inside } from './inside.js'

export interface ClockState {
  /** epoch ms */
  now: number
  /** null = it is the machine's clock, and cannot be run */
  speed: Speed | null
}

/** A second that takes longer than this, as after the machine slept, counts as this. */
const MOST_STEP_MS = 3000

/**
 * The clock that outreach goes by. It is the machine's, but where the workspace is read as of its last event: there it
 * stands at that, and can be run faster, so that a fortnight is over while one watches.
 */
export function workspaceClock({ ask, stores, toWrite }: Inside) {
  let speed: Speed = 0
  let steppedMs = 0
  const isOwn = () => stores.settings.get().now === 'last event'

  return {
    async now(): Promise<number> {
      return isOwn() ? (await ask<EngineStatus>({ kind: 'status' })).now : Date.now()
    },
    isRunning: () => speed > 0 && isOwn(),
    async state(): Promise<ClockState> {
      return { now: await this.now(), speed: isOwn() ? speed : null }
    },
    run(to: Speed): void {
      steppedMs = performance.now()
      speed = isOwn() ? to : 0
    },
    /** It goes on by what has passed since the last step. @returns from when to when; null where it stands */
    async step(): Promise<{ fromMs: number; toMs: number } | null> {
      if (!this.isRunning()) return null
      const passed = Math.min(MOST_STEP_MS, performance.now() - steppedMs)
      steppedMs = performance.now()
      const fromMs = await this.now()
      const toMs = Math.round(fromMs + passed * speed)
      await toWrite()
      stores.settings.set({ ranTo: toMs })
      return { fromMs, toMs }
    },
  }
}
export type WorkspaceClock = ReturnType<typeof workspaceClock>
