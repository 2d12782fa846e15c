import { readFileSync } from 'node:fs'
import { PerformanceObserver } from 'node:perf_hooks'

/** A time in which a thread's loop stood still. */
export interface Held {
  /** what was worked on */
  what: string
  /** ms in which nothing else could be done */
  ms: number
  /** ms of these that the thread itself was computing; the others it waited for a core. NaN where the system does not tell */
  cpuMs: number
  /** ms of these in which the platform cleared memory */
  clearingMs: number
}

/** Nothing on the engine's thread may hold up everything else for longer. */
export const MOST_HELD_MS = 50
const TICK_MS = 10
const KEPT = 50

/** Watches a thread's loop: what held it up, and for how long. */
export class LoopWatch {
  private ticked = performance.now()
  private cpu = threadCpuMs()
  private noted: string[] = []
  private timer: NodeJS.Timeout | null = null
  readonly held: Held[] = []
  longest: Held = { what: '', ms: 0, cpuMs: 0, clearingMs: 0 }
  private clearingMs = 0
  private readonly clearing = new PerformanceObserver((list) => {
    for (const { duration } of list.getEntries()) this.clearingMs += duration
  })

  /** From now on; what a thread does to get going holds up nobody yet. */
  start(): void {
    this.ticked = performance.now()
    this.cpu = threadCpuMs()
    this.clearing.observe({ entryTypes: ['gc'] })
    this.timer = setInterval(() => this.tick(), TICK_MS)
    this.timer.unref()
  }

  /** Says what is being worked on from now on, until something else is. */
  note(what: string): void {
    if (this.noted.length < 20 && this.noted.at(-1) !== what) this.noted.push(what)
  }

  private tick(): void {
    const now = performance.now()
    const cpu = threadCpuMs()
    const ms = now - this.ticked - TICK_MS
    if (ms > MOST_HELD_MS) {
      const held = {
        what: this.noted.join(', ') || 'nothing noted',
        ms,
        cpuMs: cpu - this.cpu,
        clearingMs: this.clearingMs,
      }
      this.held.push(held)
      if (this.held.length > KEPT) this.held.shift()
      if (!(held.cpuMs <= this.longest.cpuMs)) this.longest = held
    }
    this.ticked = now
    this.cpu = cpu
    this.noted = []
    this.clearingMs = 0
  }

  /** Begins anew: what came before is forgotten. */
  reset(): void {
    this.held.length = 0
    this.longest = { what: '', ms: 0, cpuMs: 0, clearingMs: 0 }
  }

  stop(): void {
    this.clearing.disconnect()
    if (this.timer) clearInterval(this.timer)
  }
}

/** How long this thread has been computing. */
function threadCpuMs(): number {
  try {
    return Number(readFileSync('/proc/thread-self/schedstat', 'utf8').split(' ', 1)[0]) / 1e6
  } catch {
    return NaN
  }
}
