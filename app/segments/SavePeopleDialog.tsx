import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useEffect, useState } from 'react'
import { Link, useFetcher } from 'react-router'
import type { PeopleRef } from '../../core/analyses/people.js'
import { peopleWords } from '../analyses/words.js'
import { lostForGood, ruleOfPeople } from '../../core/analyses/peopleRule.js'
import { countOf } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import { RuleText } from './RuleText.js'
import { SaidFields, useSaid } from './SaidFields.js'
import type { SegmentActed } from './act.server.js'

/** Saves the people of a selection: by the rule that says who they are, or as a list of exactly these. */
export function SavePeopleDialog(props: {
  open: boolean
  people: PeopleRef
  count: number | null
  /** a list is wanted, not a rule */
  frozenOnly?: boolean
  name?: string
  onClose: () => void
}) {
  const { open, people, count, frozenOnly = false, name = '', onClose } = props
  const { words } = useWorkspace()
  const fetcher = useFetcher<SegmentActed>()
  const rule = frozenOnly ? null : ruleOfPeople(people)
  const waits = JSON.stringify(lostForGood(people)) !== JSON.stringify(people)
  const [live, setLive] = useState(rule !== null)
  const said = useSaid(open, { name, description: `People ${peopleWords(people, words)}`.slice(0, 500), tags: [] })
  useEffect(() => {
    if (open) setLive(rule !== null)
    // The choice starts anew when the dialog opens, not while it is open.
  }, [open])
  const done = fetcher.data && 'saved' in fetcher.data && fetcher.state === 'idle' ? fetcher.data : null
  const [told, setTold] = useState(false)
  useEffect(() => {
    if (done) setTold(true)
  }, [done])
  useEffect(() => {
    if (open) setTold(false)
  }, [open])
  const save = () =>
    void fetcher.submit(
      { intent: live ? 'save people live' : 'freeze', people: JSON.stringify(people), ...said.fields },
      { method: 'post', action: '/people/segments' },
    )
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="save-people-title">
      <DialogTitle id="save-people-title">
        Save {count === null ? 'them' : countOf(count, 'person', 'people')} as a segment
      </DialogTitle>
      {told && done ? (
        <>
          <DialogContent>
            <p>
              <Link to={`/people/segments/${done.saved}`}>{said.fields.name}</Link> holds{' '}
              {countOf(done.members ?? count ?? 0, 'person', 'people')}
              {done.remark ? `. ${done.remark}` : '.'}
            </p>
          </DialogContent>
          <DialogActions>
            <Button onClick={onClose}>Close</Button>
            <Button component={Link} to={`/outreach/kept/new?segment=${done.saved}`}>
              Keep in step with…
            </Button>
            <Button component={Link} to={`/outreach/messages/new?segment=${done.saved}`}>
              Write them a message…
            </Button>
            <Button variant="contained" component={Link} to={`/people/segments/${done.saved}`}>
              Open it
            </Button>
          </DialogActions>
        </>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            if (said.fields.name !== '') save()
          }}
        >
          <DialogContent className="stack">
            <SaidFields said={said} />
            <fieldset className="kind-choice">
              <legend>How it goes on</legend>
              {rule && (
                <label>
                  <input type="radio" name="kind" checked={live} onChange={() => setLive(true)} />
                  <span>
                    <strong>Live</strong>: whoever this holds for, people come in and go out.
                    {waits && ' Those who may still go on come in once their time is up.'}
                    <RuleText rule={rule} />
                  </span>
                </label>
              )}
              <label>
                <input type="radio" name="kind" checked={!live} onChange={() => setLive(false)} />
                <span>
                  <strong>Frozen</strong>: exactly these{count === null ? '' : ` ${countOf(count, 'person', 'people')}`}
                  , whatever they do.
                  {!rule && !frozenOnly && ' This selection moves on with time, so no rule can say it.'}
                </span>
              </label>
            </fieldset>
            {fetcher.data && 'problem' in fetcher.data && <Alert severity="error">{fetcher.data.problem}</Alert>}
          </DialogContent>
          <DialogActions>
            <Button onClick={onClose}>Cancel</Button>
            <Button variant="contained" type="submit" disabled={said.fields.name === '' || fetcher.state !== 'idle'}>
              Save
            </Button>
          </DialogActions>
        </form>
      )}
    </Dialog>
  )
}
