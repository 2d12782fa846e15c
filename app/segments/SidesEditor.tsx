import { sideName } from '../../core/segments/side.js'
import { MOST_SIDES } from '../../core/questions/vocabulary.js'
import { own } from '../../core/names.js'
import CloseIcon from '@mui/icons-material/Close'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import { useState } from 'react'
import type { Side, SidesRef } from '../../core/questions/split.js'
import { useWorkspace } from '../page/workspace.js'
import { SegmentChoice } from './SegmentChoice.js'

/** Segments side by side, each a group; of one segment, its members beside all others. */
export function SidesEditor(props: {
  value: SidesRef | null
  onChange: (sides: SidesRef) => void
  /** at most so many, and at least */
  most?: number
  least?: number
  /** only saved segments, without all others and everybody */
  plain?: boolean
}) {
  const { value, onChange, most = MOST_SIDES, least = 1, plain = false } = props
  const { words } = useWorkspace()
  const [choosing, setChoosing] = useState(value === null)
  const sides = value?.sides ?? []
  const put = (next: Side[]) => onChange({ of: 'segments', sides: next })
  const has = (side: Side) => sides.some((each) => JSON.stringify(each) === JSON.stringify(side))
  const name = (side: Side) => sideName(side, (id) => own(words.segments, id) ?? id)
  if (choosing)
    return (
      <SegmentChoice
        value={null}
        onChoose={(segment) => {
          setChoosing(false)
          const side: Side = { segment }
          if (has(side)) return
          put(sides.length === 0 && !plain ? [side, { segment, not: true }] : [...sides, side])
        }}
      />
    )
  const first = sides.find((side) => 'segment' in side && !side.not)
  const others: Side | null = first && 'segment' in first ? { segment: first.segment, not: true } : null
  return (
    <div className="stack">
      <ul className="sides">
        {sides.map((side, index) => (
          <li key={index}>
            <span>{name(side)}</span>
            {sides.length > least && (
              <IconButton
                size="small"
                aria-label={`Take ${name(side)} away`}
                onClick={() => put(sides.toSpliced(index, 1))}
              >
                <CloseIcon fontSize="small" />
              </IconButton>
            )}
          </li>
        ))}
      </ul>
      <div className="row wrap">
        {sides.length < most && (
          <Button variant="outlined" onClick={() => setChoosing(true)}>
            Another segment
          </Button>
        )}
        {!plain && others && !has(others) && sides.length < most && (
          <Button variant="outlined" onClick={() => put([...sides, others])}>
            {name(others)}
          </Button>
        )}
        {!plain && !has({ everybody: true }) && sides.length < most && (
          <Button variant="outlined" onClick={() => put([...sides, { everybody: true }])}>
            Everybody
          </Button>
        )}
      </div>
      {!plain && <p className="hint">Somebody in several of them counts in each.</p>}
    </div>
  )
}
