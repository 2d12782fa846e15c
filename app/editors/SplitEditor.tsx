import { isClock } from '../../core/questions/groupedBy.js'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { recorded } from '../../core/questions/named.js'
import type { EventChoice, ValueKey } from '../../core/questions/parts.js'
import { WhenField } from './WhenField.js'
import type { Cuts, Split } from '../../core/questions/split.js'
import { groupWords, splitWords } from '../../core/words/words.js'
import { NumberField } from './NumberField.js'
import { PropertyPicker } from './PropertyPicker.js'
import { SidesEditor } from '../segments/SidesEditor.js'
import { useWorkspace } from '../page/workspace.js'

const CLOCKS: { by: Split['by']; label: string; keep: number }[] = [
  { by: { of: 'weekday' }, label: 'Day of week', keep: 10 },
  { by: { of: 'hour' }, label: 'Hour of day', keep: 24 },
]

/** "For each …": by what, how many groups, which, in what order, and numbers cut into ranges. */
export function SplitEditor(props: {
  events: readonly EventChoice[]
  value: Split | undefined
  /** whether this is the first breakdown, whose number of groups holds for all */
  first: boolean
  /** there must be one: it can be changed and not removed */
  needed?: boolean
  /** the groups that the result has now, to choose from */
  found: readonly ValueKey[]
  onChange: (split: Split | undefined, how: 'choose' | 'type') => void
  onDone: () => void
  /** groups are made of people only: by what is known of them, and by segments */
  people?: true | undefined
  /** makes the groups the hours of the week; left out where there are other breakdowns */
  onWeek?: (() => void) | undefined
}) {
  const { events, value, first, needed = false, found, people, onChange, onDone, onWeek } = props
  const { words, catalog, segments } = useWorkspace()
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
          {sides && value?.by.of !== 'segments' && (
            <Button variant="outlined" onClick={() => setSides(false)}>
              Another property
            </Button>
          )}
          {value && !needed && (
            <Button
              color="error"
              onClick={() => {
                onChange(undefined, 'choose')
                onDone()
              }}
            >
              Remove
            </Button>
          )}
        </div>
      </div>
    )
  if (choosing || !value)
    return (
      <>
        <div className="chips split-clocks">
          {onWeek && (
            <Button
              variant="outlined"
              onClick={() => {
                onWeek()
                onDone()
              }}
            >
              Hours of the week
            </Button>
          )}
          {segments.length > 0 && (
            <Button variant="outlined" onClick={() => setSides(true)}>
              Segments
            </Button>
          )}
          {(people ? [] : CLOCKS).map(({ by, label, keep }) => (
            <Button
              key={label}
              variant="outlined"
              onClick={() => {
                onChange({ by, keep }, 'choose')
                onDone()
              }}
            >
              {label}
            </Button>
          ))}
        </div>
        <PropertyPicker
          events={events}
          value={value && !isClock(value.by) ? value.by : null}
          {...(people ? { only: 'person' as const } : {})}
          onChoose={({ property, kind }) => {
            const cuts: { cuts?: Cuts } = kind === 'number' ? { cuts: { equal: 'count', parts: 5 } } : {}
            onChange({ by: property, keep: value?.keep ?? 10, ...cuts }, 'choose')
            onDone()
          }}
        />
      </>
    )
  const { cuts, only, hideRest, hideNone, order, ...rest } = value
  const put = (
    more: Partial<Record<'cuts' | 'only' | 'hideRest' | 'hideNone' | 'order', unknown>>,
    how: 'choose' | 'type' = 'choose',
  ) => {
    const next = { cuts, only, hideRest, hideNone, order, ...more }
    const kept = Object.fromEntries(Object.entries(next).filter(([, x]) => x !== undefined && x !== false))
    onChange({ ...rest, ...kept } as Split, how)
  }
  const { by } = value
  const property = isClock(by) ? null : by
  const key = property && JSON.stringify(recorded(property))
  const isNumber = catalog.properties.some(
    ({ property, kind }) => kind === 'number' && JSON.stringify(property) === key,
  )
  return (
    <div className="stack">
      <p>
        For each <strong>{splitWords(value.by, words)}</strong>
      </p>
      {property && <WhenField property={property} onChange={(next) => onChange({ ...value, by: next }, 'choose')} />}
      {isNumber && <CutsField value={cuts} onChange={(next, how) => put({ cuts: next, only: undefined }, how)} />}
      {first && (
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
      )}
      {!cuts && !isClock(value.by) && found.length > 0 && (
        <details className="group-choice" open={only !== undefined}>
          <summary>{only ? `Only ${only.length} chosen` : 'Choose which ones'}</summary>
          <div className="check-list">
            {unionOf(found, only ?? []).map((group) => {
              const id = JSON.stringify(group)
              const isIn = !only || only.some((each) => JSON.stringify(each) === id)
              return (
                <label key={id}>
                  <input
                    type="checkbox"
                    checked={isIn}
                    onChange={() => {
                      const had = only ?? [...found]
                      const next = isIn ? had.filter((each) => JSON.stringify(each) !== id) : [...had, group]
                      put({ only: next.length > 0 ? next : undefined })
                    }}
                  />
                  {groupWords(group)}
                </label>
              )
            })}
          </div>
          {only && (
            <Button size="small" onClick={() => put({ only: undefined })}>
              All of them
            </Button>
          )}
        </details>
      )}
      {first && (
        <label className="inline-field">
          Order
          <Select
            value={order ?? (isClock(value.by) || cuts ? 'name' : 'size')}
            aria-label="Order of the groups"
            onChange={(event) => put({ order: event.target.value })}
          >
            <MenuItem value="size">largest first</MenuItem>
            <MenuItem value="name">
              {isClock(value.by) ? 'as in the week or day' : cuts ? 'from low to high' : 'by name'}
            </MenuItem>
          </Select>
        </label>
      )}
      <FormControlLabel
        control={<Switch size="small" checked={!hideRest} onChange={(_e, on) => put({ hideRest: !on })} />}
        label="Show everything else"
      />
      {!isClock(value.by) && (
        <FormControlLabel
          control={<Switch size="small" checked={!hideNone} onChange={(_e, on) => put({ hideNone: !on })} />}
          label="Show what has no value"
        />
      )}
      <div className="row">
        <Button variant="outlined" onClick={() => setChoosing(true)}>
          Another property
        </Button>
        {!needed && (
          <Button
            color="error"
            onClick={() => {
              onChange(undefined, 'choose')
              onDone()
            }}
          >
            Remove
          </Button>
        )}
      </div>
    </div>
  )
}

function unionOf(found: readonly ValueKey[], only: readonly ValueKey[]): ValueKey[] {
  const ids = new Set(found.map((key) => JSON.stringify(key)))
  return [...found, ...only.filter((key) => !ids.has(JSON.stringify(key)))]
}

/** How numbers are cut into ranges: not at all, into equal parts, or at own points. */
function CutsField(props: {
  value: Cuts | undefined
  onChange: (cuts: Cuts | undefined, how: 'choose' | 'type') => void
}) {
  const { value, onChange } = props
  const kind = !value ? 'none' : 'at' in value ? 'own' : value.equal
  const [text, setText] = useState(value && 'at' in value ? value.at.join(', ') : '')
  const own = readPoints(text)
  return (
    <div className="stack">
      <label className="inline-field">
        Numbers
        <Select
          value={kind}
          aria-label="How numbers are cut into ranges"
          onChange={(event) => {
            const chosen = event.target.value
            const parts = value && 'parts' in value ? value.parts : 5
            if (chosen === 'none') onChange(undefined, 'choose')
            else if (chosen === 'own') onChange({ at: own ?? [0] }, 'choose')
            else onChange({ equal: chosen as 'width' | 'count', parts }, 'choose')
          }}
        >
          <MenuItem value="none">each by itself</MenuItem>
          <MenuItem value="width">in ranges of equal width</MenuItem>
          <MenuItem value="count">in ranges with equal numbers of events</MenuItem>
          <MenuItem value="own">cut at my own points</MenuItem>
        </Select>
      </label>
      {value && 'parts' in value && (
        <label className="inline-field">
          into
          <NumberField
            label="How many ranges"
            value={value.parts}
            min={2}
            max={50}
            whole
            width={74}
            onChange={(parts) => onChange({ ...value, parts }, 'type')}
          />
          ranges
        </label>
      )}
      {value && 'parts' in value && value.equal === 'count' && (
        <p className="hint">
          Events with the same number stay together: where many share one, the ranges hold unequal numbers, or there are
          fewer of them.
        </p>
      )}
      {kind === 'own' && (
        <TextField
          value={text}
          label="Cut points"
          placeholder="10, 20, 60"
          error={text !== '' && own === null}
          helperText={
            text !== '' && own === null ? 'Numbers that rise, with commas between' : 'A range holds its lower end'
          }
          onChange={(event) => {
            setText(event.target.value)
            const at = readPoints(event.target.value)
            if (at) onChange({ at }, 'type')
          }}
        />
      )}
    </div>
  )
}

function readPoints(text: string): number[] | null {
  const at = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number)
  const rising = at.every((x, i) => Number.isFinite(x) && (i === 0 || x > at[i - 1]))
  return at.length > 0 && at.length < 50 && rising ? at : null
}
