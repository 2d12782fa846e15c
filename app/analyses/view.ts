import type { Words } from '../../core/words/words.js'
import type { ComponentType } from 'react'
import type { AnnotationDraft } from '../study/AnnotationDialog.js'
import type { Mark } from '../../core/questions/parts.js'

export interface BodyProps<Question, Result> {
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
}

/** What the interface adds to a kind of study: its chart, its table, and the editors of its tokens. */
export interface AnalysisView<Question, Result> {
  name: string
  Body: ComponentType<BodyProps<Question, Result>>
  /** the table beneath; null where the body is the table, and takes the whole width */
  Numbers: ComponentType<BodyProps<Question, Result>> | null
  /** the table stands under the chart, and what it says beside both */
  compact?: true
  Editor: ComponentType<EditorProps<Question, Result>>
  /** what is not yet part of the question */
  additions(question: Question): { token: string; label: string }[]
}
