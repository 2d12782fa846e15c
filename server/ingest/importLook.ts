import type { Db } from '../store/database.js'
import { importStore, type ImportLook, type PlanMend, type Reject } from '../store/imports.js'
import type { BodyItem } from './body.js'
import type { Doorway } from './doorway.js'
import { contentOf, onePerLine } from './importer.js'
import { timeFormats, withColumn, type TablePlan } from './importPlan.js'
import { cellsIn, inColumns } from './inColumns.js'
import { fileRecords, FileError } from './records.js'
import { shownRows } from './preview.js'
import { tableRowReader } from './tableRow.js'

const BATCH = 2000
/** So many wrong lines, and as many right ones, each other reading is tried on. */
const TRIED = 500
const SHOWN_ROWS = 5
const MOST_REASONS = 50

interface Line {
  line: number
  content: string
}

/**
 * Looks through a whole file without writing anything of it: which lines would be taken, known already, or refused and why,
 * and which other reading of a column would mend them. What is found is kept with the import.
 * @param onProgress after each batch, with the lines looked at so far; false = stop here
 */
export async function lookThrough(
  db: Db,
  door: Doorway,
  id: string,
  { now, onProgress }: { now: () => number; onProgress: (records: number) => boolean },
): Promise<ImportLook | null> {
  const imports = importStore(db)
  const { path, plan } = imports.get(id)
  if (path === null) return null
  const receivedMs = now()
  const ofPeople = plan.format !== 'jsonl' && plan.rows === 'people'
  const found: ImportLook = { records: 0, known: 0, rejected: 0, reasons: [], mends: [], rows: [], problem: null }
  const reasons = new Map<string, { lines: number; first: number; example: string }>()
  const wrong: Line[] = []
  const right: Line[] = []
  let items: BodyItem[] = []
  let texts = new Map<number, string>()

  const refuse = ({ line, reason, content }: Reject) => {
    found.rejected++
    if (wrong.length < TRIED) wrong.push({ line, content })
    const words = kindOfReason(reason)
    const had = reasons.get(words)
    if (had) had.lines++
    else reasons.set(words, { lines: 1, first: line, example: content.slice(0, 300) })
  }
  const judge = () => {
    const { rejected, known } = door.judge(items, receivedMs, ofPeople)
    const bad = new Set<number>()
    for (const { line, reason } of onePerLine(rejected)) {
      bad.add(line)
      refuse({ line, reason: inColumns(plan, reason), content: texts.get(line)! })
    }
    for (const [line, content] of texts) if (right.length < TRIED && !bad.has(line)) right.push({ line, content })
    found.known += known
    items = []
    texts = new Map()
  }

  try {
    for await (const record of fileRecords(path, plan, () => {})) {
      found.records++
      if (plan.format !== 'jsonl' && found.rows.length < SHOWN_ROWS)
        found.rows.push(...shownRows([cellsIn(plan, record.content) ?? []]))
      if ('reason' in record) refuse(record)
      else {
        texts.set(record.line, record.content)
        for (const value of record.values) items.push({ line: record.line, value, content: contentOf(record, value) })
      }
      if (items.length < BATCH && found.records % BATCH !== 0) continue
      judge()
      if (!onProgress(found.records)) return null
      // Batches that come over HTTP get their turn in between.
      await new Promise((resolve) => setImmediate(resolve))
    }
    judge()
  } catch (error) {
    if (!(error instanceof FileError)) throw error
    judge()
    found.problem = error.message
  }
  found.reasons = [...reasons]
    .map(([reason, of]) => ({ reason, ...of }))
    .sort((a, b) => b.lines - a.lines || a.first - b.first)
    .slice(0, MOST_REASONS)
  if (plan.format !== 'jsonl')
    found.mends = mendsOf(plan, wrong, right, (items) => door.judge(items, receivedMs, ofPeople))
  imports.looked(id, found)
  return found
}

/** Reasons that differ in the value alone are told as one, with the first line that has it. */
function kindOfReason(reason: string): string {
  return reason.replace(/“[^”]{0,80}” is (no|not) /, 'a value is $1 ')
}

/** Other readings of one column that make wrong lines right, the one that mends most first. */
function mendsOf(
  plan: TablePlan,
  wrong: readonly Line[],
  right: readonly Line[],
  judge: (items: BodyItem[]) => { rejected: { line: number }[] },
): PlanMend[] {
  const wrongCells = wrong.flatMap(({ line, content }) => withCells(plan, line, content))
  const rightCells = right.flatMap(({ line, content }) => withCells(plan, line, content))
  if (wrongCells.length === 0) return []
  const good = (other: TablePlan, lines: typeof wrongCells): number => {
    const read = tableRowReader(other)
    const items: BodyItem[] = []
    const readable = new Set<number>()
    for (const { line, cells } of lines) {
      const row = read(cells)
      if ('reason' in row) continue
      readable.add(line)
      for (const value of row.values) items.push({ line, value, content: () => JSON.stringify(value) })
    }
    for (const { line } of judge(items).rejected) readable.delete(line)
    return readable.size
  }
  const mends: PlanMend[] = []
  for (const [index, column] of plan.columns.entries())
    for (const other of otherReadings(column)) {
      const changed = withColumn(plan, index, other)
      const lines = good(changed, wrongCells)
      if (lines === 0) continue
      const broken = rightCells.length - good(changed, rightCells)
      if (lines > broken) mends.push({ column: index, to: other, lines, of: wrongCells.length, broken })
    }
  return mends.sort((a, b) => b.lines - b.broken - (a.lines - a.broken)).slice(0, 3)
}

function otherReadings(column: TablePlan['columns'][number]): TablePlan['columns'] {
  if (column.role === 'time' || column.role === 'happened')
    return timeFormats.flatMap((format) => (format === column.format ? [] : [{ ...column, format }]))
  return column.role === 'property' && column.type !== 'text' ? [{ ...column, type: 'text' }] : []
}

function withCells(plan: TablePlan, line: number, content: string) {
  const cells = cellsIn(plan, content)
  return cells?.length === plan.header.length ? [{ line, cells }] : []
}
