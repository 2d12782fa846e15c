import { capital, countOf, formatMoment, formatNumber } from '../../core/words/format.js'
import type { Segment } from '../../server/store/segments.js'
import { useWorkspace } from '../page/workspace.js'
import { RuleText } from './RuleText.js'
import type { SegmentData } from './segment.js'

/** A list that keeps its members: when it was made, and how. */
export function FrozenSheet({ segment, unknown }: { segment: Segment; unknown: SegmentData['unknown'] }) {
  const { zone, thisYear } = useWorkspace()
  return (
    <>
      <h1 className="question">
        A list of people, frozen on <strong>{formatMoment(segment.frozenMs!, zone, thisYear)}</strong>
      </h1>
      {segment.origin && <p>{capital(segment.origin)}.</p>}
      <p className="soft">
        It keeps its members, whatever they do. When two of them turn out to be one person, they are one here too.
      </p>
      {segment.rule && (
        <>
          <h2 className="overline">The rule it was read from</h2>
          <RuleText rule={segment.rule} />
        </>
      )}
      {unknown && unknown.count > 0 && (
        <details className="unknown-ids">
          <summary>{countOf(unknown.count, 'id', 'ids')} of the file that nobody has</summary>
          <p>
            <a href={`/download/unknown/${segment.id}`} download>
              Download them with their line numbers
            </a>
          </p>
          <ul>
            {unknown.first.map(({ line, value }) => (
              <li key={line}>
                <span className="soft">line {formatNumber(line)}</span> {value}
              </li>
            ))}
          </ul>
          {unknown.count > unknown.first.length && (
            <p className="soft">… and {formatNumber(unknown.count - unknown.first.length)} more in the download.</p>
          )}
        </details>
      )}
    </>
  )
}
