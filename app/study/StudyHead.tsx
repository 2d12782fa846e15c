import { deferred } from '../page/deferred.js'
import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Snackbar from '@mui/material/Snackbar'
import { Suspense, useEffect, useState } from 'react'
import { Link, useFetcher, useNavigate } from 'react-router'
import type { Question } from '../../core/analyses/registry.js'
import { UndoRedo } from '../editors/UndoRedo.js'
import { formatMoment } from '../../core/words/format.js'
import { questionParam } from '../address/address.js'
import { viewOf } from '../analyses/registry.js'
import type { useEditing } from '../editors/useEditing.js'
import { isTyping } from '../ui/Shortcuts.js'
import { useWorkspace } from '../page/workspace.js'
import { printedOf } from '../analyses/words.js'
import type { StudyData } from './study.js'

// What is opened by a press comes with it.
const dialogs = () => import('./dialogs.js')
const SaveDialog = deferred(async () => (await dialogs()).SaveDialog)
const BoardDialog = deferred(async () => (await dialogs()).BoardDialog)
const ShareDialog = deferred(async () => (await dialogs()).ShareDialog)

interface HeadProps {
  data: StudyData
  question: Question
  sheet: React.RefObject<HTMLDivElement | null>
  editing: Pick<ReturnType<typeof useEditing>, 'undo' | 'redo' | 'canUndo' | 'canRedo'>
}

type Dialogue = 'save' | 'board' | 'share' | null

/** Name and state of a study, and what can be done with it: undo, save, share, take out. */
export function StudyHead({ data, question, sheet, editing }: HeadProps) {
  const { study, edited, history } = data
  const { zone, thisYear, words } = useWorkspace()
  const navigate = useNavigate()
  const fetcher = useFetcher<{ saved?: string; board?: { id: string; name: string }; problem?: string }>()
  const [dialogue, setDialogue] = useState<Dialogue>(null)
  const [everOpened, setEverOpened] = useState(false)
  const openDialogue = (which: Dialogue) => {
    setEverOpened(true)
    setDialogue(which)
  }
  const [menu, setMenu] = useState<{ kind: 'history' | 'download'; anchor: HTMLElement } | null>(null)
  const [told, setTold] = useState<{ text: string; to?: string } | null>(null)
  const { name: kindName, noSvg } = viewOf(data.question.kind)
  const name = study?.name ?? `New ${kindName.toLowerCase()}`
  const unsaved = !study || edited

  const submit = (values: Record<string, string>) => {
    const id: Record<string, string> = study ? { id: study.id } : {}
    void fetcher.submit({ q: JSON.stringify(question), ...id, ...values }, { method: 'post', action: '/studies' })
  }
  // After a save the address is the study's own, without the definition.
  useEffect(() => {
    const { data: done } = fetcher
    if (!done || fetcher.state !== 'idle') return
    if (done.problem) return setTold({ text: done.problem })
    if (done.board) setTold({ text: `Added to ${done.board.name}.`, to: `/dashboards/${done.board.id}` })
    else if (done.saved) setTold({ text: 'Saved.' })
    if (done.saved) {
      void navigate(`/studies/${done.saved}`, { replace: true, preventScrollReset: true })
    }
  }, [fetcher.data, fetcher.state, navigate, fetcher])

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.altKey) return
      const withControl = event.ctrlKey || event.metaKey
      if (event.key === 's' && !event.shiftKey) {
        if (withControl) event.preventDefault()
        openDialogue('save')
      }
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])

  const picture = async () => {
    setMenu(null)
    if (!sheet.current) return
    try {
      const { toPng } = await import('html-to-image')
      const background = getComputedStyle(document.body).getPropertyValue('--sheet')
      const url = await toPng(sheet.current, { pixelRatio: 2, backgroundColor: background, skipFonts: false })
      const link = document.createElement('a')
      link.href = url
      link.download = `${name}.png`
      link.click()
    } catch {
      setTold({ text: 'The picture could not be made. The table can still be downloaded.' })
    }
  }
  const asSvg = async () => {
    setMenu(null)
    const canvas = sheet.current?.querySelector('canvas')
    try {
      const picture = sheet.current?.querySelector<SVGSVGElement>('svg[data-picture]')
      const title = printedOf(data.question, words)
      const svg = picture
        ? (await import('../charts/pictureSvg.js')).pictureSvg(picture, title)
        : canvas && (await import('../charts/chartSvg.js')).chartSvg(canvas, title)
      if (!svg) throw new Error('there is no chart')
      const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }))
      const link = document.createElement('a')
      link.href = url
      link.download = `${name}.svg`
      link.click()
      URL.revokeObjectURL(url)
    } catch {
      setTold({ text: 'This form has no drawn picture: choose another form, or download it as PNG.' })
    }
  }
  const addressed = (question: Question) => new URLSearchParams({ q: JSON.stringify(question), name }).toString()
  return (
    <div className="page-head">
      <nav className="crumbs" aria-label="Breadcrumbs">
        <Link to="/studies">Studies</Link>
        <span aria-hidden="true">›</span>
        <strong>{name}</strong>
        {study && (
          <span className="soft">
            {edited ? 'changed, not saved' : `saved ${formatMoment(study.savedMs, zone, thisYear)}`}
          </span>
        )}
        {!study && <span className="soft">not saved yet</span>}
      </nav>
      <div className="page-actions">
        <UndoRedo undo={editing.undo} redo={editing.redo} canUndo={editing.canUndo} canRedo={editing.canRedo} />
        {history.length > 1 && (
          <Button onClick={(event) => setMenu({ kind: 'history', anchor: event.currentTarget })}>History</Button>
        )}
        <Button onClick={(event) => setMenu({ kind: 'download', anchor: event.currentTarget })}>Download</Button>
        <Button variant="outlined" onClick={() => openDialogue('board')}>
          Add to dashboard
        </Button>
        <Button
          variant="outlined"
          onClick={() =>
            unsaved ? setTold({ text: 'Save the study first: a link shows the saved state.' }) : openDialogue('share')
          }
        >
          Share
        </Button>
        <Button variant="contained" onClick={() => openDialogue('save')}>
          Save
        </Button>
      </div>
      <Menu anchorEl={menu?.anchor ?? null} open={menu?.kind === 'download'} onClose={() => setMenu(null)}>
        <MenuItem
          component="a"
          href={`/download/table.csv?${addressed(data.answered ?? data.question)}`}
          download
          onClick={() => setMenu(null)}
          disabled={!data.result}
        >
          Table as CSV
        </MenuItem>
        <MenuItem onClick={() => void picture()} disabled={!data.result}>
          Chart as PNG
        </MenuItem>
        {!noSvg && (
          <MenuItem onClick={() => void asSvg()} disabled={!data.result}>
            Chart as SVG
          </MenuItem>
        )}
        <MenuItem
          component="a"
          href={`/download/study.json?${addressed(data.question)}`}
          download
          onClick={() => setMenu(null)}
        >
          Study as JSON
        </MenuItem>
      </Menu>
      <Menu anchorEl={menu?.anchor ?? null} open={menu?.kind === 'history'} onClose={() => setMenu(null)}>
        {history.map((state) => (
          <MenuItem
            key={state.savedMs}
            component={Link}
            to={`?${questionParam(state.question)}`}
            onClick={() => setMenu(null)}
          >
            {formatMoment(state.savedMs, zone, thisYear)} · {state.name}
          </MenuItem>
        ))}
      </Menu>
      {everOpened && (
        <Suspense>
          <SaveDialog
            open={dialogue === 'save'}
            name={study?.name ?? ''}
            description={study?.description ?? ''}
            canSaveAsNew={study !== null}
            onClose={() => setDialogue(null)}
            onSave={({ name: chosen, description, asNew }) => {
              setDialogue(null)
              submit({ intent: asNew ? 'save new' : 'save', name: chosen, description })
            }}
          />
          <BoardDialog
            open={dialogue === 'board'}
            onClose={() => setDialogue(null)}
            onChoose={(board) => {
              setDialogue(null)
              const fallback = `${kindName}: ${printedOf(question, words)}`.slice(0, 110)
              submit({
                intent: 'add to dashboard',
                name: study?.name ?? fallback,
                description: study?.description ?? '',
                board: JSON.stringify(board),
              })
            }}
          />
          {study && (
            <ShareDialog open={dialogue === 'share'} kind="study" target={study.id} onClose={() => setDialogue(null)} />
          )}
        </Suspense>
      )}
      <Snackbar
        open={told !== null}
        autoHideDuration={6000}
        onClose={() => setTold(null)}
        message={told?.text}
        action={
          told?.to && (
            <Button color="inherit" component={Link} to={told.to}>
              Open
            </Button>
          )
        }
      />
    </div>
  )
}
