import CloseIcon from '@mui/icons-material/Close'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import { Link } from 'react-router'
import { usualTrend } from '../../core/analyses/trend/question.js'
import { formatDay, formatNumber, formatPercent } from '../../core/words/format.js'
import type { EventDetail } from '../../server/engine/catalog.js'
import type { Uses } from '../../server/doors/uses.js'
import { studyAddress } from '../address/address.js'
import { Sparkline } from '../charts/Sparkline.js'
import { useWorkspace } from '../page/workspace.js'
import { dayIn } from './days.js'
import { MergeField } from './MergeField.js'
import { weeksWords } from './weeksWords.js'

/** What there is to know of an event at a glance, beside the table. */
export function EventPanel(props: {
  event: EventDetail
  events: readonly EventDetail[]
  uses: Uses | null
  onClose: () => void
}) {
  const { event, events, uses, onClose } = props
  const { zone, thisYear } = useWorkspace()
  const said = weeksWords(event.weeks)
  return (
    <aside className="sheet pad panel" aria-label={event.name}>
      <div className="row between">
        <h2 className="panel-title">{event.display || event.name}</h2>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </div>
      <p className="soft">
        {event.description || 'Nobody has said yet what it means.'}
        {event.display && ` It arrives as “${event.name}”.`}
      </p>
      {event.events > 0 ? (
        <>
          <div className="panel-curve">
            <Sparkline values={event.weeks} open={false} colour={said.falls ? 'var(--brick)' : 'var(--water)'} />
          </div>
          <p className="hint">
            Last 8 weeks, {formatNumber(Math.max(...event.weeks))} at most. First{' '}
            {formatDay(dayIn(event.firstMs!, zone), thisYear)}, last {formatDay(dayIn(event.lastMs!, zone), thisYear)},{' '}
            {formatNumber(event.events)} in all.
          </p>
          {said.words && <p className="caution">{said.words}</p>}
        </>
      ) : (
        <p className="caution">Planned: it has not arrived yet.</p>
      )}
      {event.properties.length > 0 && (
        <>
          <h3 className="overline">Carries</h3>
          <ul className="panel-list">
            {event.properties.slice(0, 8).map(({ name, events: n }) => (
              <li key={name}>
                <Link to={`/catalog/properties?property=${encodeURIComponent(name)}`}>{name}</Link>
                <span>{formatPercent(n / event.events, 0)}</span>
              </li>
            ))}
            {event.properties.length > 8 && <li className="soft">and {event.properties.length - 8} more</li>}
          </ul>
        </>
      )}
      {uses && <UsesList uses={uses} />}
      <MergeField
        what="event"
        from={event.name}
        into={event.mergedInto}
        choices={events.filter((each) => each.name !== event.name && !each.mergedInto).map(({ name }) => name)}
      />
      <div className="row wrap panel-actions">
        <Button variant="outlined" component={Link} to={`/catalog/events/${encodeURIComponent(event.name)}`}>
          Open its page
        </Button>
        {event.events > 0 && (
          <Button component={Link} to={studyAddress(usualTrend(event.name))}>
            Ask about it
          </Button>
        )}
      </div>
    </aside>
  )
}

/** Where something is used; says so where it is used nowhere. */
export function UsesList({ uses }: { uses: Uses }) {
  const { studies, dashboards, made } = uses
  const nowhere = studies.length + dashboards.length + made.length === 0
  return (
    <>
      <h3 className="overline">Used in</h3>
      {nowhere && <p className="soft">No study, dashboard or definition uses it.</p>}
      <ul className="panel-list">
        {studies.map(({ id, name }) => (
          <li key={id}>
            <Link to={`/studies/${id}`}>{name}</Link>
            <span className="soft">study</span>
          </li>
        ))}
        {dashboards.map(({ id, name }) => (
          <li key={id}>
            <Link to={`/dashboards/${id}`}>{name}</Link>
            <span className="soft">dashboard</span>
          </li>
        ))}
        {made.map(({ name, what }) => (
          <li key={`${what} ${name}`}>
            <Link to={what === 'channel rules' ? '/catalog/channels' : '/catalog/made'}>{name}</Link>
            <span className="soft">{what}</span>
          </li>
        ))}
      </ul>
    </>
  )
}
