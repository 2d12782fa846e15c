import { baseForm, rowOf } from './trade.js'

/** Words of a typed text, with where they stand. */
export interface Token {
  from: number
  /** not included */
  to: number
  /** in lower case */
  word: string
  /** what the forms of the word share */
  stem: string
  /** stands in quotes: means itself */
  quoted: boolean
}

const WORD = /[“"]([^”"]*)[”"]|[\p{L}\p{N}](?:[\p{L}\p{N}'’_.]|-(?=\d))*|<=|>=|[<>=≤≥≠→/]/gu

export function tokensOf(text: string): Token[] {
  return [...text.matchAll(WORD)].map((match) => {
    const [whole, inQuotes] = match
    const trimmed = inQuotes ?? whole.replace(/['’.-]+$/, '')
    const word = trimmed.toLowerCase()
    const to = match.index + (inQuotes === undefined ? trimmed.length : whole.length)
    return { from: match.index, to, word, stem: stemOf(word), quoted: inQuotes !== undefined }
  })
}

/** The words of a name, also of `home_district` and `homeDistrict`. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}.]+/u)
    .filter(Boolean)
}

const stems = new Map<string, string>()

/** The part that forms of an English word share: riders, riding and ride are all `rid`. */
export function stemOf(word: string): string {
  // Names are compared with every word that is typed.
  let stem = stems.get(word)
  if (stem === undefined) {
    if (stems.size > 20_000) stems.clear()
    stems.set(word, (stem = newStem(word)))
  }
  return stem
}

function newStem(word: string): string {
  const base = baseForm(word)
  if (base !== word) return stemOf(base)
  const short = word.replace(/(?:ations?|ments?|als?|ers?|ors?|ings?|ied|ies|ed|es|s|e|y)$/, '')
  // "ordering" is of order, as "orders" is.
  if (/(?:ing|ed)s?$/.test(word) && short.length > 4 && /[eo]r$/.test(short)) return stemOf(short)
  // Of a word of two letters the plural alone is taken off: ups is up.
  return short.length >= 3 || (short.length === 2 && word === `${short}s`) ? short : word
}

/** Words that name nothing: they are passed over without a mark. */
export const FILLERS = new Set(
  `a all am an and any are as at be been but by can could did do does doing each ever every for from get gets give got had has
   have having how i in into is it its just many me much my no number of on or our over people person please show so some
   tell than that the their them then there these they this those to us use used using users user was we were what when
   where which who whom whose why will with would you your during counts count total there s t`.split(/\s+/),
)

/** How many letters must change to turn one word into the other, up to `most`; one more where it is further. */
export function distance(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1
  let before = Array.from({ length: b.length + 1 }, (_, i) => i)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const swap = before[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1)
      row.push(Math.min(swap, before[j] + 1, row[j - 1] + 1))
    }
    before = row
  }
  return Math.min(before[b.length], most + 1)
}

/**
 * How well a typed word answers to a word of a name: 1 = the very word, less for a form, a beginning or a slip.
 * @param same whether words of the trade that mean the same answer too
 */
export function likeness(token: Token, word: string, same = true): number {
  if (token.word === word) return 1
  const stem = stemOf(word)
  if (token.stem === stem) return 0.95
  const row = rowOf(token.stem, stemOf)
  if (same && row >= 0 && row === rowOf(stem, stemOf)) return 0.9
  // "new" begins no newsletter.
  if (token.word.length >= 3 && token.word.length * 2.5 >= word.length && word.startsWith(token.word)) return 0.75
  const slips = token.word.length >= 7 ? 2 : token.word.length >= 4 ? 1 : 0
  if (slips === 0) return 0
  const off = Math.min(distance(token.word, word, slips), distance(token.stem, stem, slips))
  return off <= slips ? 0.8 - 0.1 * off : 0
}
