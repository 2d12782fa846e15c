import { countedPart } from '../../core/analyses/countedPart.js'
import type { Learned } from '../../core/analyses/analysis.js'
import type { StudyDefinition } from '../../core/questions/study.js'
import type { Db } from './database.js'

/** How a question's model is found: whatever changes no number is left out. */
export const modelKey = (question: StudyDefinition): string => JSON.stringify(countedPart(question))

/** So many are kept: the ones that were learned last. */
const MOST_MODELS = 200

/** What was learned for questions that foretell. */
export function modelStore(db: Db) {
  const get = db.prepare<[string], { model: string }>('SELECT model FROM models WHERE question = ?')
  return {
    get(question: StudyDefinition): Learned | null {
      const row = get.get(modelKey(question))
      return row ? (JSON.parse(row.model) as Learned) : null
    },
    put(question: StudyDefinition, model: Learned): void {
      db.transaction(() => {
        db.prepare('INSERT OR REPLACE INTO models (question, model, trained_ms) VALUES (?, ?, ?)').run(
          ...[modelKey(question), JSON.stringify(model), model.trainedAt],
        )
        db.prepare(
          'DELETE FROM models WHERE question NOT IN (SELECT question FROM models ORDER BY trained_ms DESC LIMIT ?)',
        ).run(MOST_MODELS)
      }).immediate()
    },
    forget(question: StudyDefinition): void {
      db.prepare('DELETE FROM models WHERE question = ?').run(modelKey(question))
    },
  }
}
