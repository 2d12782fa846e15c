import { Suspense } from 'react'
import type { Question } from '../../core/analyses/registry.js'
import type { AnyMark } from '../../core/questions/study.js'
import type { Words } from '../../core/words/words.js'
import { deferred } from '../page/deferred.js'
import { PeopleTray } from '../people/PeopleTray.js'

const TrayChoices = deferred(async () => (await import('./TrayChoices.js')).TrayChoices)

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
  const { question, marks, onClose } = props
  return (
    <PeopleTray
      people={marks.length > 0 ? { study: question, marks: [...marks] } : null}
      first={
        <Suspense>
          <TrayChoices {...props} />
        </Suspense>
      }
      onClose={onClose}
    />
  )
}
