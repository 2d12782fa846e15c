import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import RedoIcon from '@mui/icons-material/Redo'
import UndoIcon from '@mui/icons-material/Undo'
import Snackbar from '@mui/material/Snackbar'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useFetcher, useNavigate } from 'react-router'
import { funnelSentence } from '../../core/analyses/funnel/sentence.js'
import { trendSentence } from '../../core/analyses/trend/sentence.js'
import type { Reading as ReadingParts, SentencePart } from '../../core/analyses/analysis.js'
import type { Question, Result } from '../../core/analyses/registry.js'
import { faultWords, type Fault } from '../../core/questions/faults.js'
import type { Mark } from '../../core/questions/parts.js'
import { formatMoment } from '../../core/words/format.js'
import { questionParam, studyAddress } from '../address.js'
import { viewOf } from '../analyses/registry.js'
import { Sentence } from '../editors/Sentence.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useEditing } from '../editors/useEditing.js'
import { isTyping } from '../ui/Shortcuts.js'
import { useWorkspace } from '../workspace.js'
import { BoardDialog, SaveDialog, ShareDialog } from './dialogs.js'
import { Explain } from './Explain.js'
import { whereNext } from './next.js'
import { Reading } from './Reading.js'
import { Tray } from './Tray.js'
import { useLasting, Waiting } from './Waiting.js'

export interface StudyData {
  study: { id: string; name: string; description: string; savedMs: number } | null
  question: Question
  /** differs from what is saved */
  edited: boolean
  faults: Fault[]
  result: Result | null
  reading: ReadingParts | null
  version: number
  now: number
  history: { savedMs: number; name: string; question: Question }[]
}

export function sentenceOf(question: Question, thisYear: number): SentencePart[] {
  return question.kind === 'trend' ? trendSentence(question, { thisYear }) : funnelSentence(question, { thisYear })
}

/** A study: its question, its result, what that says, and what can be done with it. */
export function StudyPage({ data }: { data: StudyData }) {
  const { zone, thisYear, catalog, status } = useWorkspace()
  const editing = useEditing()
  const { edit, endTyping, pending, busy } = editing
  const waiting = busy && pending !== null
  const dimmed = useLasting(waiting, 150)
  const question = useMemo(() => pendingQuestion(pending) ?? data.question, [pending, data.question])
  // The result belongs to the question it was worked out for, not to the one on its way.
  const { result, reading, faults } = data
  const view = viewOf(data.question.kind)
  // The chart and the table are drawn anew only when what they show changes, not while an answer is on its way.
  const show = JSON.stringify(showOf(question))
  const shown = useMemo(
    () => ({ ...data.question, ...(JSON.parse(show) as object) }) as Question,
    [data.question, show],
  )
  const [token, setToken] = useState<{ name: string; at: { left: number; top: number } } | null>(null)
  const [marks, setMarks] = useState<readonly Mark[]>([])
  const sheet = useRef<HTMLDivElement>(null)

  const counted = JSON.stringify({ ...data.question, show: undefined })
  useEffect(() => setMarks([]), [counted])
  const onSelect = useCallback((mark: Mark, add: boolean) => {
    setMarks((had) => {
      const same = (other: Mark) => JSON.stringify(other) === JSON.stringify(mark)
      if (had.some(same)) return add ? had.filter((other) => !same(other)) : had.length > 1 ? [mark] : []
      return add ? [...had, mark] : [mark]
    })
  }, [])
  const letGo = useCallback(() => setMarks([]), [])
  const closeToken = () => {
    setToken(null)
    endTyping()
  }
  useTableKey()

  const openToken = (name: string, anchor: HTMLElement) => setToken({ name, at: placeUnder(anchor) })
  const among = question.among
  return (
    <main className="page study">
      <StudyHead data={data} question={question} sheet={sheet} editing={editing} />
      <div className="question-block">
        <Sentence
          parts={sentenceOf(question, thisYear)}
          faults={faults}
          open={token?.name ?? null}
          onToken={openToken}
        />
        <div className="additions">
          {view.additions(question).map(({ token: name, label }) => (
            <button
              key={name}
              type="button"
              className="addition"
              onClick={(event) => openToken(name, event.currentTarget)}
            >
              {label}
            </button>
          ))}
        </div>
        {faults.length > 0 && (
          <ul className="faults" role="alert">
            {faults.map((fault, i) => (
              <li key={i}>{faultWords(fault)}</li>
            ))}
          </ul>
        )}
      </div>
      <TokenPopover
        at={token?.at ?? null}
        label={`Change: ${token?.name ?? ''}`}
        width={token?.name === 'range' ? 400 : token?.name === 'where' ? 430 : 340}
        onClose={closeToken}
      >
        {token?.name === 'among' && among ? (
          <div className="stack">
            <p className="hint">These people are read from another study, worked out anew each time.</p>
            <div className="row">
              <Button variant="outlined" component={Link} to={studyAddress(among.study)} onClick={closeToken}>
                Open that study
              </Button>
              <Button
                color="error"
                onClick={() => {
                  const { among: _people, ...rest } = question
                  edit(rest)
                  closeToken()
                }}
              >
                Ask among everyone
              </Button>
            </div>
          </div>
        ) : (
          token && <view.Editor token={token.name} question={question} edit={edit} close={closeToken} />
        )}
      </TokenPopover>

      {!status.ready ? (
        <section className="sheet pad">
          <p>The events are being read: {status.loaded.toLocaleString('en-GB')} so far. The answer comes by itself.</p>
        </section>
      ) : (
        <div className="study-grid">
          <Waiting busy={waiting} pending={pending} />
          <section className={`sheet result${dimmed ? ' dimmed' : ''}`} aria-label="Result" ref={sheet}>
            {result ? (
              <view.Body
                question={shown}
                result={result}
                thisYear={thisYear}
                edit={edit}
                selected={marks}
                onSelect={onSelect}
              />
            ) : (
              <div className="no-result">
                <p>There is no answer yet: something in the question is not known. What is marked above says what.</p>
                {data.question.kind === 'funnel' && (
                  <view.Body
                    question={data.question}
                    result={emptyFunnel(data.question.steps.length)}
                    thisYear={thisYear}
                    edit={edit}
                    selected={[]}
                  />
                )}
              </div>
            )}
          </section>
          {result && reading && <Reading reading={reading} next={whereNext(data.question, result, catalog)} />}
          {result && (
            <section className={`sheet numbers-sheet${dimmed ? ' dimmed' : ''}`} aria-label="The numbers">
              <view.Numbers question={shown} result={result} thisYear={thisYear} selected={marks} onSelect={onSelect} />
            </section>
          )}
          <footer className="study-foot">
            <span>
              As of {formatMoment(data.now, zone, thisYear)} · {zone}
            </span>
            <Explain question={question} zone={zone} />
          </footer>
        </div>
      )}
      <Tray question={data.question} marks={marks} thisYear={thisYear} onClose={letGo} />
    </main>
  )
}

/** How it is drawn may follow at once: it changes no number. */
function showOf(question: Question): object {
  return question.kind === 'trend' ? { show: question.show } : {}
}

function emptyFunnel(steps: number): Result {
  const times = { median: null, mean: null, p10: null, p90: null }
  const step = {
    people: 0,
    ofStart: null,
    ofStartInterval: null,
    ofPrevious: null,
    ofPreviousInterval: null,
    lost: 0,
    open: 0,
    fromPrevious: times,
    fromEntry: times,
  }
  return {
    kind: 'funnel',
    all: { key: null, steps: Array.from({ length: steps }, () => step), open: 0 },
    groups: [],
    rest: 0,
  }
}

function pendingQuestion(pending: string | null): Question | null {
  if (!pending) return null
  try {
    return JSON.parse(pending) as Question
  } catch {
    return null
  }
}

function useTableKey(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || event.key !== 't') return
      const table = document.querySelector<HTMLElement>('[data-table]')
      const chart = document.querySelector<HTMLElement>('.chart-canvas, .funnel .step-number')
      const inTable = table?.contains(document.activeElement)
      const target = inTable ? chart : (table?.querySelector<HTMLElement>('[data-cell]') ?? table)
      target?.focus()
      target?.scrollIntoView({ block: 'nearest' })
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
}

interface HeadProps {
  data: StudyData
  question: Question
  sheet: React.RefObject<HTMLDivElement | null>
  editing: ReturnType<typeof useEditing>
}

type Dialogue = 'save' | 'board' | 'share' | null

function StudyHead({ data, question, sheet, editing }: HeadProps) {
  const { study, edited, history } = data
  const { zone, thisYear } = useWorkspace()
  const { undo, redo, canUndo, canRedo } = editing
  const navigate = useNavigate()
  const fetcher = useFetcher<{ saved?: string; board?: { id: string; name: string }; problem?: string }>()
  const [dialogue, setDialogue] = useState<Dialogue>(null)
  const [menu, setMenu] = useState<{ kind: 'history' | 'download'; anchor: HTMLElement } | null>(null)
  const [told, setTold] = useState<{ text: string; to?: string } | null>(null)
  const kindName = viewOf(data.question.kind).name
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
        setDialogue('save')
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
  const params = new URLSearchParams({ q: JSON.stringify(data.question), name }).toString()
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
        <IconButton size="small" aria-label="Undo" disabled={!canUndo} onClick={undo}>
          <UndoIcon fontSize="small" />
        </IconButton>
        <IconButton size="small" aria-label="Redo" disabled={!canRedo} onClick={redo}>
          <RedoIcon fontSize="small" />
        </IconButton>
        {history.length > 1 && (
          <Button onClick={(event) => setMenu({ kind: 'history', anchor: event.currentTarget })}>History</Button>
        )}
        <Button onClick={(event) => setMenu({ kind: 'download', anchor: event.currentTarget })}>Download</Button>
        <Button variant="outlined" onClick={() => setDialogue('board')}>
          Add to dashboard
        </Button>
        <Button
          variant="outlined"
          onClick={() =>
            unsaved ? setTold({ text: 'Save the study first: a link shows the saved state.' }) : setDialogue('share')
          }
        >
          Share
        </Button>
        <Button variant="contained" onClick={() => setDialogue('save')}>
          Save
        </Button>
      </div>
      <Menu anchorEl={menu?.anchor ?? null} open={menu?.kind === 'download'} onClose={() => setMenu(null)}>
        <MenuItem
          component="a"
          href={`/download/table.csv?${params}`}
          download
          onClick={() => setMenu(null)}
          disabled={!data.result}
        >
          Table as CSV
        </MenuItem>
        <MenuItem onClick={() => void picture()} disabled={!data.result}>
          Chart as PNG
        </MenuItem>
        <MenuItem component="a" href={`/download/study.json?${params}`} download onClick={() => setMenu(null)}>
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
          const fallback = `${kindName}: ${sentenceOf(question, thisYear)
            .map(({ text }) => text)
            .join('')}`.slice(0, 110)
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
