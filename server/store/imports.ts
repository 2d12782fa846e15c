import { importPlanSchema, type ColumnRole, type ImportPlan } from '../ingest/importPlan.js'
import { asRemembered, shapeOf, type Preview } from '../ingest/preview.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'

export type ImportState = 'waiting' | 'running' | 'done' | 'failed' | 'stopped'

export interface ImportJob {
  id: string
  file: string
  path: string | null
  bytes: number
  plan: ImportPlan
  state: ImportState
  records: number
  bytesRead: number
  accepted: number
  duplicates: number
  rejected: number
  /** why it failed, in words */
  problem: string | null
  createdMs: number
  spentMs: number
  /** whether it waits until somebody has seen what is wrong with it */
  held: boolean
  /** what was found when it was looked through; null before that, and where it was not */
  looked: ImportLook | null
}

/** What a look through a whole file found, before anything of it was written. */
export interface ImportLook {
  records: number
  /** events whose id is there already: they would have no effect */
  known: number
  rejected: number
  reasons: { reason: string; lines: number; first: number; example: string }[]
  /** other readings of a column that would mend lines, the best first */
  mends: PlanMend[]
  /** the first rows of a table, as text */
  rows: string[][]
  /** why the file could not be read to its end */
  problem: string | null
}

export interface PlanMend {
  /** its index */
  column: number
  to: ColumnRole
  /** so many of the wrong lines that it was tried on would be right */
  lines: number
  of: number
  /** so many of as many right ones would be wrong */
  broken: number
}

interface ImportRow {
  id: string
  file: string
  path: string | null
  bytes: number
  plan: string
  state: ImportState
  records: number
  bytes_read: number
  accepted: number
  duplicates: number
  rejected: number
  problem: string | null
  created_ms: number
  spent_ms: number
  held: number
  looked: string | null
}

export interface Reject {
  line: number
  reason: string
  content: string
}

export interface ImportProgress {
  records: number
  bytesRead: number
  accepted: number
  duplicates: number
  rejects: Reject[]
  /** lines that were known already */
  known: Omit<Reject, 'reason'>[]
  spentMs: number
}

/** Of lines that were known already as many are listed: of a file that is brought in twice they are all of it. */
const MOST_KNOWN = 10_000

export function importStore(db: Db) {
  const byId = db.prepare<[string], ImportRow>('SELECT * FROM imports WHERE id = ?')
  const recent = db.prepare<[], ImportRow>('SELECT * FROM imports ORDER BY created_ms DESC LIMIT 20')
  const unfinished = db.prepare<[], ImportRow>(
    `SELECT * FROM imports WHERE state IN ('waiting', 'running') ORDER BY created_ms`,
  )
  const insert = db.prepare(
    `INSERT INTO imports (id, file, path, bytes, plan, state, created_ms, held) VALUES (?, ?, ?, ?, ?, 'waiting', ?, ?)`,
  )
  const advance = db.prepare(
    `UPDATE imports SET state = 'running', records = @records, bytes_read = @bytesRead,
       accepted = accepted + @accepted, duplicates = duplicates + @duplicates, rejected = rejected + @rejected,
       spent_ms = spent_ms + @spentMs
     WHERE id = @id`,
  )
  const reject = db.prepare('INSERT OR REPLACE INTO import_rejects (import, line, reason, content) VALUES (?, ?, ?, ?)')
  const known = db.prepare('INSERT INTO import_known (import, line, content) VALUES (?, ?, ?) ON CONFLICT DO NOTHING')
  const countKnown = db.prepare<[string], number>('SELECT COUNT(*) FROM import_known WHERE import = ?').pluck()
  const firstKnown = db
    .prepare<[string, number], number>('SELECT line FROM import_known WHERE import = ? ORDER BY line LIMIT ?')
    .pluck()
  const knownLines = db.prepare<[string], Omit<Reject, 'reason'>>(
    'SELECT line, content FROM import_known WHERE import = ? ORDER BY line',
  )
  const setLooked = db.prepare('UPDATE imports SET looked = ? WHERE id = ?')
  const setPlan = db.prepare('UPDATE imports SET plan = ?, looked = NULL WHERE id = ?')
  const setHeld = db.prepare('UPDATE imports SET held = 0 WHERE id = ?')
  const finish = db.prepare('UPDATE imports SET state = ?, problem = ?, path = NULL WHERE id = ?')
  const rejects = db.prepare<[string], Reject>(
    'SELECT line, reason, content FROM import_rejects WHERE import = ? ORDER BY line',
  )
  const reasons = db.prepare<[string], { reason: string; lines: number; first: number }>(
    `SELECT reason, COUNT(*) AS lines, MIN(line) AS first FROM import_rejects WHERE import = ?
     GROUP BY reason ORDER BY lines DESC, first LIMIT 50`,
  )
  const shape = db.prepare<[string], { plan: string }>('SELECT plan FROM import_shapes WHERE shape = ?')
  const rememberShape = db.prepare(
    `INSERT INTO import_shapes (shape, plan, used_ms) VALUES (?, ?, ?)
     ON CONFLICT (shape) DO UPDATE SET plan = excluded.plan, used_ms = excluded.used_ms`,
  )
  return {
    /** A preview as it is, or with what was said of the last file of its shape. */
    remembered(preview: Preview): Preview {
      if ('problem' in preview || !('rows' in preview)) return preview
      const row = shape.get(shapeOf(preview.plan))
      const before = row && importPlanSchema.safeParse(JSON.parse(row.plan))
      if (!before?.success || before.data.format === 'jsonl') return preview
      return { ...preview, plan: asRemembered(preview.plan, before.data), remembered: true }
    },
    get(id: string): ImportJob {
      const row = byId.get(id)
      if (!row) throw new NotFoundError('import', id)
      return jobOf(row)
    },
    /** The name of an import's file; null where there is no such import. */
    fileOf: (id: string): string | null => byId.get(id)?.file ?? null,
    recent: (): ImportJob[] => recent.all().map(jobOf),
    unfinished: (): ImportJob[] => unfinished.all().map(jobOf),
    /** @param held nothing of it is to be written before it has been looked through */
    create(job: { file: string; path: string; bytes: number; plan: ImportPlan }, nowMs: number, held = false): string {
      const id = newId()
      insert.run(id, job.file, job.path, job.bytes, JSON.stringify(job.plan), nowMs, held ? 1 : 0)
      if (job.plan.format !== 'jsonl') rememberShape.run(shapeOf(job.plan), JSON.stringify(job.plan), nowMs)
      return id
    },
    /** To be called in the transaction that writes the batch's events: both are kept, or neither. */
    advance(id: string, { rejects: lines, known: again, ...progress }: ImportProgress): void {
      advance.run({ id, ...progress, spentMs: Math.round(progress.spentMs), rejected: lines.length })
      for (const line of lines) reject.run(id, line.line, line.reason, line.content)
      if (again.length === 0) return
      const room = Math.max(0, MOST_KNOWN - countKnown.get(id)!)
      for (const { line, content } of again.slice(0, room)) known.run(id, line, content)
    },
    finish(id: string, state: 'done' | 'failed' | 'stopped', problem: string | null): void {
      finish.run(state, problem, id)
    },
    looked: (id: string, look: ImportLook): void => void setLooked.run(JSON.stringify(look), id),
    /** It is read otherwise, and looked through anew. */
    readAs(id: string, plan: ImportPlan, nowMs: number): void {
      setPlan.run(JSON.stringify(plan), id)
      if (plan.format !== 'jsonl') rememberShape.run(shapeOf(plan), JSON.stringify(plan), nowMs)
    },
    /** What is wrong with it has been seen: the rest of it may be written. */
    release: (id: string): void => void setHeld.run(id),
    /** the first ten thousand */
    known: (id: string): Omit<Reject, 'reason'>[] => knownLines.all(id),
    /** How many there are of them, and where the first stand. */
    knownAt: (id: string, most: number) => ({ count: countKnown.get(id)!, first: firstKnown.all(id, most) }),
    rejects: (id: string): IterableIterator<Reject> => rejects.iterate(id),
    reasons: (id: string) => reasons.all(id),
  }
}

function jobOf(row: ImportRow): ImportJob {
  const { bytes_read: bytesRead, created_ms: createdMs, spent_ms: spentMs, plan, held, looked, ...rest } = row
  return {
    ...{ ...rest, bytesRead, createdMs, spentMs, held: held === 1 },
    looked: looked === null ? null : (JSON.parse(looked) as ImportLook),
    plan: importPlanSchema.parse(JSON.parse(plan)),
  }
}
