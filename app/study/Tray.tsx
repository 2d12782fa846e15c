import { useNavigate } from 'react-router'
import { studyAddress } from '../address/address.js'
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
  /** opens a word of the question */
  onToken: (token: string) => void
  onClose: () => void
}) {
  const { question, marks, words, onMarks, onAsk, onToken, onClose } = props
  const navigate = useNavigate()
  const choices = viewOf(question.kind).choices?.(question, marks, words) ?? []
  return (
    <PeopleTray
      people={marks.length > 0 ? { study: question, marks: [...marks] } : null}
      choices={choices.map((choice) => ({
        label: choice.label,
        choose: () => {
          if ('mark' in choice) onMarks([choice.mark])
          else if ('token' in choice) onToken(choice.token)
          // What another kind answers is a study of its own.
          else if (choice.question.kind !== question.kind) void navigate(studyAddress(choice.question as Question))
          else onAsk(choice.question as Question)
        },
      }))}
      onClose={onClose}
    />
  )
}
