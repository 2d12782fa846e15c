/** Input that cannot be read at all; the message says why. */
export class UnreadableError extends Error {
  readonly status = 400
}

/** Nothing that people or programs say is nested deeper; what is would overflow whoever walks through it. */
export const MOST_DEEP = 120

/**
 * Parses JSON from outside.
 * @throws UnreadableError where it is none, or nested deeper than `MOST_DEEP`
 */
export function readJson(text: string): unknown {
  let depth = 0
  let inText = false
  for (let i = 0; i < text.length; i++) {
    const sign = text.charCodeAt(i)
    if (inText) {
      if (sign === BACKSLASH) i++
      else if (sign === QUOTE) inText = false
    } else if (sign === QUOTE) inText = true
    else if (sign === OPEN_LIST || sign === OPEN_OBJECT) {
      if (++depth > MOST_DEEP) throw new UnreadableError(`This is nested more than ${MOST_DEEP} deep.`)
    } else if (sign === CLOSE_LIST || sign === CLOSE_OBJECT) depth--
  }
  try {
    return JSON.parse(text) as unknown
  } catch (error) {
    throw new UnreadableError(`This is not JSON: ${(error as Error).message}`)
  }
}

const [QUOTE, BACKSLASH] = [34, 92]
const [OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [91, 93, 123, 125]
