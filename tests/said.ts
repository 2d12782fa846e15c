import type { Reading } from '../core/words/sentence.js'

/** What a reading says, sentence by sentence, with its narrow spaces as plain ones. */
export function said({ findings, cautions }: Reading): { findings: string[]; cautions: string[] } {
  const textOf = (pieces: readonly { text: string }[]) =>
    pieces
      .map(({ text }) => text)
      .join('')
      .replace(/[\u202f\u00a0]/g, ' ')
  return { findings: findings.map(textOf), cautions: cautions.map(textOf) }
}
