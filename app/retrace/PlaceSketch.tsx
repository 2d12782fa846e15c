import { sketchOf } from '../../core/retrace/timeline.js'

/** A plain drawing of where an event happened: a phone's screen or a page, with what such a place is mostly made of. */
export function PlaceSketch({
  place,
  refused,
}: {
  place: { kind: 'screen' | 'page'; name: string }
  refused: boolean
}) {
  const { kind, name } = place
  const phone = kind === 'screen'
  const [width, height] = phone ? [120, 200] : [200, 140]
  const inner = { x: 8, y: phone ? 30 : 28, w: width - 16, h: height - (phone ? 44 : 36) }
  return (
    <figure className="place-sketch">
      <svg viewBox={`0 0 ${width} ${height}`} width={width} height={height} role="img" aria-label={`${kind} ${name}`}>
        <rect x="1" y="1" width={width - 2} height={height - 2} rx={phone ? 16 : 8} className="frame" />
        {phone ? (
          <rect x={width / 2 - 16} y="8" width="32" height="5" rx="2.5" className="bar" />
        ) : (
          <>
            <circle cx="12" cy="13" r="3" className="bar" />
            <rect x="22" y="8" width={width - 34} height="10" rx="5" className="bar" />
          </>
        )}
        <Inside what={sketchOf(name)} {...inner} />
        {refused && (
          <g className="cross">
            <line x1={width / 2 - 14} y1={height / 2 - 14} x2={width / 2 + 14} y2={height / 2 + 14} />
            <line x1={width / 2 + 14} y1={height / 2 - 14} x2={width / 2 - 14} y2={height / 2 + 14} />
          </g>
        )}
      </svg>
      <figcaption>
        {kind} <strong>{name}</strong>
      </figcaption>
    </figure>
  )
}

interface Box {
  x: number
  y: number
  w: number
  h: number
}

function Inside({ what, x, y, w, h }: Box & { what: ReturnType<typeof sketchOf> }) {
  const line = (key: number, top: number, share = 1) => (
    <rect key={key} x={x} y={top} width={w * share} height="5" rx="2.5" className="line" />
  )
  switch (what) {
    case 'map':
      return (
        <>
          <rect x={x} y={y} width={w} height={h} rx="4" className="area" />
          <path
            d={`M${x} ${y + h * 0.65}L${x + w} ${y + h * 0.35}M${x + w * 0.35} ${y}L${x + w * 0.6} ${y + h}`}
            className="road"
          />
          {[
            [0.25, 0.3],
            [0.7, 0.25],
            [0.55, 0.7],
          ].map(([left, top]) => (
            <circle key={left} cx={x + w * left} cy={y + h * top} r="5" className="pin" />
          ))}
        </>
      )
    case 'form':
      return (
        <>
          {[0, 1, 2].map((row) => (
            <rect key={row} x={x} y={y + row * 22} width={w} height="15" rx="4" className="field" />
          ))}
          <rect x={x} y={y + 72} width={w * 0.6} height="16" rx="5" className="pin" />
        </>
      )
    case 'list':
      return (
        <>
          {[0, 1, 2, 3].map((row) => (
            <g key={row}>
              <rect x={x} y={y + row * 24} width="16" height="16" rx="3" className="area" />
              <rect x={x + 22} y={y + row * 24 + 5} width={w - 26 - row * 8} height="5" rx="2.5" className="line" />
            </g>
          ))}
        </>
      )
    case 'start':
      return (
        <>
          <rect x={x} y={y} width={w} height={h * 0.45} rx="4" className="area" />
          <rect x={x} y={y + h * 0.45 + 10} width={w * 0.5} height="16" rx="5" className="pin" />
          {line(1, y + h * 0.45 + 36, 0.9)}
        </>
      )
    case 'article':
      return <>{[1, 0.9, 0.96, 0.7, 0.85].map((share, row) => line(row, y + row * 14, share))}</>
  }
}
