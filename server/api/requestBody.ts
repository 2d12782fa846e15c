import type { IncomingMessage } from 'node:http'

/** The body is over the limit; nothing of it was taken. */
export class TooLargeError extends Error {
  readonly status = 413
  constructor(limit: number) {
    super(
      `The body is over ${Math.round((limit / 1_048_576) * 10) / 10} MB. Send it in smaller pieces; nothing of it was taken.`,
    )
  }
}

/**
 * Reads a whole body, up to a limit of bytes, into memory of its own: it can be handed to another thread uncopied.
 * @throws TooLargeError
 */
export async function readRequestBody(req: IncomingMessage, limit: number): Promise<Buffer> {
  const said = Number(req.headers['content-length'] ?? 0)
  if (said > limit) throw new TooLargeError(limit)
  // As long as it says it is; one that says nothing grows by doubling.
  let whole = new Uint8Array(said > 0 ? said : 65_536)
  let bytes = 0
  for await (const piece of req as AsyncIterable<Buffer>) {
    if (bytes + piece.length > limit) throw new TooLargeError(limit)
    if (bytes + piece.length > whole.length) {
      const wider = new Uint8Array(Math.min(limit, Math.max(bytes + piece.length, whole.length * 2)))
      wider.set(whole.subarray(0, bytes))
      whole = wider
    }
    whole.set(piece, bytes)
    bytes += piece.length
  }
  return Buffer.from(whole.buffer, 0, bytes)
}
