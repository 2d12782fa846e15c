import { formatNumber, formatPercent } from '../../../core/words/format.js'

/** A name, a bar, a number of people that can be pressed, and its share. */
export function ShareRow(props: {
  name: React.ReactNode
  note?: React.ReactNode
  part: number
  whole: number
  chosen: boolean
  onPress?: ((add: boolean) => void) | undefined
}) {
  const { name, note, part, whole, chosen, onPress } = props
  const share = whole > 0 ? part / whole : null
  return (
    <li className="share-row">
      <span className="share-name">
        {name}
        {note && <span className="soft">{note}</span>}
      </span>
      <span className="share-bar">
        <span className="bar" style={{ width: `${(share ?? 0) * 100}%` }} />
      </span>
      {onPress ? (
        <button
          type="button"
          className="figure-button"
          aria-pressed={chosen}
          onClick={(event) => onPress(event.shiftKey || event.ctrlKey || event.metaKey)}
        >
          {formatNumber(part)}
        </button>
      ) : (
        <span className="figure-button">{formatNumber(part)}</span>
      )}
      <span className="number soft">{formatPercent(share)}</span>
    </li>
  )
}
