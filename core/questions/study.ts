import { z } from 'zod'
import type { Range } from '../time/range.js'

/**
 * What all kinds of study have in common. Which kinds there are is not known here: people, rules and words are made of
 * studies, and studies are asked among people. The registry reads and checks the rest, at the door.
 */
export interface StudyDefinition {
  kind: string
  range: Range
  /** who is asked; `people.ts` tells what it can be */
  among?: object | undefined
}

/** A part of a study's result that people can be read from; each kind has its own. */
export type AnyMark = { kind: string; [part: string]: unknown }

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
