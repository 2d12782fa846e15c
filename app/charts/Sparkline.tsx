/** A small curve without axes; the open end is dashed. */
export function Sparkline(props: { values: readonly (number | null)[]; open: boolean; colour: string }) {
  const { values, open, colour } = props
  const top = Math.max(1e-9, ...values.map((value) => value ?? 0))
  const points = values.flatMap((value, i) =>
    value === null
      ? []
      : [`${((i / Math.max(1, values.length - 1)) * 240).toFixed(1)},${(44 - (value / top) * 40).toFixed(1)}`],
  )
  const whole = open ? points.slice(0, -1) : points
  return (
    <svg className="sparkline" viewBox="0 0 240 48" preserveAspectRatio="none" aria-hidden="true">
      {/* The ground down to zero, so that a small change looks small. */}
      <polygon points={`0,46 ${points.join(' ')} 240,46`} fill={colour} opacity="0.1" />
      <polyline
        points={whole.join(' ')}
        fill="none"
        stroke={colour}
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
      />
      {open && (
        <polyline
          points={points.slice(-2).join(' ')}
          fill="none"
          stroke={colour}
          strokeWidth="2"
          strokeDasharray="2 4"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  )
}
