import { createReadStream } from 'node:fs'
import { Transform, type Readable } from 'node:stream'
import { createGunzip } from 'node:zlib'
import { parse } from 'csv-parse'
import { csvRecordReader } from './csvRecord.js'
import type { CsvPlan, ImportPlan } from './importPlan.js'
import { readLine } from './body.js'

/** One record of a file: an object as it would be sent, or why it is none. */
export type FileRecord =
  { line: number; content: string; value: unknown } | { line: number; content: string; reason: string }

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
  let bytes = 0
  const raw = createReadStream(path, { highWaterMark: 1 << 18 })
  raw.on('data', (chunk) => onBytes((bytes += chunk.length)))
  let stream: Readable = raw
  if (plan.gzip) stream = pass(raw, createGunzip())
  stream = pass(stream, decoder(plan.encoding))
  try {
    yield* plan.format === 'jsonl' ? lineRecords(stream) : csvRecords(stream, plan)
  } catch (error) {
    throw wordError(error as NodeJS.ErrnoException)
  } finally {
    raw.destroy()
    stream.destroy()
  }
}

/** Pipes and hands errors on, which plain `pipe` does not. */
function pass<T extends Transform>(from: Readable, to: T): T {
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
    return { ...item, content }
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
  const skipped: FileRecord[] = []
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
  const read = csvRecordReader(plan)
  let first = true
  for await (const { record, raw, info } of parser as AsyncIterable<{
    record: string[]
    raw: string
    info: { lines: number }
  }>) {
    yield* skipped.splice(0)
    if (first) {
      // The header. An import that goes on later sees it again.
      first = false
      continue
    }
    const content = raw.trimEnd()
    if (record.length !== plan.header.length)
      yield {
        line: info.lines,
        content,
        reason: `${record.length} columns, where the first line has ${plan.header.length}`,
      }
    else yield { line: info.lines, content, ...read(record) }
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
