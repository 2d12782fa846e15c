import { constants, gunzipSync } from 'node:zlib'
import { parse } from 'csv-parse/sync'
import { kindOf } from '../../core/log/values.js'
import { readCell, readTime, zoneReader } from './csvRecord.js'
import type { ColumnRole, CsvPlan, ImportPlan } from './importPlan.js'

/** The first rows of a file and what its columns seem to be. */
export type Preview =
  | { plan: Extract<ImportPlan, { format: 'jsonl' }>; lines: string[] }
  | { plan: CsvPlan; rows: string[][] }
  | { problem: string }

const DELIMITERS = [',', ';', '\t', '|']

/**
 * Guesses how a file is to be read from its beginning.
 * @param bytes the first bytes of the file, at least one whole line of it
 */
export function previewFile(bytes: Uint8Array, zone: string): Preview {
  if (bytes.length === 0) return { problem: 'The file is empty.' }
  const gzip = bytes[0] === 0x1f && bytes[1] === 0x8b
  let content: Uint8Array
  try {
    content = gzip ? gunzipSync(bytes, { finishFlush: constants.Z_SYNC_FLUSH }) : bytes
  } catch {
    return { problem: 'The file looks like gzip, but cannot be unpacked.' }
  }
  const { encoding, text } = decodeStart(content)
  const start = text.trimStart()
  if (start === '') return { problem: 'The file has no text in it.' }
  if (start.startsWith('{')) {
    const lines = start.split('\n').map((line) => line.trim())
    return { plan: { format: 'jsonl', gzip, encoding }, lines: lines.filter(Boolean).slice(0, 20) }
  }
  if (start.startsWith('['))
    return {
      problem: 'The file is one JSON array. Write one object a line (JSON Lines), without the brackets and commas.',
    }
  if (start.includes('\0')) return { problem: 'The file is not text. Export it as JSON Lines or CSV first.' }
  return previewCsv(text, { gzip, encoding, zone })
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

function previewCsv(
  text: string,
  { gzip, encoding, zone }: { gzip: boolean; encoding: ImportPlan['encoding']; zone: string },
): Preview {
  // The piece may end in the middle of a line.
  const whole = text.length > 1000 && text.lastIndexOf('\n') > 0 ? text.slice(0, text.lastIndexOf('\n')) : text
  const best = DELIMITERS.map((delimiter) => ({ delimiter, rows: tryParse(whole, delimiter) })).sort(
    (a, b) => score(b.rows) - score(a.rows),
  )[0]
  const [header, ...rows] = best.rows
  if (!header || (header.length < 2 && rows.length === 0))
    return { problem: 'The file is neither JSON Lines nor a CSV file with a first line of column names.' }
  const columns = header.map((name, i) =>
    guessRole(
      name,
      rows.map((row) => row[i] ?? ''),
      best.delimiter !== ',',
    ),
  )
  keepFirstOfEachRole(columns, header)
  return {
    plan: { format: 'csv', gzip, encoding, delimiter: best.delimiter, header, columns, zone },
    rows: rows.slice(0, 20),
  }
}

function tryParse(text: string, delimiter: string): string[][] {
  try {
    return parse(text, {
      delimiter,
      bom: true,
      relax_column_count: true,
      skip_empty_lines: true,
      skip_records_with_error: true,
      to: 200,
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
  [/^(event[ _-]?id|insert[ _-]?id|uuid|message[ _-]?id|id)$/i, 'id'],
  [/^(person|user|rider|customer|member|account|client)([ _-]?(id|no|number))?$/i, 'person'],
  [/^(anonymous|device|cookie|visitor|browser)([ _-]?id)?$/i, 'anonymous'],
  [/^(event|action|activity)([ _-]?(name|type))?$/i, 'event'],
  [/^(source|origin)$/i, 'source'],
]
const TIME_NAME =
  /^(time|timestamp|date|datetime|ts|when|occurred([ _-]?at)?|event[ _-]?time|created([ _-]?at)?)([ _-]?(utc|ms))?$/i

function guessRole(name: string, values: string[], decimalComma: boolean): ColumnRole {
  const filled = values.map((value) => value.trim()).filter(Boolean)
  const trimmed = name.trim()
  if (TIME_NAME.test(trimmed) && filled.length > 0) {
    const format = guessTimeFormat(filled)
    if (format) return { role: 'time', format }
  }
  const role = NAMES.find(([pattern]) => pattern.test(trimmed))?.[1]
  if (role) return { role }
  return { role: 'property', name: trimmed || 'column', type: guessType(filled, decimalComma) }
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

function guessType(values: string[], decimalComma: boolean): 'text' | 'number' | 'boolean' | 'date' | 'list' {
  if (values.length === 0) return 'text'
  if (values.every((value) => /^(true|false|yes|no)$/i.test(value))) return 'boolean'
  // Leading zeros tell codes, not numbers.
  if (values.every((value) => readCell(value, 'number', decimalComma) !== undefined && !/^0\d/.test(value)))
    return 'number'
  if (values.every((value) => kindOf(value) === 'date')) return 'date'
  return 'text'
}

/** Two columns cannot be the person: the later one becomes a property. */
function keepFirstOfEachRole(columns: ColumnRole[], header: string[]): void {
  const seen = new Set<string>()
  columns.forEach((column, i) => {
    if (column.role === 'property' || column.role === 'ignore') return
    if (seen.has(column.role)) columns[i] = { role: 'property', name: header[i].trim() || 'column', type: 'text' }
    seen.add(column.role)
  })
}
