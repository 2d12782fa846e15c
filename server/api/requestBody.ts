import type { IncomingMessage } from 'node:http'

/** The body is over the limit; nothing of it was taken. */
export class TooLargeError extends Error {
  constructor(limit: number) {
    super(
      `The body is over ${Math.round((limit / 1_048_576) * 10) / 10} MB. Send it in smaller pieces; nothing of it was taken.`,
    )
  }
}

/** Reads a whole body into memory, up to a limit of bytes. @throws TooLargeError */
export async function readRequestBody(req: IncomingMessage, limit: number): Promise<Buffer> {
  if (Number(req.headers['content-length'] ?? 0) > limit) throw new TooLargeError(limit)
  const pieces: Buffer[] = []
  let bytes = 0
  for await (const piece of req as AsyncIterable<Buffer>) {
    bytes += piece.length
    if (bytes > limit) throw new TooLargeError(limit)
    pieces.push(piece)
  }
  return Buffer.concat(pieces)
}
