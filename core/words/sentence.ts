import type { Finding } from './words.js'

/** A piece of a question's sentence. A piece with a token can be changed; `path` ties it to faults. */
export interface SentencePart {
  text: string
  token?: string
  tone?: 'water' | 'hazel' | 'brick' | 'plain'
  path?: string
  /** begins a line of its own: a series or formula of the question */
  line?: 'series' | 'formula'
}

/** *What this says*: findings, cautions, and where to look next. */
export interface Reading {
  findings: Finding[]
  cautions: Finding[]
  /** since when, epoch ms, nothing has arrived of an event, or of any (null): told first of all, and the rest is of the time before */
  stopped?: { sinceMs: number; event: string | null }
}

/** A sentence as plain text. */
export function sentenceText(parts: readonly SentencePart[]): string {
  return parts
    .map(({ text, line }, index) => `${line ? (parts[index - 1]?.text === ':' ? ' ' : '; ') : ''}${text}`)
    .join('')
}
