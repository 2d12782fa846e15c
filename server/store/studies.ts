import { parseQuestion, type Question } from '../../core/analyses/registry.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'

export interface Study {
  id: string
  name: string
  description: string
  question: Question
  savedMs: number
}

interface StudyRow {
  id: string
  name: string
  description: string
  question: string
  saved_ms: number
}

export function studyStore(db: Db) {
  const columns = 'id, name, description, question, saved_ms'
  const byId = db.prepare<[string], StudyRow>(`SELECT ${columns} FROM studies WHERE id = ?`)
  const all = db.prepare<[], StudyRow>(`SELECT ${columns} FROM studies ORDER BY saved_ms DESC, name`)
  const insert = db.prepare(
    'INSERT INTO studies (id, name, description, question, created_ms, saved_ms) VALUES (?, ?, ?, ?, ?, ?)',
  )
  const update = db.prepare('UPDATE studies SET name = ?, description = ?, question = ?, saved_ms = ? WHERE id = ?')
  const version = db.prepare(
    'INSERT OR REPLACE INTO study_versions (study, saved_ms, name, question) VALUES (?, ?, ?, ?)',
  )
  const versions = db.prepare<[string], { saved_ms: number; name: string; question: string }>(
    'SELECT saved_ms, name, question FROM study_versions WHERE study = ? ORDER BY saved_ms DESC LIMIT 100',
  )
  const remove = db.prepare('DELETE FROM studies WHERE id = ?')
  const dropLinks = db.prepare(`DELETE FROM shared_links WHERE kind = 'study' AND target = ?`)
  const usedOn = db.prepare<[string], { id: string; name: string }>(
    'SELECT DISTINCT d.id, d.name FROM cards c JOIN dashboards d ON d.id = c.dashboard WHERE c.study = ? ORDER BY d.name',
  )
  return {
    get(id: string): Study {
      const row = byId.get(id)
      if (!row) throw new NotFoundError('study', id)
      return studyOf(row)
    },
    list(): Study[] {
      return all.all().map(studyOf)
    },
    /** @returns the new study's id */
    create(study: { id?: string; name: string; description: string; question: Question }, nowMs: number): string {
      const id = study.id ?? newId()
      db.transaction(() => {
        const question = JSON.stringify(study.question)
        insert.run(id, study.name, study.description, question, nowMs, nowMs)
        version.run(id, nowMs, study.name, question)
      })()
      return id
    },
    save(id: string, study: { name: string; description: string; question: Question }, nowMs: number): void {
      db.transaction(() => {
        const question = JSON.stringify(study.question)
        if (update.run(study.name, study.description, question, nowMs, id).changes === 0)
          throw new NotFoundError('study', id)
        version.run(id, nowMs, study.name, question)
      })()
    },
    /** The saved states, newest first. */
    history(id: string): { savedMs: number; name: string; question: Question }[] {
      return versions.all(id).map((row) => ({
        savedMs: row.saved_ms,
        name: row.name,
        question: parseQuestion(JSON.parse(row.question)).question,
      }))
    },
    /** Deletes the study with its cards and links. */
    remove(id: string): void {
      db.transaction(() => {
        dropLinks.run(id)
        remove.run(id)
      })()
    },
    dashboardsWith(id: string): { id: string; name: string }[] {
      return usedOn.all(id)
    },
  }
}

function studyOf(row: StudyRow): Study {
  const { id, name, description } = row
  return { id, name, description, question: parseQuestion(JSON.parse(row.question)).question, savedMs: row.saved_ms }
}
