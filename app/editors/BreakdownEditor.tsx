import Button from '@mui/material/Button'
import { useState } from 'react'
import type { EventChoice } from '../../core/questions/parts.js'
import type { Breakdown } from '../../core/questions/split.js'
import { propertyWords } from '../../core/words/words.js'
import { NumberField } from './NumberField.js'
import { PropertyPicker } from './PropertyPicker.js'
import { SidesEditor } from '../segments/SidesEditor.js'
import { useWorkspace } from '../page/workspace.js'

/** "For each …": the property, and how many groups are kept. */
export function BreakdownEditor(props: {
  events: readonly EventChoice[]
  value: Breakdown | undefined
  onChange: (breakdown: Breakdown | undefined, how: 'choose' | 'type') => void
  onDone: () => void
}) {
  const { events, value, onChange, onDone } = props
  const { words, segments } = useWorkspace()
  const [sides, setSides] = useState(value?.by.of === 'segments')
  const [choosing, setChoosing] = useState(value === undefined)
  if (sides || value?.by.of === 'segments')
    return (
      <div className="stack">
        <SidesEditor
          value={value?.by.of === 'segments' ? value.by : null}
          onChange={(by) => onChange({ by, keep: 10 }, 'choose')}
        />
        <div className="row">
          {value?.by.of === 'segments' ? (
            <Button
              color="error"
              onClick={() => {
                onChange(undefined, 'choose')
                onDone()
              }}
            >
              Remove
            </Button>
          ) : (
            <Button variant="outlined" onClick={() => setSides(false)}>
              A property
            </Button>
          )}
        </div>
      </div>
    )
  if (choosing || !value)
    return (
      <>
        {segments.length > 0 && (
          <div className="chips split-clocks">
            <Button variant="outlined" onClick={() => setSides(true)}>
              Segments
            </Button>
          </div>
        )}
        <PropertyPicker
          events={events}
          value={value?.by ?? null}
          onChoose={({ property }) => {
            onChange({ by: property, keep: value?.keep ?? 10 }, 'choose')
            onDone()
          }}
        />
      </>
    )
  return (
    <div className="stack">
      <p>
        For each <strong>{propertyWords(value.by, words)}</strong>
      </p>
      <label className="inline-field">
        Keep the
        <NumberField
          label="Groups to keep"
          value={value.keep}
          min={1}
          max={50}
          whole
          width={74}
          onChange={(keep) => onChange({ ...value, keep }, 'type')}
        />
        largest groups
      </label>
      <p className="hint">The others are counted together as Everything else.</p>
      <div className="row">
        <Button variant="outlined" onClick={() => setChoosing(true)}>
          Another property
        </Button>
        <Button
          color="error"
          onClick={() => {
            onChange(undefined, 'choose')
            onDone()
          }}
        >
          Remove
        </Button>
      </div>
    </div>
  )
}
