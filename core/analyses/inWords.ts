import { type SentencePart, sentenceText } from '../words/sentence.js'
import type { StudyDefinition } from '../questions/study.js'
import { ruleWords } from '../segments/words.js'
import type { Words } from '../words/words.js'
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

export function explainOf(question: StudyDefinition, zone: string, words: Words): string[] {
  return kindOf(question.kind).explain(question, zone, words)
}
