import { useEffect, useId, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react'
import { partName } from '../../../core/analyses/overlap/findings.js'
import type { OverlapResult } from '../../../core/analyses/overlap/finish.js'
import { countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { seriesVar } from '../../look/palette.js'
import { eulerOf, partAt } from './euler.js'

const HEIGHT = 330
/** A part narrower than this has no room for its number: the rows beneath have it. */
const LEAST_ROOM = 11

/** Two or three segments as circles; pressing a part selects its people. Arrows go from part to part. */
export default function OverlapPicture(props: {
  result: OverlapResult
  selected: readonly number[][]
  /** left out: the picture is only read */
  onPart?: ((inside: number[], add: boolean) => void) | undefined
}) {
  const { result, selected, onPart } = props
  const box = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(760)
  const [at, setAt] = useState<number | null>(null)
  const id = useId()
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.max(260, Math.round(entry.contentRect.width))))
    if (box.current) observer.observe(box.current)
    return () => observer.disconnect()
  }, [])
  const { segments, regions, any } = result
  const euler = useMemo(() => eulerOf(segments, regions, width, HEIGHT), [segments, regions, width])
  const isSelected = (inside: readonly number[]) => selected.some((each) => each.join() === inside.join())
  const press = (event: MouseEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect()
    const inside = partAt(euler, event.clientX - frame.left, event.clientY - frame.top)
    if (inside.length > 0) onPart?.(inside, event.shiftKey || event.ctrlKey || event.metaKey)
  }
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
    if (by) {
      event.preventDefault()
      setAt(at === null ? 0 : (at + by + euler.parts.length) % euler.parts.length)
    } else if (event.key === 'Enter' && at !== null && onPart) {
      event.preventDefault()
      onPart(euler.parts[at].in, event.shiftKey || event.ctrlKey)
    }
  }
  const focus = at === null ? null : euler.parts[at]
  return (
    <div className="overlap-picture" ref={box}>
      <svg
        width={width}
        height={HEIGHT}
        role="group"
        tabIndex={0}
        aria-label={`The segments as circles. Arrow keys go from part to part${onPart ? ', Enter selects its people' : ''}.`}
        onClick={onPart && press}
        onKeyDown={onKey}
        className={onPart ? 'pressable' : ''}
      >
        <defs>
          {euler.parts.map((part, index) => (
            <mask id={`${id}${index}`} key={index}>
              <path d={part.path} fill="white" />
              {euler.circles.map(
                (circle, place) =>
                  circle &&
                  !part.in.includes(place) && (
                    <circle key={place} cx={circle.x} cy={circle.y} r={circle.radius} fill="black" />
                  ),
              )}
            </mask>
          ))}
        </defs>
        {euler.circles.map(
          (circle, place) =>
            circle && (
              <circle
                key={place}
                cx={circle.x}
                cy={circle.y}
                r={circle.radius}
                fill={seriesVar(place)}
                fillOpacity={0.2}
                stroke={seriesVar(place)}
                strokeWidth={2}
              />
            ),
        )}
        {euler.parts.map(
          (part, index) =>
            (isSelected(part.in) || index === at) && (
              <rect
                key={index}
                width={width}
                height={HEIGHT}
                mask={`url(#${id}${index})`}
                fill={isSelected(part.in) ? 'var(--ink)' : 'var(--water)'}
                fillOpacity={isSelected(part.in) ? 0.35 : 0.25}
              />
            ),
        )}
        {euler.parts.map(
          (part, index) =>
            roomAt(euler, part.in, part.at) > LEAST_ROOM && (
              <text key={index} x={part.at.x} y={part.at.y} textAnchor="middle" dominantBaseline="central">
                {formatNumber(part.people)}
              </text>
            ),
        )}
      </svg>
      <ul className="overlap-legend">
        {segments.map(({ name, people }, place) => (
          <li key={place}>
            <i style={{ background: seriesVar(place) }} />
            {name} <strong>{formatNumber(people)}</strong>
          </li>
        ))}
      </ul>
      {euler.off > 0.02 && (
        <p className="hint">
          Circles cannot show all these parts exactly: {formatPercent(euler.off)} of the area is out of place. The
          numbers are exact.
        </p>
      )}
      <span className="sr-only" aria-live="polite">
        {focus &&
          `${partName(focus, result)}: ${countOf(focus.people, 'person', 'people')}, ${formatPercent(focus.people / any)} of all in any`}
      </span>
    </div>
  )
}

/** How far the nearest circle's edge is from a place. */
function roomAt(
  { circles }: ReturnType<typeof eulerOf>,
  inside: readonly number[],
  { x, y }: { x: number; y: number },
) {
  return Math.min(
    ...circles.flatMap((circle, place) => {
      if (!circle) return []
      const from = Math.hypot(circle.x - x, circle.y - y)
      return [inside.includes(place) ? circle.radius - from : from - circle.radius]
    }),
  )
}
