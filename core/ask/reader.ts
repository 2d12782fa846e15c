/**
 * Small parsers that give every reading of a text from a place on, as pairs of a value and where it ends: of sentences
 * whose names may hold any words, only trying tells which reading goes on to the end.
 */
export type Reader<T> = (text: string, at: number) => Iterable<readonly [T, number]>

/** Exactly these words, whatever their case. */
export function literal(words: string): Reader<string> {
  const wanted = words.toLowerCase()
  return function* (text, at) {
    const end = at + words.length
    if (text.slice(at, end).toLowerCase() === wanted) yield [words, end]
  }
}

/** A pattern, with the `y` flag; its longest match alone. */
export function pattern<T>(regex: RegExp, valueOf: (match: RegExpExecArray) => T | null): Reader<T> {
  return function* (text, at) {
    regex.lastIndex = at
    const match = regex.exec(text)
    const value = match && valueOf(match)
    if (match && value !== null) yield [value as T, at + match[0].length]
  }
}

export function map<A, B>(reader: Reader<A>, change: (value: A) => B | null): Reader<B> {
  return function* (text, at) {
    for (const [value, end] of reader(text, at)) {
      const changed = change(value)
      if (changed !== null) yield [changed, end]
    }
  }
}

/** What comes after some words. */
export const after = <T>(words: string, reader: Reader<T>): Reader<T> =>
  map(chain<[string, T]>(literal(words), reader), ([, value]) => value)

/** One after the other; the values as a tuple. */
export function chain<T extends unknown[]>(...readers: { [K in keyof T]: Reader<T[K]> }): Reader<T> {
  function* from(place: number, text: string, at: number, had: unknown[]): Iterable<readonly [T, number]> {
    if (place === readers.length) {
      yield [had as T, at]
      return
    }
    for (const [value, end] of readers[place](text, at)) yield* from(place + 1, text, end, [...had, value])
  }
  return (text, at) => from(0, text, at, [])
}

export function either<T>(...readers: Reader<T>[]): Reader<T> {
  return function* (text, at) {
    for (const reader of readers) yield* reader(text, at)
  }
}

/** There, or else null. */
export function maybe<T>(reader: Reader<T>): Reader<T | null> {
  return function* (text, at) {
    yield* reader(text, at)
    yield [null, at]
  }
}

/** What is read, under a name; nothing where it is not there. */
export function optional<T>(name: string, reader: Reader<T>): Reader<object> {
  return map(maybe(reader), (found): object => (found === null ? {} : { [name]: found }))
}

/** As often as it comes, the most first. */
export function many<T>(reader: Reader<T>): Reader<T[]> {
  return function* read(text, at): Iterable<readonly [T[], number]> {
    for (const [first, end] of reader(text, at)) {
      if (end === at) continue
      for (const [rest, last] of read(text, end)) yield [[first, ...rest], last]
    }
    yield [[], at]
  }
}

/** `a`, `a and b`, `a, b and c`. */
export function list<T>(item: Reader<T>, word: 'and' | 'or'): Reader<T[]> {
  const more = map(
    chain<[T[], string, T]>(
      many(map(chain<[string, T]>(literal(', '), item), ([, value]) => value)),
      literal(` ${word} `),
      item,
    ),
    ([middle, , last]) => [...middle, last],
  )
  return map(chain<[T, T[] | null]>(item, maybe(more)), ([first, rest]) => [first, ...(rest ?? [])])
}

/** One of many names that ends where a word does: as it is written before any other case, the longest first. */
export function names<T>(all: readonly { words: string; value: T }[]): Reader<T> {
  const sorted = [...all].sort((a, b) => b.words.length - a.words.length)
  return function* (text, at) {
    for (const exact of [true, false])
      for (const { words, value } of sorted) {
        const end = at + words.length
        if (words === '' || !isEnd(text, end)) continue
        const found = text.slice(at, end)
        if (exact ? found === words : found !== words && found.toLowerCase() === words.toLowerCase()) yield [value, end]
      }
  }
}

const isEnd = (text: string, at: number) => at >= text.length || !/[\p{L}\p{N}]/u.test(text[at]!)

/** The first reading that reaches the end of the text. */
export function readWhole<T>(reader: Reader<T>, text: string): T | null {
  for (const [value, end] of reader(text, 0)) if (end === text.length) return value
  return null
}
