import { amongSchema } from '../../core/analyses/peopleSchema.js'
import { rangeSchema } from '../../core/time/rangeSchema.js'
import type { Range } from '../../core/time/range.js'
import { readJson } from '../../core/questions/readJson.js'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Snackbar from '@mui/material/Snackbar'
import TextField from '@mui/material/TextField'
import { lazy, Suspense, useState } from 'react'
import { data, Link, redirect, useFetcher, useNavigate } from 'react-router'
import { z } from 'zod'
import type { Among } from '../../core/analyses/people.js'
import { amongWords, loneSegment } from '../analyses/words.js'
import { capital, formatMoment } from '../../core/words/format.js'
import { rangeWords } from '../../core/words/words.js'
import { readBoard, type CardData } from '../boards/board.server.js'
import { BoardView } from '../boards/BoardView.js'
import { EMPTY_NOTE, noteSchema } from '../boards/note.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { RangeEditor } from '../editors/RangeEditor.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { OptionList } from '../editors/OptionList.js'
import { AmongEditor } from '../segments/AmongEditor.js'
import { ShareDialog } from '../study/dialogs.js'
import { Mounted } from '../ui/Mounted.js'
import { put, useAddress } from '../ui/useAddress.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/dashboard'

const BoardEditor = lazy(() => import('../boards/BoardEditor.js'))
const NoteEditor = lazy(() => import('../boards/NoteEditor.js'))

/** In the address, `null` means: each card its own. Left out means: as the dashboard says. */
function readSet(search: URLSearchParams, saved: { range: Range | null; among: Among | null }) {
  const part = <T,>(name: string, schema: z.ZodType<T>, fallback: T | null): T | null => {
    const text = search.get(name)
    if (text === null) return fallback
    try {
      const parsed = schema.nullable().safeParse(readJson(text))
      return parsed.success ? parsed.data : fallback
    } catch {
      return fallback
    }
  }
  return {
    range: part('range', rangeSchema, saved.range),
    among: part('among', amongSchema, saved.among),
  }
}

export async function loader({ params, request }: Route.LoaderArgs) {
  const saved = orMissing(() => dowser().dashboards.get(params.dashboardId))
  const set = readSet(new URL(request.url).searchParams, saved)
  const board = await readBoard(params.dashboardId, set, request.signal)
  const changed = JSON.stringify([set.range, set.among]) !== JSON.stringify([saved.range, saved.among])
  return { ...board, changed }
}

const place = z.object({ id: z.string(), x: z.int(), y: z.int(), w: z.int(), h: z.int() })
const form = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('move'), places: z.array(place).max(200) }),
  z.object({ intent: z.literal('remove card'), card: z.string() }),
  z.object({ intent: z.literal('restore card'), study: z.string().nullable(), note: z.unknown(), place }),
  z.object({ intent: z.literal('add study'), study: z.string() }),
  z.object({ intent: z.literal('add note'), note: noteSchema }),
  z.object({ intent: z.literal('edit note'), card: z.string(), note: noteSchema }),
  z.object({ intent: z.literal('rename'), name: z.string().trim().min(1).max(120), description: z.string().max(2000) }),
  z.object({
    intent: z.literal('keep'),
    range: rangeSchema.nullable(),
    among: amongSchema.nullable(),
  }),
  z.object({ intent: z.literal('delete') }),
])

export async function action({ params, request }: Route.ActionArgs) {
  const parsed = form.safeParse(readJson(await request.text()))
  if (!parsed.success)
    return data({ problem: 'That could not be kept: something in it is not right.' }, { status: 400 })
  const { dashboards } = dowser()
  const id = params.dashboardId
  const now = Date.now()
  const asked = parsed.data
  return orMissing(() => {
    switch (asked.intent) {
      case 'move':
        dashboards.moveCards(id, asked.places, now)
        break
      case 'remove card':
        dashboards.removeCard(id, asked.card, now)
        break
      case 'restore card':
        dashboards.addCard(
          id,
          asked.study ? { study: asked.study } : { note: noteSchema.parse(asked.note) },
          now,
          asked.place,
        )
        break
      case 'add study':
        dowser().studies.get(asked.study)
        dashboards.addCard(id, { study: asked.study }, now)
        break
      case 'add note':
        dashboards.addCard(id, { note: asked.note }, now)
        break
      case 'edit note':
        dashboards.setNote(id, asked.card, asked.note, now)
        break
      case 'rename':
        dashboards.rename(id, asked.name, asked.description, now)
        break
      case 'keep':
        dashboards.setForAll(id, asked.range, asked.among, now)
        break
      case 'delete':
        dashboards.remove(id)
        return redirect('/dashboards')
    }
    return { done: asked.intent }
  })
}

export const meta = ({ loaderData }: Route.MetaArgs) => [{ title: `${loaderData?.board.name ?? 'Dashboard'} · Dowser` }]

type Open = { what: 'range' | 'among' | 'study'; at: { left: number; top: number } } | null

export default function DashboardRoute({ loaderData }: Route.ComponentProps) {
  const { board, cards, range, among, changed, now, zone, words } = loaderData
  const { studies } = useWorkspace()
  const [search, change] = useAddress()
  const navigate = useNavigate()
  const fetcher = useFetcher<{ done?: string; problem?: string }>()
  const editing = search.get('edit') === '1'
  const [open, setOpen] = useState<Open>(null)
  const [dialogue, setDialogue] = useState<'share' | 'rename' | 'delete' | null>(null)
  const [note, setNote] = useState<{ card: CardData | null } | null>(null)
  const [removed, setRemoved] = useState<CardData | null>(null)

  const send = (values: object) => void fetcher.submit(values as never, { method: 'post', encType: 'application/json' })
  const set = (name: string, value: unknown) => change((next) => put(next, name, JSON.stringify(value)))
  const setEditing = (on: boolean) => change((next) => put(next, 'edit', on ? '1' : null))
  const shown = cards
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/dashboards">Dashboards</Link>
          <span aria-hidden="true">›</span>
          <h1>{board.name}</h1>
          <span className="soft">
            {cards.filter(({ study }) => study).length} studies · as of {formatMoment(now, zone, words.thisYear)}
            {words.leftOut !== undefined && ` · without people of “${words.leftOut}”`}
          </span>
        </nav>
        <div className="page-actions">
          <Button
            variant="outlined"
            aria-haspopup="dialog"
            onClick={(e) => setOpen({ what: 'among', at: placeUnder(e.currentTarget) })}
          >
            {among ? `${loneSegment(among)?.not ? 'Not among' : 'Among'} ${amongWords(among, words)}` : 'All people'} ▾
          </Button>
          <Button
            variant="outlined"
            aria-haspopup="dialog"
            onClick={(e) => setOpen({ what: 'range', at: placeUnder(e.currentTarget) })}
          >
            {range ? capital(rangeWords(range, words).text) : 'Each card its own time'} ▾
          </Button>
          {changed && (
            <>
              <Button onClick={() => send({ intent: 'keep', range, among })}>Keep for everyone</Button>
              <Button onClick={() => void navigate(editing ? '?edit=1' : '.', { preventScrollReset: true })}>
                Back to saved
              </Button>
            </>
          )}
          {editing && (
            <>
              <Button variant="outlined" onClick={(e) => setOpen({ what: 'study', at: placeUnder(e.currentTarget) })}>
                Add a study
              </Button>
              <Button variant="outlined" onClick={() => setNote({ card: null })}>
                Add a note
              </Button>
              <Button onClick={() => setDialogue('rename')}>Rename</Button>
              <Button color="error" onClick={() => setDialogue('delete')}>
                Delete
              </Button>
            </>
          )}
          {!editing && (
            <Button variant="outlined" onClick={() => setDialogue('share')}>
              Share
            </Button>
          )}
          <Button variant="contained" onClick={() => setEditing(!editing)}>
            {editing ? 'Done' : 'Edit'}
          </Button>
        </div>
      </div>
      {shown.length === 0 ? (
        <section className="sheet pad empty">
          <p>This dashboard is empty. Cards show saved studies, or a note in your words.</p>
          <Button variant="contained" onClick={(e) => setOpen({ what: 'study', at: placeUnder(e.currentTarget) })}>
            Add a study
          </Button>
        </section>
      ) : editing ? (
        <Mounted>
          <Suspense>
            <BoardEditor
              cards={shown}
              words={words}
              onMove={(places) => send({ intent: 'move', places })}
              onRemove={(card) => {
                setRemoved(card)
                send({ intent: 'remove card', card: card.id })
              }}
              onEditNote={(card) => setNote({ card })}
            />
          </Suspense>
        </Mounted>
      ) : (
        <BoardView cards={shown} words={words} linked />
      )}
      <TokenPopover
        at={open?.at ?? null}
        label={
          open?.what === 'range'
            ? 'Time for all cards'
            : open?.what === 'among'
              ? 'People for all cards'
              : 'Add a study'
        }
        width={open?.what === 'study' ? 340 : open?.what === 'among' ? 560 : 420}
        onClose={() => setOpen(null)}
      >
        {open?.what === 'range' && (
          <>
            <RangeEditor value={range ?? { last: 12, unit: 'week' }} onChange={(next) => set('range', next)} />
            {range && <Button onClick={() => set('range', null)}>Each card its own time</Button>}
          </>
        )}
        {open?.what === 'among' && (
          <AmongEditor
            value={among ?? undefined}
            everyone="Everyone in every card"
            endTyping={() => {}}
            close={() => setOpen(null)}
            onChange={(next) => set('among', next ?? null)}
          />
        )}
        {open?.what === 'study' && (
          <OptionList
            label="Studies"
            search="Search the saved studies"
            empty="No saved study by that name."
            options={studies.map(({ id, name }) => ({ key: `${name} ${id}`, label: name, value: id }))}
            onChoose={(study) => {
              send({ intent: 'add study', study })
              setOpen(null)
              setEditing(true)
            }}
          />
        )}
      </TokenPopover>
      {note && (
        <Suspense>
          <NoteEditor
            note={note.card?.note ?? EMPTY_NOTE}
            onClose={() => setNote(null)}
            onSave={(text) => {
              send(
                note.card
                  ? { intent: 'edit note', card: note.card.id, note: text }
                  : { intent: 'add note', note: text },
              )
              setNote(null)
            }}
          />
        </Suspense>
      )}
      <ShareDialog open={dialogue === 'share'} kind="dashboard" target={board.id} onClose={() => setDialogue(null)} />
      <RenameDialog
        open={dialogue === 'rename'}
        name={board.name}
        description={board.description}
        onClose={() => setDialogue(null)}
        onSave={(name, description) => {
          send({ intent: 'rename', name, description })
          setDialogue(null)
        }}
      />
      <Dialog open={dialogue === 'delete'} onClose={() => setDialogue(null)} aria-labelledby="delete-title">
        <DialogTitle id="delete-title">Delete “{board.name}”?</DialogTitle>
        <DialogContent>
          <p>Its notes and shared links go with it. The studies stay.</p>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setDialogue(null)}>Do not delete it</Button>
          <Button variant="contained" color="error" onClick={() => send({ intent: 'delete' })}>
            Delete
          </Button>
        </DialogActions>
      </Dialog>
      <Snackbar
        open={removed !== null}
        autoHideDuration={8000}
        onClose={() => setRemoved(null)}
        message="The card was removed."
        action={
          <Button
            color="inherit"
            onClick={() => {
              const { id, x, y, w, h, study, note: text } = removed!
              send({ intent: 'restore card', study: study?.id ?? null, note: text, place: { id, x, y, w, h } })
              setRemoved(null)
            }}
          >
            Undo
          </Button>
        }
      />
    </main>
  )
}

function RenameDialog(props: {
  open: boolean
  name: string
  description: string
  onClose: () => void
  onSave: (name: string, description: string) => void
}) {
  const [name, setName] = useState(props.name)
  const [description, setDescription] = useState(props.description)
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="xs" aria-labelledby="rename-title">
      <DialogTitle id="rename-title">Name of the dashboard</DialogTitle>
      <DialogContent className="stack">
        <TextField
          label="Name"
          value={name}
          margin="dense"
          fullWidth
          error={name.trim() === ''}
          onChange={(e) => setName(e.target.value)}
        />
        <TextField
          label="Description"
          value={description}
          margin="dense"
          fullWidth
          multiline
          minRows={2}
          onChange={(e) => setDescription(e.target.value)}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={props.onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={name.trim() === ''}
          onClick={() => props.onSave(name.trim(), description.trim())}
        >
          Save
        </Button>
      </DialogActions>
    </Dialog>
  )
}
