import type { Range } from '../time/range.js'

/**
 * What all kinds of study have in common. Which kinds there are is not known here: people, rules and words are made of
 * studies, and studies are asked among people. The registry reads and checks the rest, at the door.
 */
export interface StudyDefinition {
  kind: string
  /** left out by kinds that are asked as of now only */
  range?: Range | undefined
  /** who is asked; `people.ts` tells what it can be */
  among?: object | undefined
}

/** A part of a study's result that people can be read from; each kind has its own. */
export type AnyMark = { kind: string; [part: string]: unknown }
