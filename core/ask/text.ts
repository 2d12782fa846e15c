import { ANYBODY } from './phrase.js'
import { FILLERS, tokensOf, type Token } from './tokens.js'
import type { Understood } from './understood.js'

/** Marks between the words of which the tokens on either side have roles. */
export type Marker = 'by' | 'where' | 'not' | 'then' | 'and' | 'over'

/** What is said before that which is not there. */
export const WITHOUT = '(?:without(?: an?)?|with no|(?:has|have|having) no)'

const MARKERS: [Marker, RegExp][] = [
  [
    'by',
    /(?:for (?:each|every)|broken down by|split by|grouped by|group by|by|per|across|which(?= \p{L})|what(?= \p{L}+ (?:bring|brought|driv|drove)))(?![\p{L}\p{N}])/uy,
  ],
  [
    'not',
    new RegExp(`(?:excluding|except(?: for)?|${WITHOUT}|but not|not among|not|other than)(?![\\p{L}\\p{N}])`, 'uy'),
  ],
  ['where', /(?:where|whose|with|only(?: where| for)?|among|for|limited to)(?![\p{L}\p{N}])/uy],
  ['over', /(?:divided by|\/)/uy],
  ['then', /(?:→|(?:and )?then|to)(?![\p{L}\p{N}])/uy],
  ['and', /(?:and|vs\.?|versus|or)(?![\p{L}\p{N}])/uy],
]

/** What is looked for is what is asked about; the looking is not. */
const LOOKED_FOR = /look(?:s|ed|ing)? for(?![\p{L}\p{N}])/uy

/** Whoever is counted, where nothing else is called so. */
export const PEOPLE = new RegExp(`^${ANYBODY}$`, 'u')

/** One typed text on its way to a question. */
export class Text {
  readonly tokens: Token[]
  readonly lower: string
  /** by token: taken by something understood */
  readonly taken: boolean[]
  /** by token: the marker that stands right before it */
  readonly markers: (Marker | null)[]
  readonly understood: Understood[] = []

  constructor(readonly text: string) {
    this.tokens = tokensOf(text)
    this.lower = text.toLowerCase()
    this.taken = this.tokens.map(() => false)
    this.markers = this.tokens.map(() => null)
  }

  /** Takes the tokens in [from, to) of the text. */
  take(from: number, to: number, as: Understood['as'], means: string): void {
    this.tokens.forEach((token, index) => {
      if (token.from < to && token.to > from) this.taken[index] = true
    })
    this.understood.push({ from, to, as, means })
  }

  /** Lets go of what was understood, so that its words count as not used. */
  giveBack(which: (each: Understood) => boolean): void {
    for (const { from, to } of this.understood.filter(which))
      this.tokens.forEach((token, index) => {
        if (token.from < to && token.to > from) this.taken[index] = false
      })
    this.understood.splice(0, Infinity, ...this.understood.filter((each) => !which(each)))
  }

  readonly isFree = (index: number) => !this.taken[index]
  /** Whether something in [from, to) of the text has been understood already. */
  isTaken(from: number, to: number): boolean {
    return this.understood.some((each) => each.from < to && each.to > from)
  }
  copy(): Text {
    const copy = new Text(this.text)
    this.taken.forEach((taken, index) => (copy.taken[index] = taken))
    this.markers.forEach((marker, index) => (copy.markers[index] = marker))
    copy.understood.push(...this.understood)
    return copy
  }

  unused(): { from: number; to: number }[] {
    return this.tokens
      .filter(
        (token, index) => !this.taken[index] && (token.quoted || !(FILLERS.has(token.word) || PEOPLE.test(token.word))),
      )
      .map(({ from, to }) => ({ from, to }))
  }
}

export function readMarkers(text: Text, kept: readonly { from: number; to: number }[] = []): void {
  text.tokens.forEach((token, index) => {
    if (text.taken[index] || token.quoted) return
    if (kept.some(({ from, to }) => token.from > from && token.to < to)) return
    LOOKED_FOR.lastIndex = token.from
    if (LOOKED_FOR.test(text.lower)) {
      text.taken[index] = text.taken[index + 1] = true
      return
    }
    for (const [marker, regex] of MARKERS) {
      regex.lastIndex = token.from
      const match = regex.exec(text.lower)
      if (!match) continue
      const end = token.from + match[0].length
      let next = index
      while (next < text.tokens.length && text.tokens[next]!.from < end) text.taken[next++] = true
      if (next < text.tokens.length) text.markers[next] = marker
      return
    }
  })
}

/** The marker that joins an event to the one before, passing over words that name nothing. */
export function jointBefore(text: Text, index: number): Marker | null {
  for (let at = index; at >= 0; at--) {
    if (text.markers[at] !== null) return text.markers[at]!
    if (at < index && !FILLERS.has(text.tokens[at]!.word)) return null
  }
  return null
}
