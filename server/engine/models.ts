import type { Learned } from '../../core/analyses/analysis.js'
import type { StudyDefinition } from '../../core/questions/study.js'
import type { Db } from '../store/database.js'
import { modelKey, modelStore } from '../store/models.js'

/** A model is asked again for so long, ms; then it is learned anew. */
const USED_FOR = 24 * 3_600_000
const MOST_HELD = 100

/** Models that questions are answered with: those of the file, and those that were learned since by this thread. */
export function modelShelf(db: Db) {
  const { get } = modelStore(db)
  const held = new Map<string, Learned | null>()
  let forgotten = 0

  function find(question: StudyDefinition): Learned | null {
    const key = modelKey(question)
    let found = held.get(key)
    if (found === undefined) put(key, (found = get(question)))
    return found
  }

  function put(key: string, model: Learned | null): void {
    held.delete(key)
    held.set(key, model)
    if (held.size > MOST_HELD) held.delete(held.keys().next().value!)
  }

  return {
    /** The one that a question is asked with as of a moment; null = it is to be learned. Asked as of an earlier moment it is the same. */
    of(question: StudyDefinition, now: number): Learned | null {
      const found = find(question)
      const isByHand = (question as { retrain?: string }).retrain === 'by hand'
      return found && (isByHand || now - found.trainedAt < USED_FOR) ? found : null
    },
    keep: (question: StudyDefinition, model: Learned) => put(modelKey(question), model),
    /** The next answer learns anew. */
    forget(question: StudyDefinition): void {
      forgotten++
      put(modelKey(question), null)
    },
    /** how often something was forgotten: what was answered before that is not answered again */
    forgotten: () => forgotten,
  }
}
export type ModelShelf = ReturnType<typeof modelShelf>
