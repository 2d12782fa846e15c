import type { Question } from '../analyses/registry.js'
import type { Split } from '../questions/split.js'
import { MOST_SPLITS } from '../questions/vocabulary.js'
import type { Text } from './text.js'
import type { AskReading } from './understood.js'
import type { Vocabulary } from './vocabulary.js'

/** A saved segment that a typed question names. */
export interface NamedSegment {
  id: string
  words: string
  not: boolean
  from: number
}

const NOT = String.raw`(not (?:among|in|for)|except(?: for)?|excluding|without|but not)`
const LEAD = String.raw`(?:${NOT}|among|only|for|in|of|who are in)?\s*(?:the |people in )?`

/** Finds the segments by their names, the longest first, and takes them out of the text. */
export function readSegments(text: Text, { segments }: Vocabulary): NamedSegment[] {
  const found: NamedSegment[] = []
  for (const { id, words } of [...segments].sort((a, b) => b.words.length - a.words.length)) {
    const name = words.toLowerCase().replace(/[.*+?^${}()|[\]\\]/g, String.raw`\$&`)
    const regex = new RegExp(String.raw`(?<![\p{L}\p{N}])${LEAD}["“]?${name}["”]?(?![\p{L}\p{N}])`, 'gu')
    for (const match of text.lower.matchAll(regex)) {
      const [from, to] = [match.index, match.index + match[0].length]
      if (text.isTaken(from, to)) continue
      const not = match[1] !== undefined
      text.take(from, to, 'people', `${not ? 'not among' : 'among'} ${words}`)
      found.push({ id, words, not, from })
    }
  }
  return found.sort((a, b) => a.from - b.from)
}

/** "How do A and B overlap?", where the word is there and two segments are named. */
export function overlapReading(text: Text, named: readonly NamedSegment[]): AskReading | null {
  const match =
    /(?:how (?:much )?do(?:es)? )?(?:the )?overlap(?:ping|s)?(?: of| between)?|in more than one of|venn/u.exec(
      text.lower,
    )
  const ids = [...new Set(named.map(({ id }) => id))].slice(0, 5)
  if (!match || ids.length < 2) return null
  text.take(match.index, match.index + match[0].length, 'kind', 'an overlap')
  return {
    question: {
      ...{ kind: 'overlap', sides: ids.map((segment) => ({ segment })) },
      range: { last: 12, unit: 'week' },
    },
    understood: [...text.understood].sort((a, b) => a.from - b.from),
    unused: text.unused(),
    notes: [],
  }
}

/** One segment says among whom; several stand side by side. */
export function withSegments(question: Question, named: readonly NamedSegment[]): Question {
  const [first, ...more] = named
  if (!first || question.kind === 'overlap') return question
  // Its rows and columns are what it is asked by.
  if (more.length === 0 || question.kind === 'crosstab')
    return { ...question, among: { rule: { kind: 'segment', segment: first.id, ...(first.not ? { not: true } : {}) } } }
  const sides = named.slice(0, 6).map(({ id, not }) => ({ segment: id, ...(not ? { not: true as const } : {}) }))
  const split: Split = { by: { of: 'segments', sides }, keep: 10 }
  // What has no groups is asked among the first of them.
  if (question.kind === 'tipping' || question.kind === 'likelihood') return withSegments(question, [first])
  return { ...question, breakdowns: [split, ...(question.breakdowns ?? [])].slice(0, MOST_SPLITS) }
}
