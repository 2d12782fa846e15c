import type { Words } from '../../core/words/words.js'
import CloseIcon from '@mui/icons-material/Close'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import { useEffect } from 'react'
import { Link, useFetcher } from 'react-router'
import { peopleWords } from '../../core/analyses/peopleWords.js'
import type { Question } from '../../core/analyses/registry.js'
import type { Mark } from '../../core/questions/parts.js'
import { countOf } from '../../core/words/format.js'
import { amongThem, selectionParams, studyAddress } from '../address.js'
import { bucketLabel } from '../charts/trendSeries.js'
import { isTyping } from '../ui/Shortcuts.js'

/** Rises when something is selected: how many people, who they are, and what can be done with them. */
export function Tray(props: {
  question: Question
  marks: readonly Mark[]
  words: Words
  onMarks: (marks: readonly Mark[]) => void
  onClose: () => void
}) {
  const { question, marks, words, onMarks, onClose } = props
  const fetcher = useFetcher<{ count: number } | { problem: string }>()
  const params = selectionParams(question, marks)
  const { load } = fetcher
  useEffect(() => {
    if (marks.length > 0) void load(`/ask/selection?${params}`)
  }, [load, params, marks.length])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !isTyping(event) && !document.querySelector('.MuiPopover-root, .MuiDialog-root'))
        onClose()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [onClose])
  if (marks.length === 0) return null
  const { data } = fetcher
  const differences = differencesOf(question, marks, words)
  const known = data && 'count' in data ? data.count : null
  return (
    <section className="tray" aria-label="Selected people">
      <p aria-live="polite" className={fetcher.state === 'loading' ? 'dimmed' : ''}>
        <strong>
          {known === null
            ? data && 'problem' in data
              ? data.problem
              : 'Counting …'
            : countOf(known, 'person', 'people')}
        </strong>
        <span> · {peopleWords({ study: question, marks: [...marks] }, words)}</span>
      </p>
      <div className="tray-actions">
        {differences.map(({ label, mark }) => (
          <Button key={label} onClick={() => onMarks([mark])}>
            {label}
          </Button>
        ))}
        <Button component={Link} to={`/people?${params}`}>
          See them
        </Button>
        <Button component={Link} to={studyAddress(amongThem(question, marks))}>
          Study them
        </Button>
        <Button component="a" href={`/download/people.csv?${params}`} download>
          Download list
        </Button>
        <IconButton size="small" aria-label="Let the selection go" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </div>
    </section>
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
