import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useEffect, useMemo, useState } from 'react'
import { Link, useRevalidator } from 'react-router'
import type { Sync } from '../../core/outreach/sync.js'
import { TagsField } from '../editors/TagsField.js'
import { useSaveKey } from '../editors/useSaveKey.js'
import { UndoRedo } from '../editors/UndoRedo.js'
import { syncSentence } from '../../core/outreach/words.js'
import { countOf, formatMoment, formatNumber, joinWords } from '../../core/words/format.js'
import { readJson } from '../../core/questions/readJson.js'
import { Sentence } from '../editors/Sentence.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useEditing } from '../editors/useEditing.js'
import { useWorkspace } from '../page/workspace.js'
import type { KeptData } from './kept.js'
import { KeptEditor, TOKEN_LABELS, type KeptToken } from './KeptEditor.js'
import { nextWords, STATE_WORDS } from './stateWords.js'
import { RunTable } from './RunTable.js'
import { useOutreachNames } from './useOutreachNames.js'
import { TypedField } from './TypedField.js'
import { useTold } from './useTold.js'

/** While something is on its way, what has arrived is looked at so often. */
const LOOK_MS = 1500

/** A segment that is kept in step with a destination: what it is, who would go, and how it went. */
export function KeptPage({ data }: { data: KeptData }) {
  const { saved, places, expected, faults, runs, there, parked, waiting } = data
  const { zone, thisYear } = useWorkspace()
  const editing = useEditing<Sync>('kept')
  const { edit, endTyping, pending } = editing
  const definition = useMemo(
    () => (pending === null ? data.definition : { ...data.definition, ...(readJson(pending) as Sync) }),
    [pending, data.definition],
  )
  const names = useOutreachNames(places)
  const { send, busy, told } = useTold()
  const [open, setOpen] = useState<{ token: KeptToken; at: { left: number; top: number } } | null>(null)
  const [more, setMore] = useState<HTMLElement | null>(null)
  const { revalidate } = useRevalidator()
  const state = saved?.state ?? 'draft'
  const isSending = runs.some((run) => run.state === 'sending')
  const moves = isSending || state === 'running'
  useEffect(() => {
    if (!moves) return
    const timer = setInterval(() => void revalidate(), isSending ? LOOK_MS : 4 * LOOK_MS)
    return () => clearInterval(timer)
  }, [moves, isSending, revalidate])

  const saveButton = useSaveKey()
  const own: Record<string, string> = saved ? { id: saved.id } : {}
  const kept = JSON.stringify(definition)
  const isWhole = definition.name.trim() !== '' && definition.segment !== '' && definition.destination !== ''
  const missing = [
    definition.segment === '' && 'a segment',
    definition.destination === '' && 'a destination',
    definition.name.trim() === '' && 'a name',
  ].filter((each) => each !== false)
  const press = (intent: string) => send({ intent, ...own })
  const name = saved?.definition.name ?? 'New'
  return (
    <main className="page outreach">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/outreach">Outreach</Link>
          <span aria-hidden="true">›</span>
          <span>Kept in step</span>
          <span aria-hidden="true">›</span>
          <strong>{name}</strong>
          <span className={state === 'running' ? 'state-chip live' : 'state-chip'}>{STATE_WORDS[state]}</span>
          <span className="soft">
            {!saved ? 'not saved yet' : data.edited ? 'changed, not saved' : nextWords(saved, zone, thisYear)}
          </span>
        </nav>
        <div className="page-actions">
          <UndoRedo undo={editing.undo} redo={editing.redo} canUndo={editing.canUndo} canRedo={editing.canRedo} />
          {saved && (
            <Button aria-haspopup="menu" onClick={(event) => setMore(event.currentTarget)}>
              More
            </Button>
          )}
          {state === 'running' && (
            <>
              <Button variant="outlined" disabled={busy || isSending} onClick={() => press('run')}>
                Look now
              </Button>
              <Button variant="outlined" disabled={busy} onClick={() => press('pause')}>
                Pause
              </Button>
            </>
          )}
          {state === 'paused' && (
            <Button variant="outlined" disabled={busy} onClick={() => press('resume')}>
              Resume
            </Button>
          )}
          {(!saved || data.edited) && (
            <Button
              ref={saveButton}
              variant="outlined"
              disabled={busy || !isWhole}
              onClick={() => send({ intent: 'save', ...own, kept })}
            >
              Save
            </Button>
          )}
          {(state === 'draft' || state === 'ended') && (
            <Button
              variant="contained"
              disabled={busy || !isWhole}
              onClick={() => send({ intent: 'start', ...own, kept })}
            >
              Start
            </Button>
          )}
        </div>
      </div>
      <div className="outreach-grid">
        <div className="stack">
          <section className="sheet pad" aria-label="What is kept in step">
            <Sentence
              parts={syncSentence(definition, names)}
              open={open?.token ?? null}
              onToken={(token, anchor) => setOpen({ token: token as KeptToken, at: placeUnder(anchor) })}
            />
            <div className="additions">
              {!definition.onlyNew && (
                <button type="button" className="addition" onClick={() => edit({ ...definition, onlyNew: true })}>
                  + only those who come in from now on
                </button>
              )}
              {!definition.until && definition.schedule.kind !== 'once' && (
                <button
                  type="button"
                  className="addition"
                  onClick={(event) => setOpen({ token: 'until', at: placeUnder(event.currentTarget) })}
                >
                  + until…
                </button>
              )}
            </div>
            {missing.length > 0 && (
              <p className="hint">It still needs {joinWords(missing, 'and')} before it can be started.</p>
            )}
          </section>
          {saved?.state === 'asking' && (
            <section className="sheet pad asking" role="alert">
              <p>
                The rule of <strong>{names.segment(definition.segment)}</strong> has been changed. What becomes of the{' '}
                {countOf(there.in, 'person', 'people')} who were sent by the old one?
              </p>
              <div className="row wrap">
                <Button variant="contained" disabled={busy} onClick={() => press('follow')}>
                  Take out who is not in it any more
                </Button>
                <Button variant="outlined" disabled={busy} onClick={() => press('keep')}>
                  Leave them there
                </Button>
              </div>
            </section>
          )}
          {saved?.why && <p className="caution">{saved.why}</p>}
          {waiting && waiting.people > 0 && (
            <p className="caution" aria-live="polite">
              {countOf(waiting.people, 'change is', 'changes are')} on the way
              {waiting.why
                ? `. What was said last: ${waiting.why}. It is tried again by itself${waiting.nextMs ? `, at ${formatMoment(waiting.nextMs, zone, thisYear)}` : ''}.`
                : '.'}
            </p>
          )}
          <section className="sheet" aria-label="How it went">
            <div className="row between wrap pad-head">
              <h2 className="panel-title">
                How it went{' '}
                {saved && (
                  <small className="soft">
                    {countOf(there.in + there.kept, 'person is', 'people are')} there
                    {there.kept > 0
                      ? `, ${formatNumber(there.kept)} of them left there from before the rule changed`
                      : ''}
                  </small>
                )}
              </h2>
            </div>
            {runs.length === 0 ? (
              <p className="pad soft">
                {state === 'running'
                  ? 'It has not looked yet.'
                  : 'Nothing has been sent, and nothing leaves before you press Start.'}
              </p>
            ) : (
              <RunTable runs={runs} />
            )}
          </section>
          {parked.length > 0 && (
            <section className="sheet" aria-label="Set aside">
              <div className="row between wrap pad-head">
                <h2 className="panel-title">
                  Set aside{' '}
                  <small className="soft">
                    {countOf(there.parked, 'person', 'people')} whom the destination has not taken after several tries
                  </small>
                </h2>
                <Button disabled={busy} onClick={() => press('unpark')}>
                  Try them anew
                </Button>
              </div>
              <table className="catalog-table">
                <thead>
                  <tr>
                    <th scope="col">Person</th>
                    <th scope="col">What it said</th>
                  </tr>
                </thead>
                <tbody>
                  {parked.map(({ value, space, why }) => (
                    <tr key={value}>
                      <td>
                        <Link to={`/people/${space}/${encodeURIComponent(value)}`}>{value}</Link>
                      </td>
                      <td>{why}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {there.parked > parked.length && (
                <p className="hint pad">and {formatNumber(there.parked - parked.length)} more</p>
              )}
            </section>
          )}
        </div>
        <aside className="stack">
          <section className="sheet pad">
            <h2 className="overline">Who would go</h2>
            {definition.segment === '' ? (
              <p className="soft">Choose a segment, and its size is told here.</p>
            ) : faults.length > 0 ? (
              <p className="loss">{faults.join(' ')}</p>
            ) : expected ? (
              <>
                <p className="now-figure">
                  {formatNumber(expected.now - expected.keptOut)}{' '}
                  <span className="soft">{expected.now - expected.keptOut === 1 ? 'person' : 'people'} now</span>
                </p>
                {expected.keptOut > 0 && (
                  <p>
                    {countOf(expected.keptOut, 'more is', 'more are')} in the segment, and{' '}
                    {expected.keptOut === 1 ? 'wants' : 'want'} to be sent nothing: they are kept out.
                  </p>
                )}
                {expected.usual && (
                  <p className="soft">
                    At the end of the last {countOf(expected.days, 'whole day', 'whole days')} the segment had{' '}
                    {formatNumber(Math.round(expected.usual.low))} to {formatNumber(Math.round(expected.usual.high))}{' '}
                    people, but for the smallest and the largest tenth.
                  </p>
                )}
                {expected.now === 0 && <p className="caution">The segment is empty: there is nobody to send.</p>}
                <p>
                  <Link to={`/people/segments/${definition.segment}`}>See the segment</Link>
                </p>
              </>
            ) : (
              <p className="soft">The events are being read; the size comes by itself.</p>
            )}
          </section>
          <section className="sheet pad stack">
            <h2 className="overline">About it</h2>
            <TypedField
              label="Name"
              value={definition.name}
              most={100}
              onChange={(name) => edit({ ...definition, name }, 'type')}
              onDone={endTyping}
            />
            <TypedField
              label="What it is for"
              value={definition.purpose}
              most={500}
              lines={2}
              onChange={(purpose) => edit({ ...definition, purpose }, 'type')}
              onDone={endTyping}
            />
            <TypedField
              label="Who looks after it"
              value={definition.owner}
              most={100}
              onChange={(owner) => edit({ ...definition, owner }, 'type')}
              onDone={endTyping}
            />
            <TagsField value={definition.tags} most={10} onChange={(tags) => edit({ ...definition, tags }, 'choose')} />
          </section>
        </aside>
      </div>
      <Menu anchorEl={more} open={more !== null} onClose={() => setMore(null)}>
        <MenuItem
          onClick={() => {
            setMore(null)
            press('copy')
          }}
        >
          Copy
        </MenuItem>
        <MenuItem
          disabled={state !== 'running' || isSending}
          onClick={() => {
            setMore(null)
            press('anew')
          }}
        >
          Send everybody anew
        </MenuItem>
        <MenuItem
          className="loss"
          onClick={() => {
            setMore(null)
            press('delete')
          }}
        >
          End and delete
        </MenuItem>
      </Menu>
      <TokenPopover
        at={open?.at ?? null}
        label={open ? TOKEN_LABELS[open.token] : ''}
        onClose={() => {
          endTyping()
          setOpen(null)
        }}
      >
        {open && (
          <KeptEditor
            token={open.token}
            definition={definition}
            places={places}
            onEdit={(next, how) => {
              edit(next, how)
              if (how !== 'type' && CLOSES.has(open.token)) setOpen(null)
            }}
          />
        )}
      </TokenPopover>
      {told}
    </main>
  )
}

/** One choice is all there is to say. */
const CLOSES: ReadonlySet<KeptToken> = new Set(['segment', 'destination', 'onlyNew'])
