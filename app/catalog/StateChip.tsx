import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'

export type ShownState = 'planned' | 'live' | 'deprecated' | 'hidden'

const MEANING: Record<Exclude<ShownState, 'planned'>, string> = {
  live: 'Offered everywhere',
  deprecated: 'Kept, offered behind a switch',
  hidden: 'Kept, offered nowhere',
}

/** The state of an event or property, to be changed where it stands. Planned is what has not arrived: nobody sets it. */
export function StateChip(props: {
  state: ShownState
  merged?: string | null
  label: string
  onChange?: (state: Exclude<ShownState, 'planned'>) => void
}) {
  const { state, merged, label, onChange } = props
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  if (merged) return <span className="state merged">merged</span>
  if (!onChange) return <span className={`state ${state}`}>{state}</span>
  return (
    <>
      <button
        type="button"
        className={`state ${state}`}
        aria-haspopup="menu"
        aria-label={`State of ${label}: ${state}. Change`}
        onClick={(event) => {
          event.stopPropagation()
          setAnchor(event.currentTarget)
        }}
      >
        {state}
      </button>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        onClick={(e) => e.stopPropagation()}
      >
        {(['live', 'deprecated', 'hidden'] as const).map((each) => (
          <MenuItem
            key={each}
            selected={state === each}
            onClick={() => {
              setAnchor(null)
              if (each !== state) onChange(each)
            }}
          >
            <span className={`state ${each}`}>{each}</span>
            <span className="hint menu-note">{MEANING[each]}</span>
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
