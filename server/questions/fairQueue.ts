import { CallError } from '../pool/calls.js'

interface Entry {
  /** begins the work; done when it is */
  begin: () => Promise<unknown>
  refuse: (error: Error) => void
  /** it may have brought a thread down: nothing else runs beside it, so that it is known next time */
  alone: boolean
}

interface Asker {
  waiting: Entry[]
  running: number
}

/** More than so many questions of one asker do not wait: that is no person's dashboard any more. */
const MOST_WAITING = 200

/**
 * Lets a few pieces of work run at a time, and whose turn is next goes round: one asker's many questions do not hold up
 * another's single one. No asker has all places, so that there is always one for somebody new.
 */
export class FairQueue {
  private readonly askers = new Map<string, Asker>()
  private running = 0
  private alone = false

  /** @param places how many run at a time; at least 2 */
  constructor(private readonly places: number) {}

  /** @throws CallError 429 where too many wait; what the work throws; the signal's reason where it is withdrawn before */
  run<T>(asker: string, work: () => Promise<T>, alone: boolean, signal?: AbortSignal): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      if (signal?.aborted) return reject(withdrawn())
      const own = this.askers.get(asker) ?? { waiting: [], running: 0 }
      if (own.waiting.length >= MOST_WAITING)
        return reject(
          new CallError(`${MOST_WAITING} of your questions are waiting already. Ask again when some are answered.`, {
            status: 429,
            retryAfterS: 5,
          }),
        )
      this.askers.set(asker, own)
      const leave = () => {
        own.waiting = own.waiting.filter((each) => each !== entry)
        this.forget(asker)
        reject(withdrawn())
        this.next()
      }
      const entry: Entry = {
        alone,
        refuse: reject,
        begin: () => {
          signal?.removeEventListener('abort', leave)
          return work().then(resolve, reject)
        },
      }
      signal?.addEventListener('abort', leave, { once: true })
      own.waiting.push(entry)
      this.next()
    })
  }

  get waiting(): number {
    return [...this.askers.values()].reduce((sum, { waiting }) => sum + waiting.length, 0)
  }

  get busy(): number {
    return this.running
  }

  private next(): void {
    for (let begun = true; begun && !this.alone && this.running < this.places;) {
      begun = false
      for (const [name, asker] of this.askers) {
        const [entry] = asker.waiting
        if (!entry || asker.running >= this.places - 1) continue
        // Until it has had its turn nobody else begins; otherwise it would wait for ever.
        if (entry.alone && this.running > 0) return
        asker.waiting.shift()
        this.start(name, asker, entry)
        begun = true
        break
      }
    }
  }

  private start(name: string, asker: Asker, entry: Entry): void {
    this.toEnd(name, asker)
    asker.running++
    this.running++
    this.alone = entry.alone
    void entry.begin().finally(() => {
      asker.running--
      this.running--
      if (entry.alone) this.alone = false
      this.toEnd(name, asker)
      this.forget(name)
      this.next()
    })
  }

  /** Whoever has, or has had, a turn goes to the end of the round. */
  private toEnd(name: string, asker: Asker): void {
    this.askers.delete(name)
    this.askers.set(name, asker)
  }

  private forget(name: string): void {
    const asker = this.askers.get(name)
    if (asker && asker.waiting.length === 0 && asker.running === 0) this.askers.delete(name)
  }
}

function withdrawn(): CallError {
  return new CallError('The question was withdrawn before its answer was ready.', 499)
}
