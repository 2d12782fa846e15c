import type { Words } from '../../core/words/words.js'
import type { Question } from '../../core/analyses/registry.js'
import type { AnyMark } from '../../core/questions/study.js'
import { viewOf } from '../analyses/registry.js'
import { PeopleTray } from '../people/PeopleTray.js'

/** The people selected in a study's result. */
export function Tray(props: {
  question: Question
  marks: readonly AnyMark[]
  words: Words
  onMarks: (marks: readonly AnyMark[]) => void
  onAsk: (question: Question) => void
  onClose: () => void
}) {
  const { question, marks, words, onMarks, onAsk, onClose } = props
  const choices = viewOf(question.kind).choices?.(question, marks, words) ?? []
  return (
    <PeopleTray
      people={marks.length > 0 ? { study: question, marks: [...marks] } : null}
      choices={choices.map((choice) => ({
        label: choice.label,
        choose: () => ('mark' in choice ? onMarks([choice.mark]) : onAsk(choice.question)),
      }))}
      onClose={onClose}
    />
  )
}
