import AddIcon from '@mui/icons-material/Add'
import CloseIcon from '@mui/icons-material/Close'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import { useState } from 'react'
import { MOST_BRACKETS } from '../../../core/analyses/retention/question.js'
import { NumberField } from '../../editors/NumberField.js'

type Brackets = [number, number][]

const USUAL: Brackets = [
  [1, 7],
  [8, 30],
  [31, 90],
]

/** Own spans of days after the start, both ends included. */
export function BracketsEditor(props: {
  value: Brackets | undefined
  onChange: (brackets: Brackets | undefined, how: 'choose' | 'type') => void
  close: () => void
}) {
  const { value, onChange, close } = props
  // While the editor is open it has the spans: those that overlap are not part of the question yet.
  const [spans, setSpans] = useState<Brackets>(value ?? USUAL)
  const wrong = spans.findIndex(([low, high], i) => low > high || (i > 0 && low <= spans[i - 1][1]))
  const set = (next: Brackets, how: 'choose' | 'type') => {
    setSpans(next)
    const isRight = next.every(([low, high], i) => low <= high && (i === 0 || low > next[i - 1][1]))
    if (isRight && next.length > 0) onChange(next, how)
  }
  const after = (spans.at(-1)?.[1] ?? -1) + 1
  return (
    <div className="stack">
      <p className="hint">Days after the start, both included. Day 0 is the day of the start.</p>
      {spans.map(([low, high], i) => (
        <div className="row" key={i}>
          <span>Days</span>
          <NumberField
            label={`First day of span ${i + 1}`}
            value={low}
            min={0}
            max={1000}
            whole
            width={76}
            onChange={(first) => set(spans.with(i, [first, high]), 'type')}
          />
          <span>to</span>
          <NumberField
            label={`Last day of span ${i + 1}`}
            value={high}
            min={0}
            max={1000}
            whole
            width={76}
            onChange={(last) => set(spans.with(i, [low, last]), 'type')}
          />
          {spans.length > 1 && (
            <IconButton
              size="small"
              aria-label={`Remove span ${i + 1}`}
              onClick={() => set(spans.toSpliced(i, 1), 'choose')}
            >
              <CloseIcon fontSize="small" />
            </IconButton>
          )}
        </div>
      ))}
      {wrong >= 0 && (
        <p className="hint error" role="alert">
          Span {wrong + 1} must begin after the one before it and not end before it begins.
        </p>
      )}
      <div className="row">
        {spans.length < MOST_BRACKETS && (
          <Button
            size="small"
            startIcon={<AddIcon />}
            onClick={() => set([...spans, [after, Math.min(1000, after + 29)]], 'choose')}
          >
            Another span
          </Button>
        )}
        {!value && (
          <Button
            variant="contained"
            onClick={() => {
              onChange(spans, 'choose')
              close()
            }}
          >
            Use these
          </Button>
        )}
        {value && (
          <Button
            color="error"
            onClick={() => {
              onChange(undefined, 'choose')
              close()
            }}
          >
            Back to equal periods
          </Button>
        )}
      </div>
    </div>
  )
}
