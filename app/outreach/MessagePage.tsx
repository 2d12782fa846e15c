import Button from '@mui/material/Button'
import { costOfGain } from '../../core/analyses/effect/cost.js'
import { Suspense, useEffect, useMemo, useState } from 'react'
import { Link, useFetcher, useNavigate, useRevalidator } from 'react-router'
import type { EffectMark } from '../../core/analyses/effect/marks.js'
import { TagsField } from '../editors/TagsField.js'
import { UndoRedo } from '../editors/UndoRedo.js'
import { useSaveKey } from '../editors/useSaveKey.js'
import { isChannel } from '../../core/outreach/destination.js'
import type { Message } from '../../core/outreach/message.js'
import { messageRows, type MessageToken } from '../../core/outreach/messageWords.js'
import { formatMoment, formatNumber } from '../../core/words/format.js'
import { peopleParams, studyAddress } from '../address/address.js'
import { effect as effectKind } from '../analyses/effect/index.js'
import { Sentence } from '../editors/Sentence.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { useWorkspace } from '../page/workspace.js'
import { Reading } from '../study/Reading.js'
import { Segmented } from '../ui/Segmented.js'
import { CheckList } from './CheckList.js'
import { MESSAGE_LABELS, MessageEditor } from './MessageEditor.js'
import { MessageLog } from './MessageLog.js'
import type { Checked, MessageData } from './message.js'
import { MESSAGE_STATES } from './stateWords.js'
import { TypedField } from './TypedField.js'
import { useDraft } from './useDraft.js'
import { useUnsaved } from './useUnsaved.js'
import { useOutreachNames } from './useOutreachNames.js'
import { useTold } from './useTold.js'
import { VariantTexts } from './VariantTexts.js'

const LOOK_MS = 3000
/** So long after the last key a draft is looked at anew. */
const CHECK_MS = 600
type Tab = 'text' | 'effect' | 'days' | 'log'

/** A message: what it is, in a sentence, what it says, and what it brings. */
export function MessagePage({ data }: { data: MessageData }) {
  const { saved, places, effect, counts } = data
  const { zone, thisYear, words } = useWorkspace()
  const draft = useDraft<Message>(data.definition)
  const { now: message, edit, endTyping } = draft
  const names = useOutreachNames(places)
  const { send, busy, told } = useTold()
  const { revalidate } = useRevalidator()
  const navigate = useNavigate()
  const checks = useFetcher<Checked>()
  const [open, setOpen] = useState<{ token: MessageToken; at: { left: number; top: number } } | null>(null)
  const state = saved?.state ?? 'draft'
  const isStarted = saved !== null && saved.startedMs !== null
  const [deleting, setDeleting] = useState(false)
  const [tab, setTab] = useState<Tab>(isStarted ? 'effect' : 'text')
  const kind = places.find(({ id }) => id === message.destination)?.kind
  const channel = kind && isChannel(kind) ? kind : null
  const text = JSON.stringify(message)
  const isChanged = !isStarted && (!saved || text !== JSON.stringify(saved.definition))

  const { submit } = checks
  useEffect(() => {
    if (isStarted) return
    const timer = setTimeout(() => void submit({ intent: 'check', message: text }, { method: 'post' }), CHECK_MS)
    return () => clearTimeout(timer)
  }, [text, isStarted, submit])
  useEffect(() => {
    if (state !== 'running') return
    const timer = setInterval(() => void revalidate(), LOOK_MS)
    return () => clearInterval(timer)
  }, [state, revalidate])
  useUnsaved(isChanged && !deleting && (saved !== null || draft.canUndo), '/outreach/messages/')

  const checked = checks.data && 'faults' in checks.data ? checks.data : null
  const saveButton = useSaveKey()
  const own: Record<string, string> = saved ? { id: saved.id } : {}
  const press = (intent: string) => send({ intent, ...own })
  const openToken = (token: string, anchor: HTMLElement) =>
    setOpen({ token: token as MessageToken, at: placeUnder(anchor) })
  const isReady = message.name.trim() !== '' && checked !== null && checked.faults.length === 0
  const rows = messageRows(message, channel, names, words)
  const marks: readonly EffectMark[] = useMemo(() => [], [])
  const onSelect = (mark: EffectMark) =>
    effect && void navigate(`/people?${peopleParams({ study: effect.question, marks: [mark] })}`)
  return (
    <main className="page outreach">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/outreach">Outreach</Link>
          <span aria-hidden="true">›</span>
          <span>Messages</span>
          <span aria-hidden="true">›</span>
          <strong>{saved?.definition.name ?? 'New'}</strong>
          <span className={state === 'running' ? 'state-chip live' : 'state-chip'}>{MESSAGE_STATES[state]}</span>
          <span className="soft">
            {!saved
              ? 'not saved yet'
              : isChanged
                ? 'changed, not saved'
                : saved.startedMs === null
                  ? ''
                  : `since ${formatMoment(saved.startedMs, zone, thisYear)}`}
          </span>
        </nav>
        <div className="page-actions">
          {!isStarted && (
            <UndoRedo undo={draft.undo} redo={draft.redo} canUndo={draft.canUndo} canRedo={draft.canRedo} />
          )}
          {saved && (
            <>
              <Button
                color="error"
                disabled={busy}
                onClick={() => {
                  setDeleting(true)
                  press('delete')
                }}
              >
                Delete
              </Button>
              <Button disabled={busy} onClick={() => press('copy')}>
                Copy
              </Button>
            </>
          )}
          {state === 'running' && (
            <Button variant="outlined" disabled={busy} onClick={() => press('pause')}>
              Pause
            </Button>
          )}
          {state === 'paused' && (
            <Button variant="outlined" disabled={busy} onClick={() => press('resume')}>
              Resume
            </Button>
          )}
          {(state === 'running' || state === 'paused') && (
            <Button variant="outlined" disabled={busy} onClick={() => press('stop')}>
              Stop
            </Button>
          )}
          {isChanged && (
            <Button
              ref={saveButton}
              variant="outlined"
              disabled={busy || message.name.trim() === ''}
              onClick={() => send({ intent: 'save', ...own, message: text })}
            >
              Save
            </Button>
          )}
          {!isStarted && (
            <Button
              variant="contained"
              disabled={busy || !isReady}
              onClick={() => send({ intent: 'start', ...own, message: text })}
            >
              Start
            </Button>
          )}
        </div>
      </div>
      <h1 className="question">A message</h1>
      <div className="outreach-grid">
        <div className="stack">
          <section className="sheet pad message-rows" aria-label="What the message is">
            {rows.map(({ head, parts }) => (
              <div key={head} className="message-row">
                <span className="overline">{head}</span>
                <Sentence
                  as="h2"
                  parts={parts}
                  open={open?.token ?? null}
                  {...(isStarted ? {} : { onToken: openToken })}
                />
              </div>
            ))}
            {!isStarted && <Additions message={message} onOpen={openToken} />}
          </section>
          {saved?.why && <p className="caution">{saved.why}</p>}
          <section className="sheet" aria-label="What it says and brings">
            <div className="row between wrap pad-head">
              <Segmented<Tab>
                label="Shown"
                value={tab}
                options={[
                  { value: 'text', label: 'Text' },
                  { value: 'effect', label: 'Effect', disabled: !isStarted },
                  { value: 'days', label: 'Over days', disabled: !isStarted },
                  { value: 'log', label: 'Log', disabled: !isStarted },
                ]}
                onChange={setTab}
              />
              <span className="soft">
                {isStarted && effect ? openWords(data) : 'Nothing leaves before you press Start.'}
              </span>
            </div>
            {tab === 'text' && (
              <div className="pad">
                <VariantTexts
                  {...{ message, channel }}
                  ahead={checked?.ahead ?? null}
                  onEdit={isStarted ? undefined : edit}
                  onDone={endTyping}
                  onTest={(variant, person) =>
                    send({ intent: 'test copy', message: nameless(message), variant: String(variant), person })
                  }
                />
              </div>
            )}
            {(tab === 'effect' || tab === 'days') &&
              (effect ? (
                <Suspense fallback={<p className="pad soft">…</p>}>
                  <effectKind.Body
                    question={{ ...effect.question, show: { form: tab } }}
                    result={effect.result}
                    words={words}
                    selected={marks}
                    onSelect={onSelect}
                  />
                </Suspense>
              ) : (
                <p className="pad soft">
                  {data.problem ?? 'The events are being read; what it brings comes by itself.'}
                </p>
              ))}
            {tab === 'log' && <MessageLog data={data} />}
            {counts && tab === 'effect' && <p className="hint effect-foot">{countWords(data)}</p>}
          </section>
        </div>
        <div className="stack">
          {isStarted ? (
            effect && <Reading reading={effect.reading} next={effect.next} />
          ) : (
            <CheckList message={message} checked={checked} />
          )}
          {isStarted && effect && (
            <p>
              <Link to={studyAddress(effect.question)}>Open it as a study</Link>, to break it down, save it, or put it
              on a dashboard.
            </p>
          )}
          {isStarted && (message.owner !== '' || message.tags.length > 0) && (
            <p className="soft">
              {[...(message.owner === '' ? [] : [`Looked after by ${message.owner}`]), ...message.tags].join(' · ')}
            </p>
          )}
          {isStarted && data.simulated && (
            <p className="caution">
              These are simulated people. What they do with what they are sent from now on is set on the page of{' '}
              <Link to={`/outreach/destinations/${message.destination}`}>{names.destination(message.destination)}</Link>
              .
            </p>
          )}
          {!isStarted && (
            <section className="sheet pad stack">
              <h2 className="overline">About it</h2>
              <TypedField
                label="Name"
                value={message.name}
                most={100}
                onChange={(name) => edit({ ...message, name }, 'type')}
                onDone={endTyping}
              />
              <TypedField
                label="Who looks after it"
                value={message.owner}
                most={100}
                onChange={(owner) => edit({ ...message, owner }, 'type')}
                onDone={endTyping}
              />
              <TagsField value={message.tags} most={10} onChange={(tags) => edit({ ...message, tags }, 'choose')} />
              <p className="hint">
                Once started it stays as it is, so that its figures are of one thing. A copy can be changed.
              </p>
            </section>
          )}
        </div>
      </div>
      <TokenPopover
        at={open?.at ?? null}
        label={open ? MESSAGE_LABELS[open.token] : ''}
        onClose={() => {
          endTyping()
          setOpen(null)
        }}
      >
        {open && (
          <MessageEditor
            {...{ message, places, token: open.token }}
            onEdit={edit}
            close={() => {
              endTyping()
              setOpen(null)
            }}
          />
        )}
      </TokenPopover>
      {told}
    </main>
  )
}

/** A test copy may go before there is a name. */
const nameless = (message: Message) =>
  JSON.stringify({ ...message, name: message.name.trim() === '' ? 'Test' : message.name })

function Additions({
  message,
  onOpen,
}: {
  message: Message
  onOpen: (token: MessageToken, anchor: HTMLElement) => void
}) {
  const { notAmong, hours, unless, again, cap, cost, goal } = message
  const additions: [MessageToken, string, boolean][] = [
    ['notAmong', '+ not among…', notAmong === ''],
    ['hours', '+ at these hours…', hours === undefined],
    ['unless', '+ unless they do…', unless === undefined],
    ['again', '+ again…', again === undefined && message.trigger.kind !== 'once'],
    ['cap', '+ held back after…', cap === undefined],
    ['goalWhere', '+ goal only where…', goal.where === undefined],
    ['cost', '+ cost…', cost === undefined],
  ]
  return (
    <div className="additions">
      {additions
        .filter(([, , isMissing]) => isMissing)
        .map(([token, label]) => (
          <button
            key={token}
            type="button"
            className="addition"
            onClick={(event) => onOpen(token, event.currentTarget)}
          >
            {label}
          </button>
        ))}
    </div>
  )
}

/** `214 in their 3 days still`. */
function openWords({ effect, definition, saved }: MessageData): string {
  const open = effect?.result.rows.reduce((sum, row) => sum + row.open, 0) ?? 0
  const { count, unit } = definition.within
  const still =
    open > 0
      ? `${formatNumber(open)} in their ${count === 1 ? unit : `${count} ${unit}s`} still`
      : 'everybody’s time is over'
  return saved?.state === 'running' ? `running · ${still}` : still
}

/** `, 2.10 for each more who did it`, where it is told that more did. */
function gainCostWords(cost: number, effect: MessageData['effect']): string {
  const each = effect && costOfGain(effect.result, cost)
  return each === null ? '' : `, ${formatNumber(Math.round(each * 100) / 100)} for each more who did it`
}

/** `61 held back by the cap of 2 in 7 days, 188 opted out and never entered.` */
function countWords({ counts, definition, effect }: MessageData): string {
  if (!counts) return ''
  const many = (why: 'opted out' | 'not among' | 'capped') =>
    counts.keptOut.find((each) => each.why === why)?.people ?? 0
  const { cap, cost } = definition
  const said = [
    many('capped') > 0 && cap
      ? `${formatNumber(many('capped'))} held back by the cap of ${cap.most} in ${cap.days} days`
      : null,
    many('opted out') > 0 ? `${formatNumber(many('opted out'))} opted out and never entered` : null,
    many('not among') > 0 ? `${formatNumber(many('not among'))} left out by the other segment` : null,
    counts.waiting > 0 ? `${formatNumber(counts.waiting)} wait for their time` : null,
    counts.dropped.length > 0
      ? `not sent: ${counts.dropped.map(({ why, people }) => `${formatNumber(people)} ${why}`).join(', ')}`
      : null,
    cost !== undefined && counts.sent > 0
      ? `sending cost ${formatNumber(Math.round(cost * counts.sent * 100) / 100)}${gainCostWords(cost, effect)}`
      : null,
  ].filter((each) => each !== null)
  const text = said.join('; ')
  return text === '' ? '' : `${text.charAt(0).toUpperCase()}${text.slice(1)}.`
}
