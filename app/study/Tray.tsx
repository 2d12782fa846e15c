import type { Words } from '../../core/words/words.js'
import type { Question } from '../../core/analyses/registry.js'
import type { Mark } from '../../core/questions/parts.js'
import { bucketLabel } from '../charts/trendSeries.js'
import { PeopleTray } from '../people/PeopleTray.js'

/** The people selected in a study's result. */
export function Tray(props: {
  question: Question
  marks: readonly Mark[]
  words: Words
  onMarks: (marks: readonly Mark[]) => void
  onAsk: (question: Question) => void
  onClose: () => void
}) {
  const { question, marks, words, onMarks, onAsk, onClose } = props
  const differences = differencesOf(question, marks, words)
  const instead = insteadOf(question, marks)
  return (
    <PeopleTray
      people={marks.length > 0 ? { study: question, marks: [...marks] } : null}
      choices={[
        ...differences.map(({ label, mark }) => ({ label, choose: () => onMarks([mark]) })),
        ...othersOf(marks).map(({ label, mark }) => ({ label, choose: () => onMarks([mark]) })),
        ...(instead ? [{ label: 'What they did instead', choose: () => onAsk(instead) }] : []),
      ]}
      onClose={onClose}
    />
  )
}

/** Two points of one line: who is counted in the one and not in the other. */
function differencesOf(question: Question, marks: readonly Mark[], words: Words): { label: string; mark: Mark }[] {
  const [a, b] = marks
  if (question.kind !== 'trend' || marks.length !== 2 || a.kind !== 'point' || b.kind !== 'point') return []
  const { bucket: first, ...line } = a
  const { bucket: second, ...other } = b
  if (first === undefined || second === undefined || a.before || JSON.stringify(line) !== JSON.stringify(other))
    return []
  const only = (bucket: string, not: string) => ({
    label: `In ${bucketLabel(bucket, question.every, words)}, not ${bucketLabel(not, question.every, words)}`,
    mark: { ...line, bucket, not } as Mark,
  })
  return [only(first, second), only(second, first)]
}

/** Of people who came back in a period: those of them who did not; and the other way round. */
function othersOf(marks: readonly Mark[]): { label: string; mark: Mark }[] {
  const [mark] = marks
  if (marks.length !== 1 || mark.kind !== 'cohort' || mark.period === undefined || mark.what === 'started') return []
  const { period: _period, ...cohort } = mark
  return [
    mark.what === 'returned'
      ? { label: 'Those who did not', mark: { ...mark, what: 'not' } }
      : { label: 'Those who came back', mark: { ...mark, what: 'returned' } },
    // All of a period are those of the cohorts where it is complete: not the same as everybody who started.
    ...(mark.cohort === undefined ? [] : [{ label: 'All who started', mark: { ...cohort, what: 'started' as const } }]),
  ]
}

/** Those lost at a step in the time asked about, or a part of them: the study of what they did instead. */
function insteadOf(question: Question, marks: readonly Mark[]): Question | null {
  const [mark] = marks
  if (question.kind !== 'funnel' || marks.length !== 1 || mark.kind !== 'step' || mark.before) return null
  // Who may still go on has done nothing instead yet.
  if (mark.what !== 'lost' && mark.what !== 'gone') return null
  const whole = mark.group === undefined && mark.bucket === undefined
  return {
    ...question,
    // A part of the lost is asked about by itself.
    ...(whole ? {} : { among: { study: question, marks: [...marks] } }),
    show: { form: 'after', step: mark.step, within: { count: 1, unit: 'hour' } },
  }
}
