import { z } from 'zod'
import { markSchema, type Mark } from '../questions/parts.js'
import type { Question } from './registry.js'

/** People read from the result of a study: those counted in any of the marks. */
export interface PeopleRef {
  study: Question
  marks: Mark[]
}

// The two kinds of question and this refer to each other, so the kinds' schemas are asked for when first needed.
let questionSchema: z.ZodType<Question> | null = null
export function setQuestionSchema(schema: z.ZodType<Question>): void {
  questionSchema = schema
}

/** "among those who …" */
export const amongSchema: z.ZodType<PeopleRef> = z.strictObject({
  study: z.lazy(() => questionSchema!),
  marks: z.array(markSchema).min(1, 'at least one mark').max(500),
})

/** How many studies stand one inside the other: 1 for a study among everybody. */
export function depthOf(question: { among?: PeopleRef | undefined }): number {
  let depth = 1
  for (let at = question.among; at; at = at.study.among) depth++
  return depth
}
