import { NavLink } from 'react-router'
import { formatNumber } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'

/** The parts of the place People. */
export function PeopleTabs() {
  const { status, segments } = useWorkspace()
  return (
    <nav className="tabs" aria-label="Parts of People">
      <NavLink to="/people" end className="tab">
        Everybody <span>{formatNumber(status.people)}</span>
      </NavLink>
      <NavLink to="/people/segments" end className="tab">
        Segments <span>{formatNumber(segments.length)}</span>
      </NavLink>
    </nav>
  )
}
