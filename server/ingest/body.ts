import { isUtf8 } from 'node:buffer'
import { gunzipSync } from 'node:zlib'

/** A body could not be read as a whole; nothing of it was taken. */
export class BodyError extends Error {
  constructor(
    message: string,
    readonly status: 400 | 413 = 400,
  ) {
    super(message)
  }
}

/** One object of a body, or why it is none. */
export type BodyItem =
  | {
      line: number
      /** the text it came as: asked for only where an id has to be made from it */
      content: () => string
      value: unknown
    }
  | {
      line: number
      reason: string
      /** what could not be read */
      text?: string
    }

export interface BodyForm {
  /** lines = JSON Lines; json = one object or an array */
  lines: boolean
  gzip: boolean
  /** bytes once unpacked */
  limit: number
}

/** What this server sends in itself: one array of JSON. */
export const OWN_FORM: BodyForm = { lines: false, gzip: false, limit: 64 * 1_048_576 }

/**
 * Reads a body of JSON, alone, as an array, or as JSON Lines. A bad line of JSON Lines spoils itself only; JSON that
 * cannot be parsed spoils the body.
 * @throws BodyError
 */
export function readBody(bytes: Uint8Array, form: BodyForm): BodyItem[] {
  const text = decode(form.gzip ? unpack(bytes, form.limit) : bytes)
  if (form.lines) return readLines(text)
  let parsed: unknown
  try {
    parsed = JSON.parse(text)
  } catch (error) {
    // Programs that forget the content type of JSON Lines still get what they meant.
    if (/^\s*\{[^\n]*\}\s*\n\s*\{/.test(text)) return readLines(text)
    throw new BodyError(`The body is not JSON: ${(error as Error).message}`)
  }
  const items: unknown[] = Array.isArray(parsed) ? parsed : [parsed]
  return items.map((value, index) => ({ line: index + 1, content: () => JSON.stringify(value), value }))
}

function decode(bytes: Uint8Array): string {
  if (!isUtf8(bytes)) throw new BodyError('The body is not UTF-8 text.')
  const text = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('utf8')
  return text.charCodeAt(0) === 0xfeff ? text.slice(1) : text
}

function unpack(bytes: Uint8Array, limit: number): Uint8Array {
  try {
    return gunzipSync(bytes, { maxOutputLength: limit })
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    if (code === 'ERR_BUFFER_TOO_LARGE')
      throw new BodyError(`The body unpacks to more than ${Math.round(limit / 1048576)} MB. Send smaller batches.`, 413)
    if (code === 'Z_BUF_ERROR')
      throw new BodyError('The gzip data ends early: nothing of it was taken. Send it again whole.')
    throw new BodyError('The body says it is gzip, but cannot be unpacked.')
  }
}

function readLines(text: string): BodyItem[] {
  const items: BodyItem[] = []
  text.split('\n').forEach((line, index) => {
    const content = line.trim()
    if (content !== '') items.push(readLine(content, index + 1))
  })
  return items
}

export function readLine(content: string, line: number): BodyItem {
  try {
    return { line, content: () => content, value: JSON.parse(content) }
  } catch (error) {
    return { line, reason: `not JSON: ${plainJsonError(error as Error)}`, text: content }
  }
}

/** V8 quotes the text it could not read: cut that short, it stands beside the reason anyway. */
function plainJsonError(error: Error): string {
  return error.message
    .replace(/, ".*" is not valid JSON$/s, '')
    .replace(/^Unexpected end of JSON input$/, 'it ends early')
}
