import { z } from 'zod'
import type { StudyDefinition, AnyMark } from './study.js'

interface Schemas {
  study: z.ZodType<StudyDefinition>
  mark: z.ZodType<AnyMark>
}

// The one thing that is handed in from outside rather than imported: definitions hold definitions of any kind, so that a
// schema has to name what only the list of all kinds knows. Asked for when it is first needed, and given by that list.
let known: Schemas | null = null

export function knowSchemas(schemas: Schemas): void {
  known = schemas
}

function given(): Schemas {
  if (!known) throw new Error('no kind of study is known: import the registry first')
  return known
}

/** Any study's definition, inside another. */
export const anyStudy: z.ZodType<StudyDefinition> = z.lazy(() => given().study)

/** A mark of any kind of study. */
export const anyMark: z.ZodType<AnyMark> = z.lazy(() => given().mark)
