import { own } from '../../core/names.js'
import { createReadStream } from 'node:fs'
import { Transform, type Duplex, type Readable } from 'node:stream'
import { createGunzip } from 'node:zlib'
import { parse } from 'csv-parse'
import { asyncBufferFromFile, parquetMetadataAsync, parquetReadObjects, parquetSchema } from 'hyparquet'
import { compressors } from 'hyparquet-compressors'
import { parser as jsonParser } from 'stream-json'
import { streamArray } from 'stream-json/streamers/stream-array.js'
import { readLine } from './body.js'
import type { CsvPlan, ImportPlan, TablePlan } from './importPlan.js'
import type { TableStart } from './preview.js'
import { cellsOf, tableRowReader } from './tableRow.js'

/** One record of a file: the objects it is, as they would be sent, or why it is none. */
export type FileRecord =
  { line: number; content: string; values: unknown[] } | { line: number; content: string; reason: string }

/** A file cannot be read on: what came before holds. The message says what to do. */
export class FileError extends Error {}

const MOST_LINE = 1_048_576

/**
 * Reads a file record by record, never more than a piece of it in memory.
 * @param onBytes told how many bytes of the file (packed, if it is) have been read so far
 * @throws FileError while iterating, when the file ends early or cannot be unpacked
 */
export async function* fileRecords(
  path: string,
  plan: ImportPlan,
  onBytes: (bytes: number) => void,
): AsyncGenerator<FileRecord> {
  if (plan.format === 'parquet') {
    yield* parquetRecords(path, plan, onBytes)
    return
  }
  yield* readText(path, plan, onBytes, async function* (stream) {
    if (plan.format === 'csv') yield* csvRecords(stream, plan)
    else {
      const objects = plan.array ? arrayRecords(stream) : lineRecords(stream)
      if (plan.format === 'jsonl') yield* objects
      else yield* tableRecords(objects, plan)
    }
  })
}

/**
 * The rows of a CSV file, the first line among them, as they stand; lines that are no CSV are passed over.
 * @throws FileError while iterating, when the file ends early or cannot be unpacked
 */
export async function* textRows(path: string, plan: CsvPlan): AsyncGenerator<{ line: number; cells: string[] }> {
  yield* readText(
    path,
    plan,
    () => {},
    async function* (stream) {
      for await (const row of csvRows(stream, plan)) if ('cells' in row) yield row
    },
  )
}

async function* readText<T>(
  path: string,
  plan: Exclude<ImportPlan, { format: 'parquet' }>,
  onBytes: (bytes: number) => void,
  read: (stream: Readable) => AsyncGenerator<T>,
): AsyncGenerator<T> {
  let bytes = 0
  const raw = createReadStream(path, { highWaterMark: 1 << 18 })
  raw.on('data', (chunk) => onBytes((bytes += chunk.length)))
  let stream: Readable = raw
  if (plan.gzip) stream = pass(raw, createGunzip())
  stream = pass(stream, decoder(plan.encoding))
  try {
    yield* read(stream)
  } catch (error) {
    throw wordError(error as NodeJS.ErrnoException)
  } finally {
    raw.destroy()
    stream.destroy()
  }
}

/** Objects of any kind, read as the rows of a table. */
async function* tableRecords(objects: AsyncIterable<FileRecord>, plan: TablePlan): AsyncGenerator<FileRecord> {
  const read = tableRowReader(plan)
  for await (const record of objects) {
    if ('reason' in record) yield record
    else yield { line: record.line, content: record.content, ...read(cellsOf(record.values[0], plan.header)) }
  }
}

/** The elements of one JSON array, each numbered from 1. */
async function* arrayRecords(stream: Readable): AsyncGenerator<FileRecord> {
  const elements = pass(pass(stream, jsonParser.asStream()), streamArray.asStream())
  let line = 0
  try {
    for await (const { key, value } of elements as unknown as AsyncIterable<{ key: number; value: unknown }>) {
      line = key + 1
      yield { line, content: JSON.stringify(value), values: [value] }
    }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code) throw error
    throw new FileError(
      `The file is not JSON after element ${line}: ${(error as Error).message}. The elements before it were taken.`,
    )
  }
}

/** The rows of a Parquet file, a row group at a time, and of it only the columns that are wanted. */
async function* parquetRecords(
  path: string,
  plan: Extract<ImportPlan, { format: 'parquet' }>,
  onBytes: (bytes: number) => void,
): AsyncGenerator<FileRecord> {
  const read = tableRowReader(plan)
  const file = await openParquet(path)
  const wanted = plan.columns.flatMap((column, i) => (column.role === 'ignore' ? [] : [plan.header[i]]))
  const total = Math.max(1, Number(file.metadata.num_rows))
  let row = 0
  for (const group of file.metadata.row_groups) {
    const rowEnd = row + Number(group.num_rows)
    let rows: Record<string, unknown>[]
    try {
      rows = await parquetReadObjects({ ...file, compressors, columns: wanted, rowStart: row, rowEnd })
    } catch (error) {
      throw new FileError(
        `The file is damaged after row ${row}: ${(error as Error).message}. The rows before it were taken.`,
      )
    }
    for (const each of rows) {
      row++
      const content = JSON.stringify(each, (_key, value: unknown) =>
        typeof value === 'bigint' ? String(value) : value,
      )
      yield { line: row, content, ...read(plan.header.map((name) => own(each, name))) }
    }
    onBytes(Math.floor((file.file.byteLength * row) / total))
  }
}

/** The columns of a Parquet file and its first rows. */
export async function parquetStart(path: string): Promise<TableStart> {
  const { file, metadata } = await openParquet(path)
  const header = parquetSchema(metadata).children.map(({ element }) => element.name)
  const rowEnd = Math.min(200, Number(metadata.num_rows))
  const rows = await parquetReadObjects({ file, metadata, compressors, rowStart: 0, rowEnd })
  return { header, rows: rows.map((row) => header.map((name) => own(row, name))) }
}

/** @throws FileError where it is no Parquet file */
export async function openParquet(path: string) {
  try {
    const file = await asyncBufferFromFile(path)
    return { file, metadata: await parquetMetadataAsync(file) }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw wordError(error as NodeJS.ErrnoException)
    throw new FileError(`The file is not a whole Parquet file: ${(error as Error).message}. Get it again.`)
  }
}

/** Pipes and hands errors on, which plain `pipe` does not. */
function pass<T extends Duplex>(from: Readable, to: T): T {
  from.on('error', (error) => to.destroy(error))
  return from.pipe(to)
}

function wordError(error: NodeJS.ErrnoException): Error {
  switch (error.code) {
    case 'Z_BUF_ERROR':
      return new FileError(
        'The gzip file ends early: the lines before its end were taken. Get the whole file and import it again; lines already taken are not counted twice.',
      )
    case 'Z_DATA_ERROR':
      return new FileError(
        'The file is damaged: it cannot be unpacked past this point. The lines before it were taken.',
      )
    case 'ENOENT':
      return new FileError('The file is no longer there. Choose it again; lines already taken are not counted twice.')
    default:
      return error
  }
}

function decoder(encoding: ImportPlan['encoding']): Transform {
  const decode = new TextDecoder(encoding)
  return new Transform({
    decodeStrings: false,
    readableObjectMode: true,
    transform(chunk: Buffer, _encoding, done) {
      done(null, decode.decode(chunk, { stream: true }))
    },
    flush(done) {
      done(null, decode.decode() || undefined)
    },
  })
}

async function* lineRecords(stream: Readable): AsyncGenerator<FileRecord> {
  let rest = ''
  let line = 0
  let skipping = false
  const take = (text: string): FileRecord | null => {
    line++
    const content = text.trim()
    if (content === '') return null
    const item = readLine(content, line)
    return 'reason' in item ? { line, content, reason: item.reason } : { line, content, values: [item.value] }
  }
  for await (const piece of stream as AsyncIterable<string>) {
    const lines = (rest + piece).split('\n')
    rest = lines.pop()!
    for (const text of lines) {
      if (skipping) {
        skipping = false
        continue
      }
      const record = take(text)
      if (record) yield record
    }
    if (rest.length > MOST_LINE) {
      if (!skipping) {
        line++
        yield { line, content: `${rest.slice(0, 200)}…`, reason: 'the line is over 1 MB long' }
      }
      skipping = true
      rest = ''
    }
  }
  const record = rest && !skipping ? take(rest) : null
  if (record) yield record
}

async function* csvRecords(stream: Readable, plan: CsvPlan): AsyncGenerator<FileRecord> {
  const read = tableRowReader(plan)
  let first = true
  for await (const row of csvRows(stream, plan)) {
    if ('reason' in row) yield row
    // The header. An import that goes on later sees it again.
    else if (first) first = false
    else if (row.cells.length !== plan.header.length)
      yield {
        ...{ line: row.line, content: row.content },
        reason: `${row.cells.length} columns, where the first line has ${plan.header.length}`,
      }
    else yield { line: row.line, content: row.content, ...read(row.cells) }
  }
}

type CsvRow = { line: number; content: string; cells: string[] } | { line: number; content: string; reason: string }

async function* csvRows(stream: Readable, plan: CsvPlan): AsyncGenerator<CsvRow> {
  const skipped: Extract<CsvRow, { reason: string }>[] = []
  const parser = parse({
    delimiter: plan.delimiter,
    bom: true,
    info: true,
    raw: true,
    relax_column_count: true,
    skip_empty_lines: true,
    skip_records_with_error: true,
    max_record_size: MOST_LINE,
    on_skip: (error, raw) => {
      const line = error && 'lines' in error ? Number(error.lines) : 0
      skipped.push({ line, content: (raw ?? '').trimEnd().slice(0, 2000), reason: csvReason(error?.code) })
      return undefined
    },
  })
  stream.on('error', (error) => parser.destroy(error))
  stream.pipe(parser)
  for await (const { record, raw, info } of parser as AsyncIterable<{
    record: string[]
    raw: string
    info: { lines: number }
  }>) {
    yield* skipped.splice(0)
    yield { line: info.lines, content: raw.trimEnd(), cells: record }
  }
  yield* skipped
}

function csvReason(code: string | undefined): string {
  switch (code) {
    case 'CSV_QUOTE_NOT_CLOSED':
      return 'a quotation mark is opened and never closed'
    case 'INVALID_OPENING_QUOTE':
    case 'CSV_INVALID_OPENING_QUOTE':
    case 'CSV_INVALID_CLOSING_QUOTE':
      return 'a quotation mark stands inside a value: double it, and put the value in quotation marks'
    case 'CSV_MAX_RECORD_SIZE':
      return 'the record is over 1 MB long: a quotation mark before it may never be closed'
    default:
      return 'the line cannot be read as CSV'
  }
}
