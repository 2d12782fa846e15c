import { wantedColumn, wantedRow } from '../questions/groupId.js'
import { isClock, isNone, isPlain } from '../questions/groupedBy.js'
import type { EventLog } from '../log/log.js'
import type { NestedKey, ValueKey } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import { bindGroups, compareNames, compareRanks, type GroupPlan, type GroupReader } from './groups.js'
import {
  isWanted,
  keepPart,
  namerOf,
  settled,
  unique,
  withEmptySides,
  type FoundGroup,
  type NamingContext,
  type SplitPlan,
} from './split.js'

/** A row of a table whose rows lie within rows. */
export interface NestedRow {
  /** from the outermost row to this one; empty for all together */
  path: NestedKey[]
  /** how many groups everything else stands for */
  rest: number
}

/**
 * Groups for a table: an event counts in its row at every depth, and there in its column and across all columns. Group
 * `row × width + column`; row 0 and column 0 are all together, so group 0 is left to whoever counts everything.
 */
export interface NestedPlan {
  levels: {
    part: GroupPlan
    /** number of the level's first row */
    first: number
    /** row by (row of the level before, counted from its first) × groups + group; -1 = not shown */
    table: Int32Array
  }[]
  /** column by group; -1 = not shown */
  columns: { part: GroupPlan; table: Int32Array } | null
  width: number
}

/** What a first pass found of one breakdown within those before it. */
export interface FoundLevel {
  split: Split
  /** ids name the groups from the outermost breakdown to this one */
  found: readonly FoundGroup[]
}

/**
 * The kept rows, each level ranked within its parent, in the order of levels; and the columns.
 * @param parts    first pass's plans of the row levels, then the columns'
 * @param mostRows no more rows are kept; the others are in everything else
 */
export function keepNested(
  parts: SplitPlan['parts'],
  rowLevels: readonly FoundLevel[],
  column: FoundLevel | null,
  mostRows: number,
  context: NamingContext,
): { plan: NestedPlan; rows: NestedRow[]; columns: { key: NestedKey; rest: number }[] } {
  const rows: NestedRow[] = [{ path: [], rest: 0 }]
  const levels: NestedPlan['levels'] = []
  let parents: Parent[] = [{ id: '', row: rows[0] }]
  rowLevels.forEach(({ split, found }, depth) => {
    const level = { split, found: depth === 0 ? withEmptySides(found, split, context) : found }
    const room = Math.max(1, Math.floor((mostRows - rows.length) / parents.length) - 1)
    const kept = keepLevel(level, parents, parts[depth], room, context, wantedRow)
    levels.push({
      part: kept.part,
      first: rows.length,
      table: kept.table.map((row) => (row < 0 ? -1 : row + rows.length)),
    })
    rows.push(...kept.rows.map(({ row }) => row))
    parents = kept.rows
  })
  if (!column) return { plan: { levels, columns: null, width: 1 }, rows, columns: [] }
  const top = [{ id: '', row: rows[0] }]
  const across = { ...column, found: withEmptySides(column.found, column.split, context) }
  const kept = keepLevel(across, top, parts[rowLevels.length], column.split.keep, context, ([key]) => wantedColumn(key))
  const columns = kept.rows.map(({ row }) => ({ key: row.path[0], rest: row.rest }))
  const table = kept.table.map((at) => (at < 0 ? -1 : at + 1))
  return { plan: { levels, columns: { part: kept.part, table }, width: columns.length + 1 }, rows, columns }
}

interface Parent {
  /** null = everything else: it has no rows within */
  id: string | null
  row: NestedRow
}

/** The kept groups within each parent, and the table that finds them. */
function keepLevel(
  { split: asked, found }: FoundLevel,
  parents: readonly Parent[],
  part: GroupPlan,
  room: number,
  context: NamingContext,
  nameOfWanted: (path: readonly NestedKey[]) => string,
): { rows: Parent[]; part: GroupPlan; table: Int32Array } {
  const split = settled(asked)
  const nameOf = namerOf(split, part, context)
  const within = new Map<string, { id: string; own: string; key: ValueKey; rank: number | null }[]>()
  for (const { id, rank } of found) {
    const cut = id.lastIndexOf(' ')
    const parent = cut < 0 ? '' : id.slice(0, cut)
    const own = id.slice(cut + 1)
    const group = { id, own, key: nameOf(own), rank }
    const list = within.get(parent)
    if (list) list.push(group)
    else within.set(parent, [group])
  }
  // A clock has but so many hours: all of them are kept.
  const keep = Math.min(room, isClock(split.by) ? 24 : split.keep)
  const byName = (split.order ?? (isPlain(split) ? 'size' : 'name')) === 'name'
  const rows: Parent[] = []
  const chosen = parents.map(({ id, row: { path } }) => {
    const shown = (id === null ? [] : (within.get(id) ?? [])).filter(({ key }) => !split.hideNone || !isNone(key))
    const wanted = shown.filter(({ key }) => isWanted(key, split.only))
    const kept = wanted.sort((a, b) => compareRanks(a.rank, b.rank) || compareNames(a.key, b.key)).slice(0, keep)
    if (context.wanted)
      kept.push(
        ...shown.filter((group) => !kept.includes(group) && context.wanted!.has(nameOfWanted([...path, group.key]))),
      )
    if (byName) kept.sort((a, b) => compareNames(a.key, b.key))
    const first = rows.length
    for (const { id, key } of kept) rows.push({ id, row: { path: [...path, key], rest: 0 } })
    const rest = split.hideRest ? 0 : shown.length - kept.length
    if (rest > 0) rows.push({ id: null, row: { path: [...path, { rest: true }], rest } })
    return { kept, first, rest: rest > 0 ? rows.length - 1 : -1 }
  })
  const ids = new Set(chosen.flatMap(({ kept }) => kept.map(({ own }) => own)))
  if (split.hideNone) ids.add('0')
  const places = new Map([...ids].map((id, index) => [id, index]))
  const second = keepPart(part, split, [...ids], context)
  const table = new Int32Array(parents.length * second.count)
  chosen.forEach(({ kept, first, rest }, parent) => {
    const start = parent * second.count
    table.fill(rest, start, start + second.count)
    if (split.hideNone) table[start + places.get('0')!] = -1
    kept.forEach(({ own }, index) => {
      table[start + places.get(own)!] = first + index
    })
  })
  return { rows, part: second, table }
}

/** Reads every group of an event but the one that all events are in. */
export function bindNested({ levels, columns, width }: NestedPlan, log: EventLog, type: number): GroupReader {
  const readers = levels.map(({ part }) => bindGroups(part, log, type))
  const across = columns && bindGroups(columns.part, log, type)
  let rows = new Uint32Array(64)
  const reader: GroupReader = {
    length: 0,
    found: new Uint32Array(64),
    read(row, slot, person) {
      // Rows of each depth stand one after the other; those of the last one read are what the next goes on from.
      let [from, to] = [0, 1]
      rows[0] = 0
      for (let level = 0; level < levels.length; level++) {
        const { part, table } = levels[level]
        const before = level === 0 ? 0 : levels[level - 1].first
        const own = readers[level]
        own.read(row, slot, person)
        if (to + (to - from) * own.length > rows.length) rows = grown(rows, (to - from) * own.length)
        let end = to
        for (let i = from; i < to; i++)
          for (let k = 0; k < own.length; k++) {
            const at = table[(rows[i] - before) * part.count + own.found[k]]
            if (at >= 0) rows[end++] = at
          }
        // Two elements of a list that are both in everything else are in it once.
        if (end - to > 1) end = to + unique(rows.subarray(to, end), end - to)
        ;[from, to] = [to, end]
      }
      across?.read(row, slot, person)
      const room = to * ((across?.length ?? 0) + 1)
      if (room > reader.found.length) reader.found = new Uint32Array(room * 2)
      const { found } = reader
      let n = 0
      for (let i = 0; i < to; i++) {
        const first = rows[i] * width
        if (first > 0) found[n++] = first
        const start = n
        if (across)
          for (let k = 0; k < across.length; k++) {
            const column = columns!.table[across.found[k]]
            if (column >= 0) found[n++] = first + column
          }
        if (n - start > 1) n = start + unique(found.subarray(start, n), n - start)
      }
      reader.length = n
    },
  }
  return reader
}

function grown(array: Uint32Array<ArrayBuffer>, by: number): Uint32Array<ArrayBuffer> {
  const larger = new Uint32Array((array.length + by) * 2)
  larger.set(array)
  return larger
}
