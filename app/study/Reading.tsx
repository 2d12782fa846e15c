import { Link } from 'react-router'
import type { Reading as ReadingParts } from '../../core/words/sentence.js'
import type { Finding } from '../../core/words/words.js'
import { studyAddress } from '../address/address.js'
import type { Look } from '../analyses/leads.js'

/** *What this says*: findings, cautions, and where to look next. */
export function Reading({ reading, next }: { reading: ReadingParts; next: readonly Look[] }) {
  return (
    <aside className="sheet reading" aria-label="What this says">
      <h2 className="overline">What this says</h2>
      {reading.findings.map((finding, i) => (
        <p key={i}>
          <Prose pieces={finding} />
        </p>
      ))}
      {reading.stopped && (
        <p>
          <Link to={liveAddress(reading.stopped.event)}>See what arrives, live</Link>
        </p>
      )}
      {reading.cautions.map((caution, i) => (
        <p key={i} className="caution">
          <Prose pieces={caution} />
        </p>
      ))}
      {next.length > 0 && (
        <>
          <h2 className="overline">Where to look next</h2>
          <ul className="next">
            {next.map(({ label, question }) => (
              <li key={label}>
                <Link to={studyAddress(question)}>{label}</Link>
              </li>
            ))}
          </ul>
        </>
      )}
    </aside>
  )
}

const liveAddress = (event: string | null) =>
  `/catalog/live${event === null ? '' : `?event=${encodeURIComponent(event)}`}`

export function Prose({ pieces }: { pieces: Finding }) {
  return pieces.map((piece, i) =>
    piece.strong ? (
      <strong key={i} className={piece.tone ?? ''}>
        {piece.text}
      </strong>
    ) : (
      <span key={i}>{piece.text}</span>
    ),
  )
}
