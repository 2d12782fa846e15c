import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { Link } from 'react-router'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { AnalysisKind } from '../../core/analyses/registry.js'
import { amongThem, startingAddress, studyAddress } from '../address/address.js'
import { shownKinds, viewOf } from '../analyses/registry.js'

/** What is asked about some people: the same study among them, or a first one of each kind. */
export function StudyThem({ people }: { people: PeopleRef }) {
  const [at, setAt] = useState<HTMLElement | null>(null)
  const own = 'study' in people ? null : 'trend'
  const kinds = (Object.keys(shownKinds) as AnalysisKind[]).filter((kind) => kind !== own && !viewOf(kind).apart)
  return (
    <>
      <Button variant="outlined" aria-haspopup="menu" onClick={(event) => setAt(event.currentTarget)}>
        Study them
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        <MenuItem component={Link} to={studyAddress(amongThem(people))}>
          {own ? viewOf(own).asks : 'The same study, among them'}
        </MenuItem>
        {kinds.map((kind) => (
          <MenuItem key={kind} component={Link} to={startingAddress(kind, people)}>
            {viewOf(kind).asks}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
