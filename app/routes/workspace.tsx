import Alert from '@mui/material/Alert'
import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { data, Form, useActionData } from 'react-router'
import { z } from 'zod'
import { isLocalDay } from '../../core/time/range.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/workspace'

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

export function loader() {
  const { name, zone, firstDayOfWeek, oldest, leftOut, optOut, webhookHosts } = dowser().settings.get()
  const segments = dowser()
    .segments.list()
    .map(({ id, name }) => ({ id, name }))
  const known = segments.some(({ id }) => id === leftOut) ? leftOut : ''
  return {
    name,
    zone,
    firstDayOfWeek,
    oldest,
    ...{ optOut, webhookHosts: webhookHosts.join(', ') },
    leftOut: known,
    segments,
    zones: ['UTC', ...Intl.supportedValuesOf('timeZone')],
  }
}

const form = z.object({
  name: z.string().trim().min(1, 'Give the workspace a name.').max(100),
  zone: z
    .string()
    .refine(
      (zone) => zone === 'UTC' || Intl.supportedValuesOf('timeZone').includes(zone),
      'Choose a time zone of the list.',
    ),
  firstDayOfWeek: z.coerce.number().int().min(1).max(7),
  oldest: z
    .string()
    .refine((day) => isLocalDay(day) && day >= '1970-01-01', 'Choose a day from 1970 on as the oldest.'),
  leftOut: z.string().max(100),
  optOut: z.string().trim().min(1, 'Say which property tells who wants to be sent nothing.').max(200),
  webhookHosts: z
    .string()
    .max(5000)
    .transform((text) =>
      text
        .toLowerCase()
        .split(/[\s,]+/)
        .filter((host) => host !== ''),
    )
    .refine(
      (hosts) => hosts.length <= 50 && hosts.every((host) => /^[a-z0-9.:[\]-]{1,253}$/.test(host)),
      'Write the names of hosts alone, with commas between: people.example.org, 10.0.0.7.',
    ),
})

export async function action({ request }: Route.ActionArgs) {
  // The first start asks for some of it only.
  const parsed = form.partial().safeParse(Object.fromEntries(await request.formData()))
  if (!parsed.success)
    return data({ problem: parsed.error.issues.map(({ message }) => message).join(' ') }, { status: 400 })
  dowser().settings.set(Object.fromEntries(Object.entries(parsed.data).filter(([, value]) => value !== undefined)))
  return { saved: true }
}

export const meta = () => [{ title: 'Workspace · Dowser' }]

/** What all numbers of the workspace depend on: whose days, and on which day a week begins. */
export default function WorkspaceRoute({ loaderData }: Route.ComponentProps) {
  const { name, zone, firstDayOfWeek, oldest, leftOut, optOut, webhookHosts, segments, zones } = loaderData
  const done = useActionData<typeof action>()
  return (
    <main className="page narrow">
      <h1 className="question">Workspace</h1>
      <section className="sheet pad">
        <Form method="post" className="stack">
          <TextField
            name="name"
            label="Name"
            defaultValue={name}
            required
            slotProps={{ htmlInput: { maxLength: 100 } }}
          />
          <Autocomplete
            options={zones}
            defaultValue={zone}
            disableClearable
            renderInput={(params) => (
              <TextField
                {...params}
                name="zone"
                label="Time zone"
                helperText="Days, weeks and months are cut in this zone, in every study."
              />
            )}
          />
          <TextField select name="firstDayOfWeek" label="A week begins on" defaultValue={firstDayOfWeek}>
            {DAYS.map((day, i) => (
              <MenuItem key={day} value={i + 1}>
                {day}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            type="date"
            name="oldest"
            label="Oldest day of events"
            defaultValue={oldest}
            required
            helperText="Events of before it are refused: a clock that was never set mostly stands in 1970 or 2000."
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: '1970-01-01' } }}
          />
          <TextField
            select
            name="leftOut"
            label="People whom no study counts"
            defaultValue={leftOut}
            helperText={
              segments.length > 0
                ? 'Staff, test accounts, robots: a segment whose people are left out everywhere. Each study says so, and can count them.'
                : 'Staff, test accounts, robots: make a segment of them first.'
            }
          >
            <MenuItem value="">nobody is left out</MenuItem>
            {segments.map((segment) => (
              <MenuItem key={segment.id} value={segment.id}>
                {segment.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            name="optOut"
            label="Profile property of those who want to be sent nothing"
            defaultValue={optOut}
            required
            helperText="Whoever has it, and not as no or false, is kept out of all outreach, whatever segment they are in."
          />
          <TextField
            name="webhookHosts"
            label="Hosts that webhooks may be sent to"
            defaultValue={webhookHosts}
            helperText="Names, with commas between. An address inside your own network must be listed itself. Left empty: only the receiver that ships with Dowser."
          />
          <p className="hint">
            A change holds for all studies at once, also for the past. Dates that came without a time follow at the next
            start of the server.
          </p>
          {done && 'problem' in done && <Alert severity="error">{done.problem}</Alert>}
          {done && 'saved' in done && <Alert severity="success">Saved.</Alert>}
          <div className="row">
            <Button type="submit" variant="contained">
              Save
            </Button>
          </div>
        </Form>
      </section>
    </main>
  )
}
