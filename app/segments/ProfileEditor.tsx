import Button from '@mui/material/Button'
import { useState } from 'react'
import { operatorsFor, startCondition } from '../../core/filters/operators.js'
import { recorded } from '../../core/questions/named.js'
import type { Condition, PropertyRef } from '../../core/questions/parts.js'
import { ConditionLine, isFinished } from '../editors/FilterEditor.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { useWorkspace } from '../page/workspace.js'
import { useToday } from './useToday.js'

/** Who they are: a property of the person, compared. A condition that compares with nothing yet is handed on to nobody. */
export function ProfileEditor(props: {
  value: Condition | null
  onChange: (where: Condition, how: 'choose' | 'type') => void
}) {
  const { value, onChange } = props
  const { catalog } = useWorkspace()
  const today = useToday().toString()
  const [draft, setDraft] = useState<Condition | null>(value)
  const put = (next: Condition, how: 'choose' | 'type') => {
    setDraft(next)
    if (isFinished(next)) onChange(next, how)
  }
  const kindOf = (property: PropertyRef) =>
    catalog.properties.find((entry) => JSON.stringify(entry.property) === JSON.stringify(recorded(property)))?.kind ??
    'text'
  if (!draft)
    return (
      <PropertyPicker
        events={[]}
        only="person"
        value={value?.property ?? null}
        onChoose={(entry) => put(startCondition(entry.property, operatorsFor(entry.kind)[0], today), 'choose')}
      />
    )
  return (
    <div className="stack">
      <ConditionLine condition={draft} operators={operatorsFor(kindOf(draft.property))} today={today} onChange={put} />
      <div className="row">
        <Button variant="outlined" onClick={() => setDraft(null)}>
          Another property
        </Button>
      </div>
    </div>
  )
}
