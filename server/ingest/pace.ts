/** A batch is kept waiting for no longer than this. */
const MOST_MS = 750
/** What is accepted is to be seen within this time; from here on a batch waits the more the later it is. */
const SEEN_WITHIN_MS = 5000
const LATE_MS = SEEN_WITHIN_MS * 0.55
/** A pause of the senders' own says more than what was before it. */
const FORGOTTEN_MS = 20_000

/** A wait that is found by trying: it grows with each time that is over what is aimed at, and shrinks with each under it. */
class Wait {
  private ms = 0
  private toldMs = -Infinity

  /**
   * @param aimMs what is aimed at
   * @param up so much longer for each millisecond over it
   * @param down so much less for each millisecond under it
   */
  constructor(
    private readonly aimMs: number,
    private readonly up: number,
    private readonly down: number,
  ) {}

  told(tookMs: number, now: number): void {
    const late = tookMs - this.aimMs
    this.ms = Math.min(MOST_MS, Math.max(0, this.at(now) + late * (late > 0 ? this.up : this.down)))
    this.toldMs = now
  }

  at(now: number): number {
    return now - this.toldMs > FORGOTTEN_MS ? 0 : this.ms
  }
}

/**
 * How long a batch is kept waiting, so that senders go no faster than what they send can be seen, and leave room for
 * questions.
 */
export class Pace {
  private readonly forSeeing = new Wait(2000, 0.12, 0.04)
  // One question in ten takes ten times as long as the others: it is those that are to be soon answered.
  private readonly forAnswers = new Wait(1500, 0.1, 0.01)

  constructor(private readonly clock: () => number = () => performance.now()) {}

  /** @param afterMs so long after it was accepted the oldest event of a refresh was seen */
  seen(afterMs: number): void {
    this.forSeeing.told(afterMs, this.clock())
  }

  /** @param tookMs so long a question took beside what was being taken in */
  answered(tookMs: number): void {
    this.forAnswers.told(tookMs, this.clock())
  }

  /** @param behindMs how long the oldest event has been waiting that is not seen yet @returns ms */
  holdMs(behindMs: number): number {
    const now = this.clock()
    const late = (behindMs - LATE_MS) / (SEEN_WITHIN_MS - LATE_MS)
    const atOnce = MOST_MS * Math.min(1, Math.max(0, late))
    return Math.round(Math.max(this.forSeeing.at(now), this.forAnswers.at(now), atOnce))
  }
}
