/** What is accepted is to be seen within this time. */
const SEEN_WITHIN_MS = 5000
const AIMED_AT_MS = SEEN_WITHIN_MS * 0.55
/** From here on, whatever went before, a batch waits the more the later it is. */
const LATE_MS = SEEN_WITHIN_MS * 0.6
const MOST_MS = 750
/** So much longer a batch waits for each second that what was sent before it was seen too late; and so much less. */
const STEP_UP = 0.12
const STEP_DOWN = 0.04
/** A pause of the senders' own says more than what was before it. */
const FORGOTTEN_MS = 20_000

/**
 * How long a batch is kept waiting, so that senders go no faster than what they send can be seen. It is found by trying:
 * longer after each refresh that showed its events too late, shorter after each that was in good time.
 */
export class Pace {
  private waitMs = 0
  private toldMs = -Infinity

  constructor(private readonly clock: () => number = () => performance.now()) {}

  /** @param afterMs so long after it was accepted the oldest event of a refresh was seen */
  seen(afterMs: number): void {
    const now = this.clock()
    if (now - this.toldMs > FORGOTTEN_MS) this.waitMs = 0
    this.toldMs = now
    const late = afterMs - AIMED_AT_MS
    this.waitMs = Math.min(MOST_MS, Math.max(0, this.waitMs + late * (late > 0 ? STEP_UP : STEP_DOWN)))
  }

  /** @param behindMs how long the oldest event has been waiting that is not seen yet @returns ms */
  holdMs(behindMs: number): number {
    const late = (behindMs - LATE_MS) / (SEEN_WITHIN_MS - LATE_MS)
    const found = this.clock() - this.toldMs > FORGOTTEN_MS ? 0 : this.waitMs
    return Math.round(Math.max(found, MOST_MS * Math.min(1, Math.max(0, late))))
  }
}
