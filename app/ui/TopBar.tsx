import Avatar from '@mui/material/Avatar'
import Divider from '@mui/material/Divider'
import IconButton from '@mui/material/IconButton'
import ListSubheader from '@mui/material/ListSubheader'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useColorScheme } from '@mui/material/styles'
import useMediaQuery from '@mui/material/useMediaQuery'
import { useState } from 'react'
import { Link, NavLink, useLocation } from 'react-router'
import { AskField } from './AskField.js'
import { Mark } from './Mark.js'
import { Shortcuts, useShortcuts } from './Shortcuts.js'

const PLACES = [
  { to: '/', label: 'Home' },
  { to: '/studies', label: 'Studies' },
  { to: '/dashboards', label: 'Dashboards' },
  { to: '/people', label: 'People' },
  { to: '/outreach', label: 'Outreach' },
  { to: '/catalog', label: 'Catalog' },
]

/** So many places stand in the bar where it is narrow; the others are under *More*. */
const MOST_NARROW = 4

export function TopBar() {
  const { pathname } = useLocation()
  const [account, setAccount] = useState<HTMLElement | null>(null)
  const isNarrow = useMediaQuery('(max-width: 640px)')
  const [more, setMore] = useState<HTMLElement | null>(null)
  const help = useShortcuts()
  // Whoever has only a link sees the shared page, and no way into the workspace.
  if (pathname.startsWith('/shared/')) return null
  return (
    <header className="top-bar">
      <Link to="/" className="brand" aria-label="Dowser, home">
        <Mark />
        <span>Dowser</span>
      </Link>
      <nav aria-label="Places">
        {PLACES.map(({ to, label }, index) => (
          <NavLink key={to} to={to} end={to === '/'} className={index < MOST_NARROW ? 'place' : 'place late'}>
            {label}
          </NavLink>
        ))}
        {isNarrow && (
          <button
            type="button"
            className="place more-places"
            aria-haspopup="menu"
            onClick={(event) => setMore(event.currentTarget)}
          >
            More
          </button>
        )}
      </nav>
      <Menu anchorEl={more} open={more !== null} onClose={() => setMore(null)}>
        {PLACES.slice(MOST_NARROW).map(({ to, label }) => (
          <MenuItem key={to} component={Link} to={to} onClick={() => setMore(null)}>
            {label}
          </MenuItem>
        ))}
      </Menu>
      <AskField variant="bar" />
      <IconButton
        size="small"
        aria-label="AN: account and settings"
        onClick={(event) => setAccount(event.currentTarget)}
      >
        <Avatar className="avatar">AN</Avatar>
      </IconButton>
      <Menu anchorEl={account} open={account !== null} onClose={() => setAccount(null)}>
        <MenuItem component={Link} to="/import" onClick={() => setAccount(null)}>
          Bring in a file
        </MenuItem>
        <MenuItem component={Link} to="/keys" onClick={() => setAccount(null)}>
          Keys for programs
        </MenuItem>
        <MenuItem component={Link} to="/workspace" onClick={() => setAccount(null)}>
          Workspace: name and calendar
        </MenuItem>
        <MenuItem component={Link} to="/workspace/sessions" onClick={() => setAccount(null)}>
          Sessions: when one ends
        </MenuItem>
        <MenuItem component={Link} to="/asking" onClick={() => setAccount(null)}>
          What can be asked
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAccount(null)
            help.show()
          }}
        >
          Keyboard shortcuts
        </MenuItem>
        <Divider />
        <SchemeItems onChosen={() => setAccount(null)} />
      </Menu>
      <Shortcuts open={help.open} onClose={help.hide} />
    </header>
  )
}

function SchemeItems({ onChosen }: { onChosen: () => void }) {
  const { mode, setMode } = useColorScheme()
  const labels = { light: 'Light', dark: 'Dark', system: 'As the device' } as const
  return (
    <>
      <ListSubheader className="menu-head">Colours</ListSubheader>
      {(['light', 'dark', 'system'] as const).map((name) => (
        <MenuItem
          key={name}
          selected={mode === name}
          onClick={() => {
            setMode(name)
            onChosen()
          }}
        >
          {labels[name]}
        </MenuItem>
      ))}
    </>
  )
}
