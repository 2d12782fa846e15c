import { Link } from 'react-router'
import type { Value } from '../../core/log/values.js'
import { formatMoment } from '../../core/words/format.js'
import type { StoredEvent } from '../../server/store/events.js'
import { useWorkspace } from '../page/workspace.js'

/** Where a person's page is. */
export function personAddress(event: { person: string | null; anonymous: string | null }): string {
  const [space, id] = event.person !== null ? ['known', event.person] : ['anonymous', event.anonymous!]
  return `/people/${space}/${encodeURIComponent(id)}`
}

/** One event as it came: when, who, from where, with all it carries. */
export function EventSample({ event, name = false }: { event: StoredEvent; name?: boolean }) {
  const { zone, thisYear } = useWorkspace()
  return (
    <li className="sample">
      <span className="sample-when">{formatMoment(event.timeMs, zone, thisYear)}</span>
      <span className="sample-main">
        {name && <strong>{event.event} </strong>}
        <Link to={personAddress(event)}>{event.person ?? event.anonymous}</Link>
        {event.source && <span className="soft"> · {event.source}</span>}
        <code className="sample-properties">
          {Object.entries(event.properties).map(([key, value]) => (
            <span key={key}>
              <b>{key}</b> {shown(value)}
            </span>
          ))}
        </code>
      </span>
    </li>
  )
}

function shown(value: Value): string {
  const text = JSON.stringify(value)
  return text.length > 120 ? `${text.slice(0, 120)}…` : text
}
