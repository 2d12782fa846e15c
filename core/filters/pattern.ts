import { RE2JS } from 're2js'

/** A regular expression, found anywhere in a text. */
export interface Pattern {
  test(text: string): boolean
}

/**
 * Reads a regular expression for an engine whose time grows with the text's length only, so that no pattern can run
 * for ever. It knows neither look-around nor back references.
 */
export function compilePattern(text: string, ignoreCase: boolean): Pattern | { problem: string } {
  try {
    const pattern = RE2JS.compile(text, ignoreCase ? RE2JS.CASE_INSENSITIVE : 0)
    return { test: (value) => pattern.matcher(value).find() }
  } catch (error) {
    return { problem: wordsOf((error as Error).message) }
  }
}

function wordsOf(message: string): string {
  const plain = message.replace(/^error parsing regexp: /, '')
  if (/\(\?[=!<]/.test(plain)) return 'looking ahead or behind, as in (?=…), cannot be used here'
  if (/invalid escape sequence: `\\[1-9]/.test(plain)) return 'referring back, as in \\1, cannot be used here'
  return plain
}
