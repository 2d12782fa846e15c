import type { Question, Result, ResultOf } from '../../core/analyses/registry.js'
import { restOf } from '../../core/analyses/rest.js'
import type { Fault } from '../../core/questions/faults.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import type { Words } from '../../core/words/words.js'
import type { RunReply } from '../engine/engine.worker.js'
import type { Inside } from './inside.js'

/** Questions and their answers. */
export function studiesDoor(
  { stores, ask, desk }: Inside,
  segmentNames: () => Record<string, string>,
  /** of those that are there still */
  segmentNamed: (id: string) => string | undefined,
) {
  async function run(question: Question, signal?: AbortSignal): Promise<RunReply> {
    const reply = await ask<RunReply>({ kind: 'run', question }, signal)
    if (reply.result?.kind === 'likelihood') keepModel(question, reply.result)
    return reply
  }

  /** What was learned is there after a restart as well. */
  function keepModel(question: Question, { model }: ResultOf<'likelihood'>): void {
    if (model && stores.models.get(question)?.trainedAt !== model.trainedAt) stores.models.put(question, model)
  }

  return {
    /** Answers a study's question with the very numbers that the API gives. */
    run,

    /** Has what a question foretells learned anew by the next answer. */
    async learnAnew(question: Question): Promise<void> {
      stores.models.forget(question)
      await ask({ kind: 'learn anew', question })
    },

    /**
     * Answers what is sound of a question with faults; what depended on its faulty parts goes with them, round by round.
     * @returns null where nothing can be answered
     */
    async runRest(
      question: Question,
      faults: readonly Fault[],
      signal?: AbortSignal,
    ): Promise<{ question: Question; result: Result } | null> {
      let rest = restOf(question, faults)
      while (rest) {
        const reply = await run(rest, signal)
        if (reply.result) return { question: rest, result: reply.result }
        rest = restOf(rest, reply.faults)
      }
      return null
    },

    progress: desk.progress,
    /** About how long a question will take, ms. */
    costMs: desk.estimateMs,

    /** The commonest values of a property. */
    values: (property: PropertyRef, search: string, limit: number) =>
      ask<{ value: string | number | boolean; count: number }[]>({ kind: 'values', property, search, limit }),

    /** What sentences need to know at a moment: the year, and what events and properties are called. */
    wordsAt(ms: number): Words {
      const { zone, currency, leftOut } = stores.settings.get()
      const left = leftOut === '' ? undefined : segmentNamed(leftOut)
      const thisYear = Number(new Intl.DateTimeFormat('en', { timeZone: zone, year: 'numeric' }).format(ms))
      return {
        ...{ thisYear, zone, labels: stores.catalog.labels(stores.mending.get()), currency },
        ...{ annotations: stores.annotations.list(), segments: segmentNames() },
        ...(left === undefined ? {} : { leftOut: left }),
      }
    },
  }
}
