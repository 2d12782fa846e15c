import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { Link, useFetcher } from 'react-router'
import { useWorkspace } from './workspace.js'

/** Where nothing has arrived yet: whose days are counted, then the ways in which events come. */
export function FirstSteps({ zones, problem }: { zones: readonly string[]; problem: string | null }) {
  const { name, zone } = useWorkspace()
  const fetcher = useFetcher<{ saved?: boolean; problem?: string }>()
  const [chosen, setChosen] = useState(zone)
  // A workspace that was never asked stands in UTC: whoever sits before it mostly wants their own days.
  useEffect(() => {
    const own = Intl.DateTimeFormat().resolvedOptions().timeZone
    if (zone === 'UTC' && zones.includes(own)) setChosen(own)
  }, [zone, zones])
  const demo = useFetcher()
  const saved = fetcher.data?.saved === true
  return (
    <ol className="first-steps">
      <li className="sheet pad">
        <h2>1. What is it, and whose days are they?</h2>
        <fetcher.Form method="post" action="/workspace" className="row wrap">
          <TextField
            name="name"
            label="Name of the workspace"
            defaultValue={name}
            required
            slotProps={{ htmlInput: { maxLength: 100 } }}
          />
          <Autocomplete
            className="first-zone"
            options={zones}
            value={chosen}
            onChange={(_event, value) => setChosen(value)}
            disableClearable
            renderInput={(params) => <TextField {...params} name="zone" label="Time zone" />}
          />
          <Button type="submit" variant="outlined" disabled={fetcher.state !== 'idle'}>
            {saved ? 'Saved' : 'Save'}
          </Button>
        </fetcher.Form>
        {fetcher.data?.problem && <p className="caution">{fetcher.data.problem}</p>}
        <p className="hint">Days, weeks and months are cut in this zone, in every study. It can be changed later.</p>
      </li>
      <li className="sheet pad">
        <h2>2. Bring events</h2>
        <div className="row wrap">
          <Button variant="contained" component={Link} to="/import">
            Bring in a file
          </Button>
          <Button variant="outlined" component={Link} to="/catalog/sending">
            Send a few events
          </Button>
          <demo.Form method="post" action="/ask/demo">
            <Button type="submit" name="do" value="bring" variant="outlined" disabled={demo.state !== 'idle'}>
              Look at the demo first
            </Button>
          </demo.Form>
        </div>
        {problem && <p className="caution">{problem}</p>}
        <p className="hint">
          A file of events, people, or things with dates: you see what it is taken for, and which lines are wrong,
          before anything is kept. Or from a program or a website: a key, a line to copy, and the event is seen
          arriving. Or half a million made-up events of an invented bike-share, with studies and dashboards to look
          round in: they come into this workspace, and go again whole when you say so.
        </p>
      </li>
      <li className="sheet pad">
        <h2>3. Ask</h2>
        <p className="hint">A moment later questions that fit your events stand here, each with its answer.</p>
      </li>
    </ol>
  )
}
