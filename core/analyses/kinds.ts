import { own } from '../names.js'
import type { AnyMark, StudyDefinition } from '../questions/study.js'
import type { SpokenKind } from './kind.js'

type AnyKind = SpokenKind<StudyDefinition, AnyMark>

// Sentences hold sentences of any kind, so that a kind's words lead back to the list of all kinds: it is handed in, once,
// by that list. Pages hand in the part of it that they need.
let known: Readonly<Record<string, AnyKind>> | null = null
export function knowKinds(kinds: Readonly<Record<string, unknown>>): void {
  known = kinds as Readonly<Record<string, AnyKind>>
}

/** What is said and asked of a kind of study. A definition and its marks were checked when they were read. */
export function kindOf(kind: string): AnyKind {
  const found = own(known ?? undefined, kind)
  if (!found)
    throw new Error(known ? `no kind of study is called ${kind}` : 'no kind is known: import a registry first')
  return found
}

/** Of a study within another: whether its kind is known at all. */
export function isKind(kind: string): boolean {
  return known !== null && Object.hasOwn(known, kind)
}
