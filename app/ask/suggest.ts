import { ask } from '../../core/ask/ask.js'
import { readOutreach, type ReadOutreach } from '../../core/ask/readOutreach.js'
import { complete } from '../../core/ask/complete.js'
import { FILLERS, likeness, tokensOf, wordsOf } from '../../core/ask/tokens.js'
import type { AskReading } from '../../core/ask/understood.js'
import type { Vocabulary } from '../../core/ask/vocabulary.js'
import { ruleWords } from '../../core/segments/words.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import { printedOf } from '../analyses/words.js'
import type { Words } from '../../core/words/words.js'

/** What the question field offers for a typed text. */
export type Suggestion =
  | { kind: 'Study' | 'Dashboard' | 'Outreach'; label: string; to: string }
  | { kind: 'Question'; label: string; reading: AskReading }
  | { kind: 'Goes on as'; label: string }

/** "People who did Signed up and did not do Ride completed": nothing is folded. */
const peopleLabel = (rule: RuleGroup, words: Words): string => `People ${each(rule, words)}`

const each = (rule: RuleGroup, words: Words): string =>
  rule.of
    .map((part) => ('of' in part ? each(part, words) : ruleWords(part, words, () => '')))
    .join(rule.hold === 'any' ? ' or ' : ' and ')

interface Saved {
  id: string
  name: string
}

/**
 * A sentence of what is kept in step, or of a message, leads to a new one like it. Else the readings of the text as a question, the best first; saved studies and dashboards by their names, before them where
 * the text is how such a name begins; and how the text may go on.
 */
export function suggest(
  text: string,
  vocabulary: Vocabulary,
  saved: { studies: readonly Saved[]; dashboards: readonly Saved[]; destinations: readonly Saved[] },
  words: Words,
  firstDayOfWeek: number,
): Suggestion[] {
  if (text.trim() === '') return []
  const outreach = readOutreach(text, vocabulary, saved.destinations)
  if (outreach) return [{ kind: 'Outreach', label: text.trim(), to: outreachAddress(outreach) }]
  const readings = ask(text, vocabulary, firstDayOfWeek).map((reading): Suggestion => ({
    ...{
      kind: 'Question',
      label: reading.question ? printedOf(reading.question, words) : peopleLabel(reading.rule, words),
      reading,
    },
  }))
  const found = [
    ...named(text, saved.studies, 'Study', 'studies'),
    ...named(text, saved.dashboards, 'Dashboard', 'dashboards'),
  ]
  const more = complete(text, vocabulary).map((label): Suggestion => ({ kind: 'Goes on as', label }))
  const isBegun = (each: Suggestion) => each.label.toLowerCase().startsWith(text.trim().toLowerCase())
  return [...found.filter(isBegun), ...readings, ...found.filter((each) => !isBegun(each)), ...more]
}

function outreachAddress(read: ReadOutreach): string {
  const [place, name, found] = 'kept' in read ? ['kept', 'kept', read.kept] : ['messages', 'message', read.message]
  return `/outreach/${place}/new?${name}=${encodeURIComponent(JSON.stringify(found))}`
}

/** Saved things whose names answer to every word typed. */
function named(text: string, list: readonly Saved[], kind: 'Study' | 'Dashboard', place: string): Suggestion[] {
  const typed = tokensOf(text).filter((token) => !FILLERS.has(token.word))
  if (typed.length === 0) return []
  const fit = (name: string) =>
    typed.reduce((sum, token) => sum + Math.max(0, ...wordsOf(name).map((word) => likeness(token, word))), 0) /
    typed.length
  return list
    .map((item) => ({ item, score: fit(item.name) }))
    .filter(({ score }) => score >= 0.9)
    .sort((a, b) => b.score - a.score)
    .slice(0, 3)
    .map(({ item }) => ({ kind, label: item.name, to: `/${place}/${item.id}` }))
}
