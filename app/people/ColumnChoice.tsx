import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { propertyWords, type Words } from '../../core/words/words.js'

/** Which profile properties a list of people shows, and its download has. */
export function ColumnChoice(props: {
  names: readonly string[]
  shown: readonly string[]
  /** address of the list with other columns */
  address: (columns: string[]) => string
  words: Words
}) {
  const { names, shown, address, words } = props
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const navigate = useNavigate()
  const toggle = (name: string) => {
    const next = shown.includes(name) ? shown.filter((other) => other !== name) : [...shown, name]
    void navigate(address(next), { replace: true, preventScrollReset: true })
  }
  return (
    <>
      <Button variant="outlined" onClick={(event) => setAnchor(event.currentTarget)}>
        Columns
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {names.map((name) => (
          <MenuItem key={name} dense onClick={() => toggle(name)}>
            <Checkbox size="small" checked={shown.includes(name)} tabIndex={-1} disableRipple />
            {propertyWords({ of: 'person', name }, words)}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
