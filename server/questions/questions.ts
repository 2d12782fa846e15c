import { setMaxListeners } from 'node:events'
import type { Question } from '../../core/analyses/registry.js'
import type { EngineRequest, RunReply } from '../engine/engine.worker.js'
import { CallError } from '../pool/calls.js'
import type { Supervised } from '../pool/supervised.js'
import { asker } from './asker.js'
import { Costs } from './costs.js'
import { FairQueue } from './fairQueue.js'

/** What is worked out over everybody's events: these wait for their turn. */
const COSTLY: ReadonlySet<EngineRequest['kind']> = new Set([
  ...(['run', 'people', 'neighbours', 'moment'] as const),
  ...(['segment count', 'segment size', 'segment why', 'composition', 'freeze', 'same people'] as const),
])

/** One that has brought its thread down so often is not asked again. */
const MOST_DEATHS = 2
/** A thread that goes on so long after it was told to stop will not stop by itself. */
const STUBBORN_MS = 20_000

/** How far a question is. */
export interface Progress {
  /** people scanned, and to be scanned; both 0 while it waits for its turn */
  done: number
  people: number
  /** about how long it takes in all, s */
  seconds: number
}

interface Around {
  engine: Supervised<EngineRequest>
  threads: number
  /** how long a question may take, ms */
  limitMs: number
  /** how many events there are */
  events: () => number
  /** told how long each took, waiting included */
  answered: (kind: string, ms: number, how: 'answered' | 'refused' | 'failed') => void
}

export type QuestionDesk = ReturnType<typeof questionDesk>

/** The way of every question to the engine: in turn, for so long at most, and no third time where it brought a thread down. */
export function questionDesk({ engine, threads, limitMs, events, answered }: Around) {
  const queue = new FairQueue(Math.max(2, threads + 1))
  const costs = new Costs()
  /** by question: how many threads have died over it */
  const deaths = new Map<string, number>()

  async function ask<T>(request: EngineRequest, signal?: AbortSignal): Promise<T> {
    // A dashboard asks for all its cards on one signal.
    if (signal) setMaxListeners(0, signal)
    if (!COSTLY.has(request.kind)) return (await engine.begin<T>(request)).answer
    const started = performance.now()
    const key = deaths.size > 0 ? JSON.stringify(request) : ''
    const died = deaths.get(key) ?? 0
    if (died >= MOST_DEATHS) throw new CallError(GIVEN_UP, 422)
    try {
      const value = await queue.run(asker(), () => answer<T>(request, signal), died > 0, signal)
      if (died > 0) deaths.delete(key)
      if (request.kind === 'run') costs.learn(request.question, events(), (value as RunReply).spentMs)
      answered(request.kind, performance.now() - started, 'answered')
      return value
    } catch (error) {
      if (error instanceof CallError && error.died) noteDeath(JSON.stringify(request))
      const refused = error instanceof CallError && error.status < 500
      answered(request.kind, performance.now() - started, refused ? 'refused' : 'failed')
      throw error
    }
  }

  function noteDeath(key: string): void {
    deaths.set(key, (deaths.get(key) ?? 0) + 1)
    // What was asked long ago may be forgotten: it is found out again.
    if (deaths.size > 1000) deaths.delete(deaths.keys().next().value!)
  }

  /** Asks the engine; when the asker goes away or it takes too long, the query is stopped. */
  async function answer<T>(request: EngineRequest, signal?: AbortSignal): Promise<T> {
    const { answer, withdraw } = await engine.begin<T>(request)
    const cancel = () => withdraw((target) => ({ kind: 'cancel', target }))
    let over = false
    let stubborn: NodeJS.Timeout | undefined
    const limit = setTimeout(() => {
      over = true
      cancel()
      stubborn = setTimeout(() => engine.kill('a question did not end'), STUBBORN_MS)
    }, limitMs)
    if (signal?.aborted) cancel()
    signal?.addEventListener('abort', cancel, { once: true })
    try {
      return await answer
    } catch (error) {
      if (over && error instanceof CallError && error.status === 499) throw new CallError(tooLong(limitMs), 422)
      throw error
    } finally {
      clearTimeout(limit)
      clearTimeout(stubborn)
      signal?.removeEventListener('abort', cancel)
    }
  }

  return {
    ask,
    /** About how long a question will take by itself, ms. */
    estimateMs: (question: Question): number => costs.estimateMs(question, events()),
    async progress(question: Question): Promise<Progress | null> {
      const seconds = costs.estimateMs(question, events()) / 1000
      const found = await (
        await engine.begin<{ done: number; people: number } | null>({ kind: 'progress', question })
      ).answer
      if (found) return { ...found, seconds }
      return queue.waiting > 0 ? { done: 0, people: 0, seconds } : null
    },
    get waiting(): number {
      return queue.waiting
    },
    get running(): number {
      return queue.busy
    },
  }
}

const GIVEN_UP =
  'This question has stopped the thread that answers it twice, so it is not asked again until the server is started anew. Change the question, a shorter range for one; and please tell whoever looks after this server.'

function tooLong(limitMs: number): string {
  return `This took longer than a question may (${Math.round(limitMs / 1000)} s) and was stopped. Ask for a shorter range, fewer breakdowns or fewer series.`
}
