import Button from '@mui/material/Button'
import { compareWords } from '../../core/words/words.js'
import { useWorkspace } from '../page/workspace.js'
import { DayFields } from './DayFields.js'
import { OptionList } from './OptionList.js'

type To = 'before' | 'week' | 'month' | 'year'
type Own = { from: string; to: string }

/** The time that a result stands beside. */
export function CompareEditor<T extends To>(props: {
  /** which times may be chosen by name */
  choices: readonly T[]
  value: { to: T } | Own | undefined
  /** undefined = compared with nothing */
  onChange: (value: { to: T } | Own | undefined, how: 'choose' | 'type') => void
  close: () => void
  /** opens what stands groups side by side; left out: nothing does */
  onGroups?: (() => void) | undefined
}) {
  const { choices, value, onChange, close, onGroups } = props
  const { words } = useWorkspace()
  const own = value && 'from' in value ? value : null
  const choose = (next: { to: T } | undefined) => {
    onChange(next, 'choose')
    close()
  }
  return (
    <div className="stack">
      <OptionList
        label="Compared with"
        options={choices.map((to) => {
          const label = compareWords({ to }, words)
          return { key: label, label, value: { to }, chosen: !own && value?.to === to }
        })}
        onChoose={choose}
      />
      <fieldset>
        <legend>Or an own time</legend>
        <DayFields from={own?.from ?? ''} to={own?.to ?? ''} onChange={(from, to) => onChange({ from, to }, 'type')} />
      </fieldset>
      {onGroups && (
        <div>
          <Button variant="outlined" onClick={onGroups}>
            Groups of people side by side …
          </Button>
          <p className="hint">Segments, or each value of a property, in place of another time.</p>
        </div>
      )}
      {value && (
        <Button color="error" onClick={() => choose(undefined)}>
          Compare with nothing
        </Button>
      )}
    </div>
  )
}
