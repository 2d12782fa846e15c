import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Popover from '@mui/material/Popover'
import Snackbar from '@mui/material/Snackbar'
import { useEffect, useState } from 'react'
import { Link, useFetcher, useNavigate } from 'react-router'
import type { RuleGroup } from '../../core/segments/rule.js'
import { useSaveKey } from '../editors/useSaveKey.js'
import { UndoRedo } from '../editors/UndoRedo.js'
import { countOf, formatMoment } from '../../core/words/format.js'
import { StudyThem } from '../people/StudyThem.js'
import { inSegment, segmentAddress } from '../address/address.js'
import type { useEditing } from '../editors/useEditing.js'
import { isTyping } from '../ui/Shortcuts.js'
import { useWorkspace } from '../page/workspace.js'
import type { SegmentActed } from './act.server.js'
import { DeleteSegmentDialog } from './DeleteSegmentDialog.js'
import { SavePeopleDialog } from './SavePeopleDialog.js'
import { SaveSegmentDialog } from './SaveSegmentDialog.js'
import { placesOf, type SegmentData } from './segment.js'
import { UsesList } from './UsesList.js'

/** Name and state of a segment, and what can be done with it. */
export function SegmentHead(props: {
  data: SegmentData
  rule: RuleGroup
  editing: Pick<ReturnType<typeof useEditing>, 'undo' | 'redo' | 'canUndo' | 'canRedo'>
}) {
  const { data, rule, editing } = props
  const { saved, edited, uses, history, count } = data
  const { zone, thisYear } = useWorkspace()
  const navigate = useNavigate()
  const fetcher = useFetcher<SegmentActed>()
  const saveButton = useSaveKey()
  const [dialogue, setDialogue] = useState<'save' | 'freeze' | 'delete' | null>(null)
  const [anchor, setAnchor] = useState<{ kind: 'uses' | 'more'; at: HTMLElement } | null>(null)
  const [told, setTold] = useState<string | null>(null)
  const places = placesOf(uses)
  const frozen = typeof saved?.frozenMs === 'number'

  useEffect(() => {
    const { data: done } = fetcher
    if (!done || fetcher.state !== 'idle') return
    if ('problem' in done) return setTold(done.problem)
    if ('saved' in done) {
      setTold('Saved.')
      void navigate(`/people/segments/${done.saved}`, { replace: true, preventScrollReset: true })
    }
  }, [fetcher.data, fetcher.state, navigate, fetcher])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.altKey || event.key !== 's' || event.shiftKey) return
      if (event.ctrlKey || event.metaKey) event.preventDefault()
      setDialogue('save')
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])

  const name = saved?.name ?? 'New segment'
  return (
    <div className="page-head">
      <nav className="crumbs" aria-label="Breadcrumbs">
        <Link to="/people">People</Link>
        <span aria-hidden="true">›</span>
        <Link to="/people/segments">Segments</Link>
        <span aria-hidden="true">›</span>
        <strong>{name}</strong>
        {saved && <span className={frozen ? 'state-chip' : 'state-chip live'}>{frozen ? 'frozen' : 'live'}</span>}
        {typeof saved?.deletedMs === 'number' && <span className="loss">deleted</span>}
        {!frozen && (
          <span className="soft">
            {!saved
              ? 'not saved yet'
              : edited
                ? 'changed, not saved'
                : `saved ${formatMoment(saved.savedMs, zone, thisYear)}`}
          </span>
        )}
      </nav>
      <div className="page-actions">
        {!frozen && (
          <UndoRedo undo={editing.undo} redo={editing.redo} canUndo={editing.canUndo} canRedo={editing.canRedo} />
        )}
        {places > 0 && (
          <Button aria-haspopup="dialog" onClick={(event) => setAnchor({ kind: 'uses', at: event.currentTarget })}>
            Used in {countOf(places, 'place', 'places')}
          </Button>
        )}
        {saved && (
          <Button aria-haspopup="menu" onClick={(event) => setAnchor({ kind: 'more', at: event.currentTarget })}>
            More
          </Button>
        )}
        <StudyThem people={{ rule: saved && !edited ? inSegment(saved.id) : rule }} />
        {!frozen && (
          <Button variant="outlined" disabled={!count} onClick={() => setDialogue('freeze')}>
            Freeze a copy
          </Button>
        )}
        <Button ref={saveButton} variant="contained" onClick={() => setDialogue('save')}>
          {frozen ? 'Name' : 'Save'}
        </Button>
      </div>
      <Popover
        open={anchor?.kind === 'uses'}
        anchorEl={anchor?.at ?? null}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <div className="editor">
          <UsesList uses={uses} />
        </div>
      </Popover>
      <Menu anchorEl={anchor?.at ?? null} open={anchor?.kind === 'more'} onClose={() => setAnchor(null)}>
        {saved && (
          <MenuItem component={Link} to={`/outreach/kept/new?segment=${saved.id}`} onClick={() => setAnchor(null)}>
            Keep in step with…
          </MenuItem>
        )}
        {saved && (
          <MenuItem component={Link} to={`/outreach/messages/new?segment=${saved.id}`} onClick={() => setAnchor(null)}>
            Write them a message…
          </MenuItem>
        )}
        {history.slice(0, 12).map((state) => (
          <MenuItem
            key={state.savedMs}
            component={Link}
            to={segmentAddress(state.rule, saved!.id)}
            onClick={() => setAnchor(null)}
          >
            As saved {formatMoment(state.savedMs, zone, thisYear)}
          </MenuItem>
        ))}
        <MenuItem
          className="loss"
          onClick={() => {
            setAnchor(null)
            setDialogue('delete')
          }}
        >
          Delete
        </MenuItem>
      </Menu>
      <SaveSegmentDialog
        open={dialogue === 'save'}
        saved={saved}
        uses={edited ? uses : null}
        onClose={() => setDialogue(null)}
        onSave={({ fields, asNew }) => {
          setDialogue(null)
          const intent = frozen ? 'describe' : asNew ? 'save new' : 'save'
          const id: Record<string, string> = saved && !asNew ? { id: saved.id } : {}
          void fetcher.submit(
            { intent, ...id, ...fields, rule: JSON.stringify(rule) },
            { method: 'post', action: '/people/segments' },
          )
        }}
      />
      <SavePeopleDialog
        open={dialogue === 'freeze'}
        people={{ rule }}
        count={count?.members ?? null}
        frozenOnly
        name={saved ? `${saved.name}, ${formatMoment(count?.now ?? 0, zone, thisYear)}` : ''}
        onClose={() => setDialogue(null)}
      />
      <DeleteSegmentDialog
        segment={dialogue === 'delete' ? saved : null}
        uses={uses}
        leave
        onClose={() => setDialogue(null)}
      />
      <Snackbar open={told !== null} autoHideDuration={6000} onClose={() => setTold(null)} message={told} />
    </div>
  )
}
