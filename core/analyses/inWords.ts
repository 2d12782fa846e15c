import { type SentencePart, sentenceText } from '../words/sentence.js'
import type { StudyDefinition } from '../questions/study.js'
import { ruleWords } from '../segments/words.js'
import { propertiesIn } from '../questions/named.js'
import { recorded } from '../questions/named.js'
import type { PropertyRef } from '../questions/parts.js'
import { joinWords } from '../words/format.js'
import { propertyWords, type Words } from '../words/words.js'
import { kindOf } from './kinds.js'
import { studyClause } from './peopleWords.js'

/** What a kind of study is called. */
export function kindName(kind: string): string {
  return kindOf(kind).name
}

/** The question's sentence, whatever its kind. */
export function sentenceOf(question: StudyDefinition, words: Words): SentencePart[] {
  return kindOf(question.kind).sentence(question, words)
}

/**
 * The question as plain text, for heads, titles, captions and exports: nothing is folded, so that whoever gets a chart
 * reads exactly what it counts, and the question field understands it.
 */
export function printedOf(question: StudyDefinition, words: Words): string {
  const full: Words = {
    ...words,
    full: true,
    print: (study) => printedOf(study, words),
    printRule: (rule) => ruleWords(rule, full, studyClause),
  }
  const kind = kindOf(question.kind)
  return kind.caption ? kind.caption(question, full) : sentenceText(kind.sentence(question, full))
}

/** As of when its profile properties are read, of those whose values change in the course of time. */
export function readWhen(question: StudyDefinition, words: Words): string[] {
  const kind = kindOf(question.kind)
  const read = propertiesIn({ ...question, among: undefined }).filter(
    (ref) => ref.of === 'person' && words.changing?.includes(ref.name),
  )
  const named = (of: readonly PropertyRef[]) =>
    joinWords(
      of.map((ref) => propertyWords(recorded(ref), words)),
      'and',
    )
  const isNow = (ref: PropertyRef) => ref.of === 'person' && ref.now === true
  const grouping = kind.splits(question).map(({ by }) => JSON.stringify(by))
  const groups = read.filter((ref) => !isNow(ref) && grouping.includes(JSON.stringify(ref)))
  const then = read.filter((ref) => !isNow(ref))
  const now = read.filter(isNow)
  return [
    ...(groups.length > 0
      ? [`${named(groups)} changes in the course of time: it is read ${kind.readAsOf(question)}.`]
      : []),
    ...(then.length > groups.length ? [`${named(then)} in a condition: as it was when the event happened.`] : []),
    ...(then.length > 0 ? ['Before its first value was written with a time there is no value.'] : []),
    ...(now.length > 0 ? [`${named(now)} now: the latest value, whatever it was then.`] : []),
  ]
}
