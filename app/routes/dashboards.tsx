import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { data, Form, Link, redirect, useActionData } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import { dowser } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/dashboards'

export function loader() {
  return dowser().dashboards.list()
}

export async function action({ request }: Route.ActionArgs) {
  const name = String((await request.formData()).get('name') ?? '').trim()
  if (name === '' || name.length > 120)
    return data({ problem: 'Give the dashboard a name of at most 120 characters.' }, { status: 400 })
  return redirect(`/dashboards/${dowser().dashboards.create({ name, description: '' }, Date.now())}?edit=1`)
}

export const meta = () => [{ title: 'Dashboards · Dowser' }]

export default function Dashboards({ loaderData }: Route.ComponentProps) {
  const done = useActionData<typeof action>()
  const { zone, thisYear } = useWorkspace()
  return (
    <main className="page">
      <div className="page-head">
        <h1 className="question">Dashboards</h1>
        <Form method="post" className="row">
          <TextField
            name="name"
            label="A new dashboard"
            error={done !== undefined}
            helperText={done?.problem}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <Button type="submit" variant="contained">
            Make it
          </Button>
        </Form>
      </div>
      {loaderData.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            Dashboards put studies side by side, with notes, for whoever should see them. Give one a name above, or
            choose “Add to dashboard” on a study.
          </p>
        </section>
      ) : (
        <section className="sheet list">
          <ul>
            {loaderData.map((board) => (
              <li key={board.id}>
                <div className="list-main">
                  <Link to={`/dashboards/${board.id}`} className="list-name">
                    {board.name}
                  </Link>
                  <span className="list-question">{board.description}</span>
                </div>
                <span className="soft">
                  {board.studies} {board.studies === 1 ? 'study' : 'studies'}
                </span>
                <span className="soft list-when">{formatMoment(board.savedMs, zone, thisYear)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  )
}
