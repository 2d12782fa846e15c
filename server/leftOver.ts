import type { NextFunction, Request, Response } from 'express'

/** What is left of a body is read for so long, and so far, at most; then the connection ends. */
const LIMIT_MS = 10_000
const LIMIT_BYTES = 64 * 1_048_576

/**
 * Reads what a handler left of a request's body, and throws it away. A stream that was begun and given up holds its
 * connection: the next request on it, which behind a proxy may be anybody's, would wait for ever.
 */
export function takeLeftOver(req: Request, res: Response, next: NextFunction): void {
  res.once('finish', () => {
    if (req.readableEnded || req.destroyed) return
    let bytes = 0
    const end = () => void req.destroy()
    const timer = setTimeout(end, LIMIT_MS).unref()
    req.removeAllListeners('data')
    req.removeAllListeners('readable')
    req.on('data', (piece: Buffer) => {
      bytes += piece.length
      if (bytes > LIMIT_BYTES) end()
    })
    req.once('close', () => clearTimeout(timer))
    req.resume()
  })
  next()
}
