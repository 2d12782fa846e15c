import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useEffect, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { countOf, formatMoment, joinWords } from '../../core/words/format.js'
import type { TakenView, TakeView } from '../../server/doors/takeBack.js'
import type { TakeChoice } from '../door/dowser.shared.js'
import { useWorkspace } from '../page/workspace.js'
import { takenWords } from './takeBackWords.js'
import { useMend } from './useMend.js'

type Looked = TakeView | { problem: string }

interface Asked {
  /** what it is, for the head of the dialog */
  what: string
  choice: TakeChoice
  onDone?: (() => void) | undefined
}

/** A button that says what taking something back would change, and does it once that is confirmed. */
export function TakeBackButton({ children, small, ...asked }: Asked & { children: ReactNode; small?: boolean }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button
        {...(small ? { size: 'small' as const } : { variant: 'outlined' as const })}
        color="error"
        onClick={() => setOpen(true)}
      >
        {children}
      </Button>
      {open && <TakeBackDialog {...asked} onClose={() => setOpen(false)} />}
    </>
  )
}

export function TakeBackDialog({
  what,
  choice,
  onDone,
  onClose,
  above,
}: Asked & { onClose: () => void; above?: ReactNode }) {
  const { mend, busy } = useMend()
  const [looked, setLooked] = useState<{ of: string; look: Looked } | null>(null)
  const asked = JSON.stringify(choice)
  useEffect(() => {
    const controller = new AbortController()
    void fetch('/ask/takeBack', { method: 'POST', body: asked, signal: controller.signal })
      .then((response) => response.json() as Promise<Looked>)
      .catch(() => ({ problem: 'The server did not answer. Nothing was changed; try once more.' }))
      .then((look) => !controller.signal.aborted && setLooked({ of: asked, look }))
    return () => controller.abort()
  }, [asked])
  const look = looked?.of === asked ? looked.look : null
  const some = look !== null && 'events' in look && look.events + look.profileValues > 0
  const take = async () => {
    const { problems } = await mend({ do: 'take back', choice })
    if (problems.length > 0) return setLooked({ of: asked, look: { problem: problems[0]!.message } })
    onClose()
    onDone?.()
  }
  return (
    <Dialog open onClose={onClose} aria-labelledby="take-back-title">
      <DialogTitle id="take-back-title">Take back {what}?</DialogTitle>
      <DialogContent className="stack">
        {above}
        <div aria-live="polite" data-take-look="">
          {look === null ? (
            <p className="soft">
              <CircularProgress size={14} aria-label="Working" /> Looking what that would change …
            </p>
          ) : 'problem' in look ? (
            <p className="caution">{look.problem}</p>
          ) : (
            <Changes look={look} />
          )}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
        <Button variant="contained" color="error" disabled={!some || busy} onClick={() => void take()}>
          Take it back
        </Button>
      </DialogActions>
    </Dialog>
  )
}

const MOST_NAMED = 4

function Changes({ look }: { look: TakeView }) {
  const { zone, thisYear } = useWorkspace()
  if (look.events + look.profileValues === 0) return <p>Nothing that is there came by that.</p>
  const named = look.byEvent.slice(0, MOST_NAMED).map(({ event, events }) => `${countOf(events, '×', '×')} ${event}`)
  const more = look.byEvent.length - named.length
  return (
    <div className="stack">
      <p>
        <strong>{takenWords(look).replace(/ (is|are)$/, '')}</strong> of {countOf(look.people, 'person', 'people')}
        {look.firstMs !== null &&
          (look.firstMs === look.lastMs
            ? `, of ${formatMoment(look.firstMs, zone, thisYear)}`
            : `, from ${formatMoment(look.firstMs, zone, thisYear)} to ${formatMoment(look.lastMs!, zone, thisYear)}`)}
        , will no longer be counted anywhere.
      </p>
      {named.length > 1 && (
        <p className="soft">
          {joinWords([...named, ...(more > 0 ? [countOf(more, 'other event', 'other events')] : [])], 'and')}.
        </p>
      )}
      {look.replaced > 0 && (
        <p>
          {look.replaced === 1 ? 'One of them' : `${countOf(look.replaced, '', '').trim()} of them`} had taken the place
          of an earlier event of the same id: that one is counted again.
        </p>
      )}
      {look.apart > 0 && (
        <p>
          {countOf(look.apart, 'pair of ids was', 'pairs of ids were')} merged by nothing else:{' '}
          {look.apart === 1 ? 'that person becomes two' : 'those people become several'} again.
        </p>
      )}
      {look.studies.length > 0 && (
        <p>
          {countOf(look.studies.length, 'saved study asks', 'saved studies ask')} about them:{' '}
          {look.studies.slice(0, MOST_NAMED).map(({ id, name }, index) => (
            <span key={id}>
              {index > 0 && ', '}
              <Link to={`/studies/${id}`}>{name}</Link>
            </span>
          ))}
          {look.studies.length > MOST_NAMED && ' …'}
        </p>
      )}
      <p className="soft">For 30 days it can be brought back, as it was; after that it is gone for good.</p>
    </div>
  )
}

/** What was taken back and can be brought back. */
export function TakenList({ taken }: { taken: readonly TakenView[] }) {
  const { zone, thisYear } = useWorkspace()
  const { mend, busy } = useMend()
  return (
    <ul className="keys">
      {taken.map((each) => (
        <li key={each.id}>
          <div className="list-main">
            <span className="list-name">{choiceWords(each)}</span>
            <span className="list-question">
              {takenWords(each).replace(/ (is|are)$/, '')} · taken back {formatMoment(each.takenMs, zone, thisYear)} ·{' '}
              {each.broughtMs === null
                ? `can be brought back until ${formatMoment(each.untilMs, zone, thisYear)}`
                : `brought back ${formatMoment(each.broughtMs, zone, thisYear)}`}
            </span>
          </div>
          {each.broughtMs === null && (
            <Button disabled={busy} onClick={() => void mend({ do: 'bring back', id: each.id })}>
              Bring it back
            </Button>
          )}
        </li>
      ))}
    </ul>
  )
}

function choiceWords({ choice, name }: TakenView): string {
  switch (choice.of) {
    case 'import':
      return `What ${name ?? 'a file'} brought`
    case 'key':
      return `What ${name ?? 'a key'} sent in a span of time`
    case 'event':
      return `All “${choice.name}”`
    case 'person':
      return `All events of ${choice.id}`
    case 'events':
      return choice.ids.length === 1 ? `The event ${choice.ids[0]}` : `${choice.ids.length} single events`
  }
}
