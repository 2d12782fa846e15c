import type { AnnotationInput } from '../../core/analyses/trend/annotationSchema.js'
import type { Annotation } from '../../core/words/words.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'

interface AnnotationRow {
  id: string
  day: string
  text: string
  tags: string
  study: string | null
}

export function annotationStore(db: Db) {
  const all = db.prepare<[], AnnotationRow>('SELECT id, day, text, tags, study FROM annotations ORDER BY day, text')
  const put = db.prepare(
    `INSERT INTO annotations (id, day, text, tags, study, created_ms) VALUES (?, ?, ?, ?, ?, ?)
     ON CONFLICT (id) DO UPDATE SET day = excluded.day, text = excluded.text, tags = excluded.tags, study = excluded.study`,
  )
  const drop = db.prepare('DELETE FROM annotations WHERE id = ?')
  return {
    /** All of them, by day. */
    list(): Annotation[] {
      return all.all().map((row) => ({ ...row, tags: JSON.parse(row.tags) as string[] }))
    },
    /** @param id of one that is to be changed, or put back; left out: a new one. @returns its id */
    save({ day, text, tags, study }: AnnotationInput, nowMs: number, id = newId()): string {
      put.run(id, day, text, JSON.stringify(tags), study, nowMs)
      return id
    },
    remove(id: string): void {
      drop.run(id)
    },
  }
}
