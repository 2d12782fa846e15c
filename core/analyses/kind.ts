import type { SentencePart } from '../words/sentence.js'
import type { AnyMark, StudyDefinition } from '../questions/study.js'
import type { SplitRef } from '../questions/split.js'
import type { Rule } from '../segments/rule.js'
import type { Words } from '../words/words.js'

/**
 * What the rest of the program asks of a kind of study beside its numbers: all that pages need to know of a question
 * that they draw no result of. Nothing here reads or checks a definition; that is at the door.
 */
export interface SpokenKind<Question extends StudyDefinition, Mark extends AnyMark> {
  kind: Question['kind']
  name: string
  /** in pieces that can be changed */
  sentence(question: Question, words: Words): SentencePart[]
  /** plain text that stands by itself; left out: the sentence's */
  caption?(question: Question, words: Words): string
  /** when a profile property that makes its groups is read: "when each event happened" */
  readAsOf(question: Question): string
  marks: Marks<Question, Mark>
  /** what its marks count beside people, and can be listed itself */
  lists?: 'sessions' | 'conversions'
  /** what groups are made by, and where in the definition that stands */
  splits(question: Question): PlacedSplit[]
  /** what can be left out of it where it is not known, without changing what the rest counts; left out: nothing can */
  rest?: Rest<Question>
  /** without what only says how the result is drawn; left out: without `show` */
  counted?(question: Question): object
}

/** Parts that stand in lists or by themselves. */
export interface Rest<Question> {
  /** the heads of their paths */
  parts: readonly string[]
  /** the question without those that are wrong; null where nothing would be left */
  without(question: Question, wrong: WrongParts): Question | null
}

/** Exactly how the numbers are counted, with the settings in force. */
export type Explain<Question> = (question: Question, zone: string, words: Words) => string[]

/** The parts of a result that people are read from. */
interface Marks<Question, Mark> {
  kinds: readonly Mark['kind' & keyof Mark][]
  /** who is counted in one, after "who": `did Ride completed in the week of 14 Sep (Annual)` */
  words(study: Question, mark: Mark, words: Words): string
  /** the same, printed beside the study so that it can be read back */
  exact(study: Question, mark: Mark, words: Words): string
  /** those that the definition alone tells */
  places(study: Question, words: Words): Place<Mark>[]
  /** the plain rule that says the same; left out, or null: none does */
  rule?(study: Question, mark: Mark): Rule | null
  /** in a segment, being lost is for good: those who may still go on come in when their time is up */
  forGood?(mark: Mark): Mark
  /** whether its time is one of the study's own, so that it moves on with the study's range */
  timed(mark: Mark): boolean
  /** the study of the same people, drawn in the one way that its marks need */
  plain(study: Question, marks: readonly Mark[]): Question
}

export interface Place<Mark> {
  key: string
  label: string
  value: Mark
}

export interface PlacedSplit {
  by: SplitRef
  path: (string | number)[]
}

/** The heads of paths in which something is not known, each with the places in it. */
export type WrongParts = ReadonlyMap<string, ReadonlySet<number>>

/** What of a list is known. */
export function soundOf<T>(wrong: WrongParts, part: string, list: readonly T[] | undefined): T[] {
  return (list ?? []).filter((_, index) => !wrong.get(part)?.has(index))
}
