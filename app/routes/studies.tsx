import { readJson } from '../../core/questions/readJson.js'
import AddIcon from '@mui/icons-material/Add'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import ListItemText from '@mui/material/ListItemText'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { data, Link, useFetcher } from 'react-router'
import { z } from 'zod'
import { parseQuestion, type AnalysisKind } from '../../core/analyses/registry.js'
import { formatMoment } from '../../core/words/format.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { shownKinds, viewOf } from '../analyses/registry.js'
import { printedOf, kindName } from '../analyses/words.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/studies'

export function loader() {
  return dowser()
    .studies.list()
    .map((study) => ({ ...study, dashboards: dowser().studies.dashboardsWith(study.id) }))
}

const form = z.object({
  intent: z.enum(['save', 'save new', 'add to dashboard', 'delete']),
  id: z.string().optional(),
  q: z.string().default('null'),
  name: z.string().trim().max(120).default(''),
  description: z.string().max(2000).default(''),
  board: z.string().default('null'),
})
const boardChoice = z.union([z.object({ id: z.string() }), z.object({ name: z.string().trim().min(1).max(120) })])

export async function action({ request }: Route.ActionArgs) {
  const parsed = form.safeParse(Object.fromEntries(await request.formData()))
  if (!parsed.success)
    return data({ problem: 'The study could not be saved: something in the form is missing.' }, { status: 400 })
  const { intent, id, q, name, description, board } = parsed.data
  const { studies, dashboards } = dowser()
  if (intent === 'delete') {
    if (id) studies.remove(id)
    return { deleted: id }
  }
  const { question, faults } = parseQuestion(readJson(q))
  if (faults.length > 0 || name === '')
    return data({ problem: 'The question has a mistake in it: mend what is marked, then save.' }, { status: 422 })
  return orMissing(() => {
    const now = Date.now()
    const study = { name, description, question }
    const saved = id && intent !== 'save new' ? (studies.save(id, study, now), id) : studies.create(study, now)
    if (intent !== 'add to dashboard') return { saved }
    const choice = boardChoice.safeParse(readJson(board))
    if (!choice.success) return data({ problem: 'Choose a dashboard, or give a new one a name.' }, { status: 400 })
    const target =
      'id' in choice.data ? choice.data.id : dashboards.create({ name: choice.data.name, description: '' }, now)
    dashboards.addCard(target, { study: saved }, now)
    return { saved, board: { id: target, name: dashboards.get(target).name } }
  })
}

export const meta = () => [{ title: 'Studies · Dowser' }]

export default function Studies({ loaderData }: Route.ComponentProps) {
  const { zone, thisYear, words } = useWorkspace()
  const fetcher = useFetcher()
  const [menu, setMenu] = useState<HTMLElement | null>(null)
  const [leaving, setLeaving] = useState<(typeof loaderData)[number] | null>(null)
  return (
    <main className="page">
      <div className="page-head">
        <h1 className="question">Studies</h1>
        <div className="page-actions">
          <Button
            variant="contained"
            startIcon={<AddIcon />}
            aria-haspopup="menu"
            onClick={(event) => setMenu(event.currentTarget)}
          >
            New study
          </Button>
          <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
            {(Object.keys(shownKinds) as AnalysisKind[]).map((kind) => (
              <MenuItem key={kind} component={Link} to={`/studies/new?kind=${kind}`}>
                <ListItemText primary={viewOf(kind).name} secondary={viewOf(kind).asks} />
              </MenuItem>
            ))}
          </Menu>
        </div>
      </div>
      {loaderData.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            Saved studies would be here. A new one starts with a result: change its words until it asks what you want to
            know, then save it.
          </p>
          <Button variant="contained" component={Link} to="/studies/new?kind=trend">
            Start with a trend
          </Button>
        </section>
      ) : (
        <section className="sheet list">
          <ul>
            {loaderData.map((study) => (
              <li key={study.id}>
                <div className="list-main">
                  <Link to={`/studies/${study.id}`} className="list-name">
                    {study.name}
                  </Link>
                  <span className="list-question">{printedOf(study.question, words)}</span>
                </div>
                <span className="soft">{kindName(study.question.kind)}</span>
                <span className="soft list-when">{formatMoment(study.savedMs, zone, thisYear)}</span>
                <Button color="error" onClick={() => setLeaving(study)} aria-label={`Delete ${study.name}`}>
                  Delete
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Dialog open={leaving !== null} onClose={() => setLeaving(null)} aria-labelledby="delete-title">
        <DialogTitle id="delete-title">Delete “{leaving?.name}”?</DialogTitle>
        <DialogContent>
          <p>
            {leaving && leaving.dashboards.length > 0
              ? `Its cards on ${leaving.dashboards.map(({ name }) => name).join(', ')} go with it, and so do its shared links.`
              : 'Its shared links stop working. The events it counts stay as they are.'}
          </p>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setLeaving(null)}>Do not delete it</Button>
          <Button
            variant="contained"
            color="error"
            onClick={() => {
              void fetcher.submit({ intent: 'delete', id: leaving!.id }, { method: 'post', action: '/studies' })
              setLeaving(null)
            }}
          >
            Delete
          </Button>
        </DialogActions>
      </Dialog>
    </main>
  )
}
