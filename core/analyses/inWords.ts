import { ruleWords } from '../segments/words.js'
import type { Words } from '../words/words.js'
import { sentenceText, type SentencePart } from './analysis.js'
import { crosstabSentence, explainCrosstab } from './crosstab/sentence.js'
import type { CrosstabQuestion } from './crosstab/question.js'
import type { FunnelQuestion } from './funnel/question.js'
import { explainFunnel, funnelCaption, funnelSentence } from './funnel/sentence.js'
import type { GapsQuestion } from './gaps/question.js'
import { explainGaps, gapsSentence } from './gaps/sentence.js'
import type { GrowthQuestion } from './growth/question.js'
import { explainGrowth, growthSentence } from './growth/sentence.js'
import type { HabitQuestion } from './habit/question.js'
import { explainHabit, habitSentence } from './habit/sentence.js'
import type { OverlapQuestion } from './overlap/question.js'
import { explainOverlap, overlapSentence } from './overlap/sentence.js'
import { studyClause } from './peopleWords.js'
import type { AnalysisKind, Question } from './registry.js'
import type { RetentionQuestion } from './retention/question.js'
import { explainRetention, retentionSentence } from './retention/sentence.js'
import type { TrendQuestion } from './trend/question.js'
import { explainTrend, trendSentence } from './trend/sentence.js'

/** What a kind of study says about its questions, for pages that draw no result. */
interface InWords<Q> {
  name: string
  /** in pieces that can be changed */
  sentence(question: Q, words: Words): SentencePart[]
  /** plain text that stands by itself; left out: the sentence's */
  caption?(question: Q, words: Words): string
  /** exactly how the numbers are counted, with the settings in force */
  explain(question: Q, zone: string, words: Words): string[]
}

interface Kinds {
  trend: TrendQuestion
  funnel: FunnelQuestion
  crosstab: CrosstabQuestion
  overlap: OverlapQuestion
  retention: RetentionQuestion
  habit: HabitQuestion
  growth: GrowthQuestion
  gaps: GapsQuestion
}

const kinds: { [K in AnalysisKind]: InWords<Kinds[K]> } = {
  trend: { name: 'Trend', sentence: trendSentence, explain: explainTrend },
  funnel: { name: 'Funnel', sentence: funnelSentence, caption: funnelCaption, explain: explainFunnel },
  crosstab: { name: 'Crosstab', sentence: crosstabSentence, explain: explainCrosstab },
  overlap: { name: 'Overlap', sentence: overlapSentence, explain: explainOverlap },
  retention: { name: 'Retention', sentence: retentionSentence, explain: explainRetention },
  habit: { name: 'Habit', sentence: habitSentence, explain: explainHabit },
  growth: { name: 'Growth accounting', sentence: growthSentence, explain: explainGrowth },
  gaps: { name: 'Usage interval', sentence: gapsSentence, explain: explainGaps },
}

const of = (question: Question) => kinds[question.kind] as unknown as InWords<Question>

/** What a kind of study is called. */
export function kindName(kind: AnalysisKind): string {
  return kinds[kind].name
}

/** The question's sentence, whatever its kind. */
export function sentenceOf(question: Question, words: Words): SentencePart[] {
  return of(question).sentence(question, words)
}

/**
 * The question as plain text, for heads, titles, captions and exports: nothing is folded, so that whoever gets a chart
 * reads exactly what it counts, and the question field understands it.
 */
export function printedOf(question: Question, words: Words): string {
  const full: Words = {
    ...words,
    full: true,
    print: (study: Question) => printedOf(study, words),
    printRule: (rule) => ruleWords(rule, full, studyClause),
  }
  const { caption, sentence } = of(question)
  return caption ? caption(question, full) : sentenceText(sentence(question, full))
}

export function explainOf(question: Question, zone: string, words: Words): string[] {
  return of(question).explain(question, zone, words)
}
