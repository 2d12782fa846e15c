import type { CrosstabColumn, CrosstabResult, CrosstabRow } from '../../../core/analyses/crosstab/finish.js'
import type { CrosstabQuestion } from '../../../core/analyses/crosstab/question.js'
import type { NestedKey } from '../../../core/questions/parts.js'
import { groupWords } from '../../../core/words/words.js'

/** Stays the same when the range moves on. */
export function rowId(path: readonly NestedKey[]): string {
  return JSON.stringify(path)
}

export function columnId({ series, key }: CrosstabColumn): string {
  return key === null ? String(series) : JSON.stringify(key)
}

/** A row as it stands in the table. */
export interface ShownRow {
  row: CrosstabRow
  id: string
  label: string
  depth: number
  /** rows lie within it */
  folds: boolean
  folded: boolean
}

/** More rows than this start folded. */
const MANY_ROWS = 60

/** The rows in the order they are shown in, without those that are folded away or not searched for. */
export function shownRows(result: CrosstabResult, question: CrosstabQuestion, search: string): ShownRow[] {
  const children = new Map<string, CrosstabRow[]>()
  for (const row of result.rows) {
    const parent = rowId(row.path.slice(0, -1))
    children.set(parent, [...(children.get(parent) ?? []), row])
  }
  const folded = foldedRows(result, question)
  const wanted = search.trim().toLowerCase()
  const holds = (row: CrosstabRow): boolean =>
    labelOf(row).toLowerCase().includes(wanted) || (children.get(rowId(row.path)) ?? []).some(holds)
  const list: ShownRow[] = []
  const walk = (path: readonly NestedKey[], all: boolean) => {
    for (const row of sorted(children.get(rowId(path)) ?? [], result, question.show.sort)) {
      if (!all && !holds(row)) continue
      const id = rowId(row.path)
      const isFolded = wanted === '' && folded.has(id)
      list.push({ row, id, label: labelOf(row), depth: row.path.length, folds: children.has(id), folded: isFolded })
      if (!isFolded) walk(row.path, all || labelOf(row).toLowerCase().includes(wanted))
    }
  }
  walk([], wanted === '')
  return list
}

/** Rows whose inner rows are folded away: as chosen, or the outermost of very many. */
export function foldedRows(result: CrosstabResult, { rows, show }: CrosstabQuestion): Set<string> {
  if (show.folded) return new Set(show.folded)
  if (rows.length === 1 || result.rows.length <= MANY_ROWS) return new Set()
  return new Set(result.rows.filter(({ path }) => path.length === 1).map(({ path }) => rowId(path)))
}

/** A row by its own name, beside the rows it lies in. */
export function labelOf({ path, rest }: CrosstabRow): string {
  const own = path.at(-1)
  return own ? groupWords(own, rest) : 'All together'
}

function sorted(rows: CrosstabRow[], { columns }: CrosstabResult, sort: CrosstabQuestion['show']['sort']) {
  if (!sort) return rows
  const column = columns.findIndex((each) => columnId(each) === sort.by)
  if (column < 0 && sort.by !== 'name') return rows
  const sign = sort.up ? 1 : -1
  const isRest = ({ path }: CrosstabRow) => Number('rest' in path.at(-1)!)
  return rows.toSorted((a, b) => {
    if (isRest(a) !== isRest(b)) return isRest(a) - isRest(b)
    // Names go up where numbers go down.
    if (sort.by === 'name') return -sign * labelOf(a).localeCompare(labelOf(b), 'en', { numeric: true })
    const [x, y] = [a.values[column], b.values[column]]
    if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1
    return sign * (x - y)
  })
}
