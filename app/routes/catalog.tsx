import Button from '@mui/material/Button'
import ListSubheader from '@mui/material/ListSubheader'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { NavLink, Outlet, Link } from 'react-router'
import { dowser } from '../door/dowser.server.js'
import { formatNumber } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog'

export async function loader() {
  const { events, properties } = await dowser().catalogDetail()
  const { derived, combined } = dowser().mending.get()
  const problems = await dowser().problems()
  return {
    events: events.length,
    eventProperties: properties.filter(({ of }) => of === 'event').length,
    profileProperties: properties.filter(({ of }) => of === 'person').length,
    made: derived.filter(({ channels }) => !channels).length + combined.length,
    channels: derived.filter(({ channels }) => channels).length,
    costs: dowser().costs.list().length,
    problems: problems.length + dowser().aside.groups().length,
  }
}

const DOWNLOADS = [
  { what: 'catalog', label: 'The catalog' },
  { what: 'events', label: 'All events' },
  { what: 'people', label: 'All people' },
]
const FORMATS = [
  { format: 'csv', label: 'CSV' },
  { format: 'jsonl', label: 'JSON Lines' },
  { format: 'parquet', label: 'Parquet' },
]

export const meta = () => [{ title: 'Catalog · Dowser' }]

export default function Catalog({ loaderData }: Route.ComponentProps) {
  const { name } = useWorkspace()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const tabs: { to: string; label: string; count?: number; bad?: boolean }[] = [
    { to: '/catalog', label: 'Events', count: loaderData.events },
    { to: '/catalog/properties', label: 'Event properties', count: loaderData.eventProperties },
    { to: '/catalog/people', label: 'About people', count: loaderData.profileProperties },
    { to: '/catalog/made', label: 'Made here', count: loaderData.made },
    { to: '/catalog/channels', label: 'Channel rules', count: loaderData.channels },
    { to: '/catalog/costs', label: 'Costs', count: loaderData.costs },
    { to: '/catalog/quality', label: 'Quality', count: loaderData.problems, bad: loaderData.problems > 0 },
    { to: '/catalog/live', label: 'Live' },
    { to: '/catalog/sending', label: 'Sending' },
  ]
  return (
    <main className="page">
      <div className="page-head">
        <h1 className="question">What is recorded in {name}</h1>
        <div className="page-actions">
          <Button variant="outlined" component={Link} to="/import">
            Bring in a file
          </Button>
          <Button variant="outlined" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
            Download
          </Button>
          <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
            {DOWNLOADS.map(({ what, label }) => [
              <ListSubheader key={what} className="menu-head">
                {label}
              </ListSubheader>,
              ...FORMATS.map(({ format, label: name }) => (
                <MenuItem
                  key={`${what} ${format}`}
                  component="a"
                  href={`/download/data/${what}.${format}`}
                  download
                  onClick={() => setAnchor(null)}
                >
                  {name}
                </MenuItem>
              )),
            ])}
          </Menu>
          <Button variant="outlined" component={Link} to="/catalog/plan">
            Tracking plan
          </Button>
          <Button variant="contained" component={Link} to="/catalog/plan?new">
            Plan an event
          </Button>
        </div>
      </div>
      <nav className="tabs" aria-label="Parts of the catalog">
        {tabs.map(({ to, label, count, bad }) => (
          <NavLink key={to} to={to} end className="tab">
            {label} {count !== undefined && <span className={bad ? 'loss' : ''}>{formatNumber(count)}</span>}
          </NavLink>
        ))}
      </nav>
      <Outlet />
    </main>
  )
}
