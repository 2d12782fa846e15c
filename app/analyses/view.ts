import type { ComponentType, LazyExoticComponent, ReactNode } from 'react'
import type { Explain, SpokenKind } from '../../core/analyses/kind.js'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { AnyMark, StudyDefinition } from '../../core/questions/study.js'
import type { Words } from '../../core/words/words.js'
import { deferred } from '../page/deferred.js'
import type { AnnotationDraft } from '../study/AnnotationDialog.js'
import type { Leads } from './leads.js'

export interface BodyProps<Question, Result, Mark = AnyMark> {
  question: Question
  result: Result
  words: Words
  /** left out: the study is only read */
  edit?: (question: Question, how?: 'choose' | 'type') => void
  selected: readonly Mark[]
  /** left out: people cannot be read from it */
  onSelect?: (mark: Mark, add: boolean) => void
  /** opens a dated note, new or old; left out: notes are only read */
  onAnnotate?: (draft: AnnotationDraft) => void
}

export interface EditorProps<Question, Result = unknown> {
  token: string
  question: Question
  /** of the question as it was last answered */
  result: Result | null
  edit: (question: Question, how?: 'choose' | 'type') => void
  close: () => void
  /** opens another word of the question in place of this one */
  open?: (token: string) => void
}

/** The pictures and table of a kind of study: fetched when a study of it is first shown. */
export interface KindView<Question, Result, Mark = AnyMark> {
  Body: ComponentType<BodyProps<Question, Result, Mark>>
  /** the table beneath; null where the body is the table */
  Numbers: ComponentType<BodyProps<Question, Result, Mark>> | null
  /** what is edited in the picture, where there is no answer; left out: nothing is */
  Empty?: ComponentType<Pick<BodyProps<Question, Result>, 'question' | 'words' | 'edit'>>
}

/** A selection that leads to another, or to another study. */
export type Choice<Question, Mark> = { label: string } & (
  | { mark: Mark }
  /** of this kind or any other */
  | { question: Question | StudyDefinition }
  /** who they are, beside everybody or beside others */
  | { people: PeopleRef; beside: PeopleRef | null }
  /** the word of the question that it opens */
  | { token: string }
)

/** What a selection leads to. */
export type Choosing<Question, Mark> = (
  question: Question,
  marks: readonly Mark[],
  words: Words,
) => Choice<Question, Mark>[]

interface Shown<Question extends StudyDefinition, Mark extends AnyMark, Result> extends SpokenKind<Question, Mark> {
  /** what it is for, as one would ask it */
  asks: string
  /** its question heads a card on Home; with how many looks, where it is not the usual three; left out: it stands on the card before it */
  home?: true | { looks: number }
  /** it is not about events, and no other kind is made of it */
  apart?: true
  /** what its answer looks like in little, within 140 × 34 */
  glyph?: ReactNode
  /** the table stands under the chart, and what it says beside both */
  compact?: true
  /** the body is the table, and takes the whole width */
  wide?: true
  /** its picture is not drawn on a canvas, and cannot be had as SVG */
  noSvg?: true
  /** what is not yet part of the question */
  additions(question: Question): { token: string; label: string }[]
  /** what the selected parts of a result lead to */
  choices?(): Promise<Choosing<Question, Mark>>
  load(): Promise<KindView<Question, Result, Mark>>
  /** how its numbers are counted */
  explain(): Promise<Explain<Question>>
  /** what the words of its sentence open */
  editor(): Promise<ComponentType<EditorProps<Question, Result>>>
  leads(): Promise<Leads<Question, Result>>
}

type Lazy<Props> = LazyExoticComponent<ComponentType<Props>>

/** All that the interface adds to a kind of study. Typed by whoever asks with a question and a result of its own. */
export interface ShownKind<Question extends StudyDefinition, Mark extends AnyMark, Result> extends Shown<
  Question,
  Mark,
  Result
> {
  Body: Lazy<BodyProps<Question, Result, Mark>>
  Numbers: Lazy<BodyProps<Question, Result, Mark>> | null
  Editor: Lazy<EditorProps<Question, Result>> & { ready: () => Promise<unknown> }
  Empty: Lazy<Pick<BodyProps<Question, Result>, 'question' | 'words' | 'edit'>>
  /** fetches its picture and table */
  ready(): Promise<unknown>
}

/** @param parts what is known of a kind before its pictures are fetched */
export function shownKind<Question extends StudyDefinition, Mark extends AnyMark, Result>(
  parts: Shown<Question, Mark, Result>,
): ShownKind<Question, Mark, Result> {
  const later = <Props>(part: (view: KindView<Question, Result, Mark>) => ComponentType<Props> | null | undefined) =>
    deferred<Props>(async () => part(await parts.load()) ?? Nothing)
  const Body = later(({ Body: shown }) => shown)
  const Numbers = parts.wide ? null : later(({ Numbers: shown }) => shown)
  return {
    ...parts,
    ...{ Body, Numbers },
    Editor: deferred(() => parts.editor()),
    Empty: later(({ Empty }) => Empty),
    ready: () => Promise.all([Body.ready(), Numbers?.ready()]),
  }
}

const Nothing = () => null
