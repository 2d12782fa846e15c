import { knowSchemas } from '../questions/studySchema.js'
import { z } from 'zod'
import type { Fault } from '../questions/faults.js'
import type { AnyMark, StudyDefinition } from '../questions/study.js'
import type { Analysis } from './analysis.js'
import { attribution } from './attribution/index.js'
import { crosstab } from './crosstab/index.js'
import { effect } from './effect/index.js'
import { funnel } from './funnel/index.js'
import { gaps } from './gaps/index.js'
import { growth } from './growth/index.js'
import { habit } from './habit/index.js'
import { knowKinds } from './kinds.js'
import { likelihood } from './likelihood/index.js'
import { overlap } from './overlap/index.js'
import { paths } from './paths/index.js'
import { retention } from './retention/index.js'
import { sessions } from './sessions/index.js'
import { tipping } from './tipping/index.js'
import { trend } from './trend/index.js'

/** The kinds of study. A new kind adds a line here, and one in the interface's registry: all else is read from these. */
export const analyses = {
  trend,
  funnel,
  crosstab,
  overlap,
  retention,
  habit,
  growth,
  gaps,
  paths,
  sessions,
  attribution,
  tipping,
  likelihood,
  effect,
} as const

type Kinds = typeof analyses
export type AnalysisKind = keyof Kinds
export type QuestionOf<K extends AnalysisKind> =
  Kinds[K] extends Analysis<infer Q, infer _M, infer _P, infer _T, infer _R> ? Q : never
export type MarkOf<K extends AnalysisKind> =
  Kinds[K] extends Analysis<infer _Q, infer M, infer _P, infer _T, infer _R> ? M : never
export type ResultOf<K extends AnalysisKind> = ReturnType<Kinds[K]['finish']>
export type Question = { [K in AnalysisKind]: QuestionOf<K> }[AnalysisKind]
export type Mark = { [K in AnalysisKind]: MarkOf<K> }[AnalysisKind]
export type Result = { [K in AnalysisKind]: ResultOf<K> }[AnalysisKind]

type AnyAnalysis = Analysis<Question, AnyMark, unknown, unknown, Result>
/** All of them, with their types forgotten. */
export function allKinds(): readonly AnyAnalysis[] {
  return Object.values(analyses) as unknown as readonly AnyAnalysis[]
}

/** Any study's definition. */
export const questionSchema: z.ZodType<Question> = z.lazy(() => z.union(allKinds().map(({ schema }) => schema)))
/** A mark of any kind of study. */
export const markSchema = z.lazy(() =>
  z.union(allKinds().flatMap(({ markSchemas }) => markSchemas)),
) as unknown as z.ZodType<Mark>
knowSchemas({ study: questionSchema as z.ZodType<StudyDefinition>, mark: markSchema })
knowKinds(analyses)

/** The analysis of a kind, with its types forgotten: whoever asks gives back what it gave. */
export function analysisOf(kind: AnalysisKind): AnyAnalysis {
  return analyses[kind] as unknown as AnyAnalysis
}

/** Reads a definition of any kind, keeping what is right in it. */
export function parseQuestion(input: unknown): { question: Question; faults: Fault[] } {
  const kind = (input as { kind?: unknown } | null)?.kind
  if (typeof kind === 'string' && Object.hasOwn(analyses, kind)) return analysisOf(kind as AnalysisKind).parse(input)
  const { question } = trend.parse({})
  const want = `its kind must be one of ${Object.keys(analyses).join(', ')}`
  return { question, faults: [{ path: [], code: 'unreadable', want }] }
}
