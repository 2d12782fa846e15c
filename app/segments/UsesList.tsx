import { Link } from 'react-router'
import type { SegmentUses } from '../../server/doors/segments.js'

/** Where a segment is used, each place a link. */
export function UsesList({ uses }: { uses: SegmentUses }) {
  const lines = [
    ...uses.studies.map(({ id, name }) => ({ to: `/studies/${id}`, name, what: 'study' })),
    ...uses.dashboards.map(({ id, name }) => ({ to: `/dashboards/${id}`, name, what: 'dashboard' })),
    ...uses.segments.map(({ id, name }) => ({ to: `/people/segments/${id}`, name, what: 'segment' })),
    ...uses.kept.map(({ id, name }) => ({ to: `/outreach/kept/${id}`, name, what: 'kept in step' })),
    ...uses.messages.map(({ id, name }) => ({ to: `/outreach/messages/${id}`, name, what: 'message' })),
  ]
  return (
    <ul className="uses">
      {lines.map(({ to, name, what }) => (
        <li key={to}>
          <Link to={to}>{name}</Link> <span className="soft">{what}</span>
        </li>
      ))}
    </ul>
  )
}
