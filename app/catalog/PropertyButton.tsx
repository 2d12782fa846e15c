import Button from '@mui/material/Button'
import { useState } from 'react'
import type { PropertyRef } from '../../core/questions/parts.js'
import { propertyWords } from '../../core/words/words.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useWorkspace } from '../page/workspace.js'

const ANY = [{ activity: true }] as const

/** A property that is chosen from the list of all there are. */
export function PropertyButton(props: {
  label: string
  value: PropertyRef | null
  only?: 'person' | 'event' | undefined
  onChange: (property: PropertyRef) => void
}) {
  const { label, value, only, onChange } = props
  const { words } = useWorkspace()
  const [at, setAt] = useState<{ left: number; top: number } | null>(null)
  return (
    <>
      <Button
        variant="outlined"
        className="property-button"
        aria-haspopup="dialog"
        aria-label={`${label}: ${value ? propertyWords(value, words) : 'choose a property'}`}
        onClick={(event) => setAt(placeUnder(event.currentTarget))}
      >
        {value ? propertyWords(value, words) : 'Choose a property'} ▾
      </Button>
      <TokenPopover at={at} label={label} onClose={() => setAt(null)}>
        <PropertyPicker
          events={ANY}
          value={value}
          {...(only ? { only } : {})}
          onChoose={({ property }) => {
            setAt(null)
            onChange(property)
          }}
        />
      </TokenPopover>
    </>
  )
}
