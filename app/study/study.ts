import { sentenceText, type Reading, type SentencePart } from '../../core/analyses/analysis.js'
import { funnelCaption, funnelSentence } from '../../core/analyses/funnel/sentence.js'
import type { Question, Result } from '../../core/analyses/registry.js'
import type { Words } from '../../core/words/words.js'
import { trendSentence } from '../../core/analyses/trend/sentence.js'
import type { Fault } from '../../core/questions/faults.js'

/** What a study's page shows. */
export interface StudyData {
  study: { id: string; name: string; description: string; savedMs: number } | null
  question: Question
  /** differs from what is saved */
  edited: boolean
  faults: Fault[]
  result: Result | null
  reading: Reading | null
  version: number
  now: number
  words: Words
  history: { savedMs: number; name: string; question: Question }[]
}

/** The question's sentence, whatever its kind. */
export function sentenceOf(question: Question, words: Words): SentencePart[] {
  return question.kind === 'trend' ? trendSentence(question, words) : funnelSentence(question, words)
}

/** The question as plain text, for heads, titles and captions. */
export function captionOf(question: Question, words: Words): string {
  return question.kind === 'funnel' ? funnelCaption(question, words) : sentenceText(trendSentence(question, words))
}
