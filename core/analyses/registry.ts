import { z } from 'zod'
import type { Fault } from '../questions/faults.js'
import type { Analysis } from './analysis.js'
import { crosstab } from './crosstab/index.js'
import { crosstabSchema, type CrosstabQuestion } from './crosstab/question.js'
import { funnel } from './funnel/index.js'
import { funnelSchema, type FunnelQuestion } from './funnel/question.js'
import { gaps } from './gaps/index.js'
import { gapsSchema, type GapsQuestion } from './gaps/question.js'
import { growth } from './growth/index.js'
import { growthSchema, type GrowthQuestion } from './growth/question.js'
import { habit } from './habit/index.js'
import { habitSchema, type HabitQuestion } from './habit/question.js'
import { overlap } from './overlap/index.js'
import { overlapSchema, type OverlapQuestion } from './overlap/question.js'
import { setQuestionSchema } from './questionSchema.js'
import { retention } from './retention/index.js'
import { retentionSchema, type RetentionQuestion } from './retention/question.js'
import { trend } from './trend/index.js'
import { trendSchema, type TrendQuestion } from './trend/question.js'

/** The kinds of study. A new kind adds a line here, in `Question`, and in the interface's registry. */
export const analyses = { trend, funnel, crosstab, overlap, retention, habit, growth, gaps } as const
export type AnalysisKind = keyof typeof analyses
export type Question =
  | TrendQuestion
  | FunnelQuestion
  | CrosstabQuestion
  | OverlapQuestion
  | RetentionQuestion
  | HabitQuestion
  | GrowthQuestion
  | GapsQuestion
export type Result = ReturnType<(typeof analyses)[AnalysisKind]['finish']>
export type ResultOf<K extends AnalysisKind> = ReturnType<(typeof analyses)[K]['finish']>

/** Any study's definition. */
export const questionSchema: z.ZodType<Question> = z.union([
  trendSchema,
  funnelSchema,
  crosstabSchema,
  overlapSchema,
  retentionSchema,
  habitSchema,
  growthSchema,
  gapsSchema,
])
setQuestionSchema(questionSchema)

/** The analysis of a kind, with its types forgotten: whoever asks gives back what it gave. */
export function analysisOf(kind: AnalysisKind): Analysis<Question, unknown, unknown, Result> {
  return analyses[kind] as unknown as Analysis<Question, unknown, unknown, Result>
}

/** Reads a definition of any kind, keeping what is right in it. */
export function parseQuestion(input: unknown): { question: Question; faults: Fault[] } {
  const kind = (input as { kind?: unknown } | null)?.kind
  if (typeof kind === 'string' && Object.hasOwn(analyses, kind)) return analysisOf(kind as AnalysisKind).parse(input)
  const { question } = trend.parse({})
  const want = `its kind must be one of ${Object.keys(analyses).join(', ')}`
  return { question, faults: [{ path: [], code: 'unreadable', want }] }
}
