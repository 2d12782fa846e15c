import type { Steps } from '../../core/steps.js'

/** So long at most one piece of work goes on before whatever has come meanwhile has its turn. */
const SLICE_MS = 6

/** Whatever has come meanwhile is taken first: messages, timers, answers of other threads. */
export function yieldTurn(): Promise<void> {
  return new Promise((resolve) => setImmediate(resolve))
}

/** Does work a slice at a time. @param note told what is being worked on at the beginning of each slice */
export async function inTurns<T>(steps: Steps<T>, note: () => void = () => {}): Promise<T> {
  for (;;) {
    note()
    const end = performance.now() + SLICE_MS
    do {
      const { done, value } = steps.next()
      if (done) return value
    } while (performance.now() < end)
    await yieldTurn()
  }
}

/** Work of which only one piece may be under way at a time, in the order it was asked for. */
export class Lane {
  private last: Promise<unknown> = Promise.resolve()

  run<T>(work: () => Promise<T>): Promise<T> {
    const done = this.last.then(work, work)
    this.last = done.catch(() => {})
    return done
  }
}
