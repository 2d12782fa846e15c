import { isPlain } from '../questions/groupedBy.js'
import type { Split } from '../questions/split.js'
import { keyWords } from '../words/exact.js'
import { joinWords } from '../words/format.js'
import { sentenceText, type SentencePart } from '../words/sentence.js'
import { groupWords, splitWords, type Words } from '../words/words.js'

/** The name of a token that a question may have several of: the first one's stands for itself. */
export function tokenOf(name: string, index: number): string {
  return index === 0 ? name : `${name} ${index}`
}

/** ", for each Plan (the 3 largest) and each Day of week": what groups are made by, one token each. */
export function breakdownParts(breakdowns: readonly Split[] | undefined, words: Words): SentencePart[] {
  return (breakdowns ?? []).flatMap((split, index) => {
    const token = { token: tokenOf('breakdown', index), tone: 'water', path: `breakdowns.${index}` } as const
    const usual = breakdowns!.every(isPlain) ? 'size' : 'name'
    const chosen = choiceWords(split, index === 0, index === 0 ? usual : null, words)
    return [
      { text: index === 0 ? ', for each ' : ' and each ' },
      { text: splitWords(split.by, words), ...token },
      ...(chosen ? [{ text: ' ' }, { text: `(${chosen})`, ...token }] : []),
    ]
  })
}

export function breakdownText(breakdowns: readonly Split[] | undefined, words: Words): string {
  return sentenceText(breakdownParts(breakdowns, words))
}

/**
 * Which groups are kept, where that is not the usual.
 * @param keeps whether how many are kept is this breakdown's choice
 * @param usual the order they stand in when nothing is said of it; null where the order is not this breakdown's choice
 */
export function choiceWords(
  split: Split,
  keeps: boolean,
  usual: Split['order'] | null,
  { full }: Pick<Words, 'full'>,
): string {
  const { keep, cuts, only, order, hideRest, hideNone } = split
  const said: string[] = []
  if (cuts) {
    if ('at' in cuts) said.push(`cut at ${joinWords(cuts.at.map(String), 'and')}`)
    else said.push(`in ${cuts.parts} ranges ${EQUAL_WORDS[cuts.equal]}`)
  }
  if (only) {
    const name = full ? keyWords : groupWords
    said.push(
      full || only.length <= 3
        ? `only ${joinWords(
            only.map((key) => name(key)),
            'and',
          )}`
        : `only ${only.length} chosen`,
    )
  }
  if (keeps && keep !== 10) said.push(`the ${keep} largest`)
  if (usual && order && order !== usual) said.push(order === 'size' ? 'by size' : 'by name')
  if (hideRest) said.push('without the others')
  if (hideNone) said.push('without no value')
  return said.join(', ')
}

/** What the ranges of numbers have in common. */
export const EQUAL_WORDS = { width: 'of equal width', count: 'with equal numbers of events' } as const
