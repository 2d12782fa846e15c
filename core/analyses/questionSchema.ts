import { z } from 'zod'
import type { Question } from './registry.js'

// Kinds of question hold people, and people are read from questions of any kind: the schema of any kind is asked for
// when it is first needed, and given by the registry, which knows them all.
let schema: z.ZodType<Question> | null = null
export function setQuestionSchema(all: z.ZodType<Question>): void {
  schema = all
}

/** Any study's definition, inside another. */
export const anyQuestion: z.ZodType<Question> = z.lazy(() => schema!)
