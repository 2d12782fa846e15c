import type { Request } from 'express'

/** The key that a request carries, or null. The scheme's name is the same in upper and lower case. */
export function bearerOf(req: Request): string | null {
  return /^bearer +(\S+)\s*$/i.exec(req.headers.authorization ?? '')?.[1] ?? null
}
