import { createHash } from 'node:crypto'
import { createGunzip } from 'node:zlib'
import { parse } from 'csv-parse/sync'
import { kindOf, type ValueKind } from '../../core/log/values.js'
import {
  LINE_COLUMN,
  MOST_COLUMNS,
  REASON_COLUMN,
  type ColumnRole,
  type ImportPlan,
  type RowKind,
  type TablePlan,
} from './importPlan.js'
import { LIMITS } from './limits.js'
import { cellsOf, flatten, plainCell, readCell, readTime, zoneReader } from './tableRow.js'

/** The first rows of a file and what its columns seem to be. */
export type Preview =
  | { plan: Extract<ImportPlan, { format: 'jsonl' }>; lines: string[] }
  | {
      plan: TablePlan
      /** cells as text */
      rows: string[][]
      /** read as the last file of this shape was */
      remembered: boolean
    }
  | { problem: string }

/** What is known of a table before its columns are guessed. */
export interface TableStart {
  header: string[]
  rows: unknown[][]
}

type Packed = { gzip: boolean; encoding: ImportPlan['encoding'] }

const DELIMITERS = [',', ';', '\t', '|']
const FIRST_ROWS = 200
const SHOWN_ROWS = 20

/**
 * Guesses how a file is to be read from its beginning. Parquet files tell their columns at their end: see
 * `previewTable`.
 * @param bytes the first bytes of the file, at least one whole line of it
 */
export async function previewFile(bytes: Uint8Array, zone: string): Promise<Preview> {
  if (bytes.length === 0) return { problem: 'The file is empty.' }
  const gzip = bytes[0] === 0x1f && bytes[1] === 0x8b
  let content: Uint8Array
  try {
    content = gzip ? await unpackStart(bytes) : bytes.subarray(0, MOST_LOOKED_AT)
  } catch {
    return { problem: 'The file looks like gzip, but cannot be unpacked.' }
  }
  const { encoding, text } = decodeStart(content)
  const start = text.trimStart()
  if (start === '') return { problem: 'The file has no text in it.' }
  const packed = { gzip, encoding }
  if (start.startsWith('{')) return previewObjects(linesOf(start), start, { ...packed, array: false, zone })
  if (start.startsWith('[')) return previewObjects(elementsOf(start), start, { ...packed, array: true, zone })
  if (start.includes('\0')) return { problem: 'The file is not text. Export it as JSON Lines, CSV or Parquet first.' }
  return previewCsv(text, { ...packed, zone })
}

/** So much of a file is looked at, unpacked: a few bytes of gzip may hold a thousand times as many. */
const MOST_LOOKED_AT = 2_097_152

/** The beginning of what gzip holds; whatever follows is not unpacked. @throws where it is not gzip */
function unpackStart(bytes: Uint8Array): Promise<Uint8Array> {
  return new Promise((resolve, reject) => {
    const pieces: Buffer[] = []
    let length = 0
    const gunzip = createGunzip()
    const done = () => {
      resolve(Buffer.concat(pieces).subarray(0, MOST_LOOKED_AT))
      gunzip.destroy()
    }
    gunzip.on('data', (piece: Buffer) => {
      pieces.push(piece)
      if ((length += piece.length) >= MOST_LOOKED_AT) done()
    })
    gunzip.on('end', done)
    // A piece of a file ends in the middle: what came out of it before is what is looked at.
    gunzip.on('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'Z_BUF_ERROR' || length > 0) done()
      else reject(error)
    })
    gunzip.end(bytes)
  })
}

/** Guesses what the columns of a table are, of a Parquet file for one. */
export function previewTable(start: TableStart, zone: string): Preview {
  if (start.header.length > MOST_COLUMNS)
    return { problem: `The file has ${start.header.length} columns, at most ${MOST_COLUMNS} can be read.` }
  const { columns, rows } = guessColumns(start, false)
  const plan: TablePlan = {
    ...{ format: 'parquet', gzip: false, encoding: 'utf-8' },
    ...{ header: start.header, columns, rows, replace: rows === 'things', zone },
  }
  return { plan, rows: shownRows(start.rows), remembered: false }
}

/** Columns that stand beside the file's own where lines of it were not taken. */
const isOurs = (name: string) => name === LINE_COLUMN || name === REASON_COLUMN

/** The shape of a file: files of the same shape are read the same way. */
export function shapeOf(plan: TablePlan): string {
  const delimiter = plan.format === 'csv' ? plan.delimiter : ''
  return createHash('sha1')
    .update(JSON.stringify([plan.format, delimiter, plan.header.filter((name) => !isOurs(name))]))
    .digest('hex')
}

/** A plan for a file, with what was said of the last file of its shape. */
export function asRemembered(plan: TablePlan, before: TablePlan): TablePlan {
  const { rows, columns, event, thing, replace, zone } = before
  const own = columns.filter((_column, index) => !isOurs(before.header[index]!))
  if (own.length !== plan.header.filter((name) => !isOurs(name)).length) return plan
  let next = 0
  return {
    ...plan,
    columns: plan.header.map((name): ColumnRole => (isOurs(name) ? { role: 'ignore' } : own[next++]!)),
    ...{ rows, replace, zone },
    ...(event === undefined ? {} : { event }),
    ...(thing === undefined ? {} : { thing }),
  }
}

export function shownRows(rows: readonly (readonly unknown[])[]): string[][] {
  return rows.slice(0, SHOWN_ROWS).map((row) =>
    row.map((cell) => {
      const plain = plainCell(cell)
      return plain === null ? '' : Array.isArray(plain) ? plain.join(' | ') : String(plain)
    }),
  )
}

/** UTF-8 if it is that; a byte-order mark decides; otherwise the Western European encoding of older spreadsheets. */
function decodeStart(bytes: Uint8Array): { encoding: ImportPlan['encoding']; text: string } {
  const mark = `${bytes[0]} ${bytes[1]}`
  if (mark === '255 254') return { encoding: 'utf-16le', text: new TextDecoder('utf-16le').decode(bytes) }
  if (mark === '254 255') return { encoding: 'utf-16be', text: new TextDecoder('utf-16be').decode(bytes) }
  try {
    // `stream` forgives a character that the end of the piece cuts in two.
    return { encoding: 'utf-8', text: new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true }) }
  } catch {
    return { encoding: 'windows-1252', text: new TextDecoder('windows-1252').decode(bytes) }
  }
}

/** The objects of whole lines; what cannot be read is left to the import to tell of. */
function linesOf(text: string): unknown[] {
  return text
    .split('\n')
    .slice(0, FIRST_ROWS)
    .flatMap((line) => parsed(line.trim()))
}

/** The first elements of a JSON array whose end may be missing: each is cut out by counting brackets outside of texts. */
function elementsOf(text: string): unknown[] {
  const found: unknown[] = []
  let depth = 0
  let start = -1
  let inText = false
  for (let i = 1; i < text.length && found.length < FIRST_ROWS; i++) {
    const sign = text[i]
    if (inText) {
      if (sign === '\\') i++
      else if (sign === '"') inText = false
    } else if (sign === '"') inText = true
    else if (sign === '{' || sign === '[') {
      if (depth++ === 0) start = i
    } else if ((sign === '}' || sign === ']') && --depth === 0) found.push(...parsed(text.slice(start, i + 1)))
  }
  return found
}

function parsed(text: string): unknown[] {
  try {
    return text === '' ? [] : [JSON.parse(text)]
  } catch {
    return []
  }
}

const EVENT_FIELDS = new Set(['id', 'person', 'anonymous', 'event', 'time', 'source', 'properties'])

/** Whether an object has the form that programs send events in. */
function isEvent(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || !('event' in value)) return false
  return ('person' in value || 'anonymous' in value) && Object.keys(value).every((key) => EVENT_FIELDS.has(key))
}

function previewObjects(
  objects: unknown[],
  text: string,
  { array, zone, ...packed }: Packed & { array: boolean; zone: string },
): Preview {
  const of = array ? { array: true as const } : {}
  // Lines that cannot be read are the import's to tell of: it knows the form of events.
  if (objects.length === 0 || objects.some(isEvent)) {
    if (objects.length === 0 && array) return { problem: 'The JSON array has no objects in it.' }
    const lines = array ? objects.map((each) => JSON.stringify(each)) : text.split('\n').map((line) => line.trim())
    return { plan: { format: 'jsonl', ...packed, ...of }, lines: lines.filter(Boolean).slice(0, SHOWN_ROWS) }
  }
  const header = [...new Set(objects.flatMap((each) => [...flatten(each).keys()]))]
  if (header.length > MOST_COLUMNS)
    return { problem: `The objects have ${header.length} different fields, at most ${MOST_COLUMNS} can be read.` }
  const cells = objects.map((each) => cellsOf(each, header))
  const { columns, rows } = guessColumns({ header, rows: cells }, false)
  const plan: TablePlan = {
    ...{ format: 'json', ...packed, ...of, header, columns, rows, replace: rows === 'things', zone },
  }
  return { plan, rows: shownRows(cells), remembered: false }
}

function previewCsv(text: string, { gzip, encoding, zone }: Packed & { zone: string }): Preview {
  // The piece may end in the middle of a line.
  const whole = text.length > 1000 && text.lastIndexOf('\n') > 0 ? text.slice(0, text.lastIndexOf('\n')) : text
  const best = DELIMITERS.map((delimiter) => ({ delimiter, rows: tryParse(whole, delimiter) })).sort(
    (a, b) => score(b.rows) - score(a.rows),
  )[0]
  const [header, ...cells] = best.rows
  if (!header || (header.length < 2 && cells.length === 0))
    return { problem: 'The file is neither JSON Lines nor a CSV file with a first line of column names.' }
  if (header.length > MOST_COLUMNS)
    return { problem: `The file has ${header.length} columns, at most ${MOST_COLUMNS} can be read.` }
  const { columns, rows } = guessColumns({ header, rows: cells }, best.delimiter !== ',')
  const plan: TablePlan = {
    ...{ format: 'csv', gzip, encoding, delimiter: best.delimiter },
    ...{ header, columns, rows, replace: rows === 'things', zone },
  }
  return { plan, rows: shownRows(cells), remembered: false }
}

function tryParse(text: string, delimiter: string): string[][] {
  try {
    return parse(text, {
      delimiter,
      bom: true,
      relax_column_count: true,
      skip_empty_lines: true,
      skip_records_with_error: true,
      to: FIRST_ROWS,
    }) as unknown as string[][]
  } catch {
    return []
  }
}

/** Many columns, the same number in each line. */
function score(rows: string[][]): number {
  if (rows.length === 0) return 0
  const width = rows[0].length
  const same = rows.filter((row) => row.length === width).length
  return width < 2 ? 0 : (same / rows.length) * 10 + Math.min(width, 20) / 20
}

const NAMES: [RegExp, 'id' | 'person' | 'anonymous' | 'event' | 'source'][] = [
  [
    /^(event[ _-]?id|insert[ _-]?id|uuid|message[ _-]?id|id|order[ _-]?(id|no|number)|subscription[ _-]?(id|no))$/i,
    'id',
  ],
  [/^(person|user|rider|customer|member|account|client)([ _-]?(id|no|number))?$/i, 'person'],
  [/^(anonymous|device|cookie|visitor|browser)([ _-]?id)?$/i, 'anonymous'],
  [/^(event|action|activity)([ _-]?(name|type))?$/i, 'event'],
  [/^(source|origin)$/i, 'source'],
]
const TIME_NAME =
  /^(time|timestamp|date|datetime|ts|when|occurred([ _-]?at)?|event[ _-]?time|created([ _-]?at)?)([ _-]?(utc|ms))?$/i

/**
 * Guesses what each column is, and what the rows are: events where a column names them or is plainly their time; people
 * where there is a person and neither; things where there is an id, a person, and dates.
 */
function guessColumns({ header, rows }: TableStart, decimalComma: boolean): { columns: ColumnRole[]; rows: RowKind } {
  const columns = header.map((name, i) =>
    isOurs(name) ? ({ role: 'ignore' } as const) : guessRole(name, filledCells(rows, i), decimalComma),
  )
  keepFirstOfEachRole(columns, header)
  const kind = guessKind(columns)
  if (kind === 'things') for (const [i, name] of header.entries()) columns[i] = asHappening(columns[i], name)
  if (kind === 'people')
    for (const [i, { role }] of columns.entries())
      if (role !== 'person' && role !== 'property' && role !== 'time')
        columns[i] = asProperty(header[i], rows, i, decimalComma)
  leaveOutBeyond(columns)
  return { columns, rows: kind }
}

function guessKind(columns: readonly ColumnRole[]): RowKind {
  const has = (role: ColumnRole['role']) => columns.some((column) => column.role === role)
  if (has('event')) return 'events'
  const dates = columns.filter(isDate).length
  if (has('id') && (has('person') || has('anonymous')) && dates > 0) return 'things'
  if (has('person') && !has('time')) return 'people'
  return 'events'
}

const isDate = (column: ColumnRole) => column.role === 'time' || (column.role === 'property' && column.type === 'date')

/** A date of a thing makes an event: `paid_on` → "Paid". */
function asHappening(column: ColumnRole, name: string): ColumnRole {
  if (!isDate(column)) return column
  const words = name
    .replace(/[_-]+/g, ' ')
    .replace(/\b(at|on|date|time|utc)\b/gi, '')
    .trim()
  const event = words ? words.charAt(0).toUpperCase() + words.slice(1).toLowerCase() : name
  return { role: 'happened', event, format: column.role === 'time' ? column.format : 'iso' }
}

function asProperty(name: string, rows: readonly (readonly unknown[])[], i: number, decimalComma: boolean): ColumnRole {
  return { role: 'property', name: propertyName(name), type: guessType(filledCells(rows, i), decimalComma) }
}

/** An event carries only so many properties: of very wide tables the later columns are left out until chosen. */
function leaveOutBeyond(columns: ColumnRole[]): void {
  let properties = 0
  columns.forEach((column, i) => {
    if (column.role === 'property' && ++properties > LIMITS.properties - 10) columns[i] = { role: 'ignore' }
  })
}

type Cell = Exclude<ReturnType<typeof plainCell>, null>

function filledCells(rows: readonly (readonly unknown[])[], column: number): Cell[] {
  return rows.map((row) => plainCell(row[column])).filter((cell) => cell !== null)
}

function guessRole(name: string, cells: Cell[], decimalComma: boolean): ColumnRole {
  const trimmed = name.trim()
  if (TIME_NAME.test(trimmed) && cells.length > 0) {
    const format = guessTimeFormat(cells.map(String))
    if (format) return { role: 'time', format }
  }
  const role = NAMES.find(([pattern]) => pattern.test(trimmed))?.[1]
  if (role) return { role }
  return { role: 'property', name: propertyName(name), type: guessType(cells, decimalComma) }
}

function propertyName(name: string): string {
  return name.trim().slice(0, LIMITS.nameChars) || 'column'
}

function guessTimeFormat(values: string[]) {
  const inZone = zoneReader('UTC')
  const reads = (format: 'day first' | 'month first') =>
    values.every((value) => typeof readTime(value, format, inZone) === 'number')
  if (values.every((value) => /^\d{4}-\d{2}-\d{2}/.test(value))) return 'iso'
  if (values.every((value) => /^\d{12,14}$/.test(value))) return 'epoch ms'
  if (values.every((value) => /^\d{9,10}(\.\d+)?$/.test(value))) return 'epoch s'
  // Where both readings are possible, the day comes first in most of the world.
  if (reads('day first')) return 'day first'
  return reads('month first') ? 'month first' : null
}

function guessType(cells: Cell[], decimalComma: boolean): Exclude<ValueKind, never> {
  if (cells.length === 0) return 'text'
  if (cells.every((cell) => Array.isArray(cell))) return 'list'
  if (cells.every((cell) => typeof cell === 'boolean' || /^(true|false|yes|no)$/i.test(String(cell)))) return 'boolean'
  // Leading zeros tell codes, not numbers.
  if (cells.every((cell) => readCell(cell, 'number', decimalComma) !== undefined && !/^0\d/.test(String(cell))))
    return 'number'
  // A date-time without an offset is one as well here: it is read in the zone of the import.
  if (cells.every((cell) => kindOf(cell) === 'date' || /^\d{4}-\d{2}-\d{2}[ T]\d{2}:\d{2}/.test(String(cell))))
    return 'date'
  return 'text'
}

/** Two columns cannot be the person: the later one becomes a property. */
function keepFirstOfEachRole(columns: ColumnRole[], header: string[]): void {
  const seen = new Set<string>()
  columns.forEach((column, i) => {
    if (column.role === 'property' || column.role === 'ignore') return
    if (seen.has(column.role)) columns[i] = { role: 'property', name: propertyName(header[i]), type: 'text' }
    seen.add(column.role)
  })
}
