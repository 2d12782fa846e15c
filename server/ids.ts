import { createHash, randomBytes } from 'node:crypto'

/** A token nobody can guess: 128 random bits, as 22 characters safe in addresses. */
export function newToken(): string {
  return randomBytes(16).toString('base64url')
}

/** A short name for a row that is no secret. */
export function newId(): string {
  return randomBytes(9).toString('base64url').replace(/[-_]/g, 'x')
}

export function hashOf(secret: string): string {
  return createHash('sha256').update(secret).digest('hex')
}

/** The id of an event that came without one: from its content, so that the same bytes again are the same event. */
export function contentId(content: string): string {
  return `c:${createHash('sha1').update(content).digest('base64url')}`
}
