import { Chart } from 'chart.js'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import { formatNumber } from '../../core/words/format.js'
import type { SegmentSize } from '../../server/engine/segments.js'
import '../charts/register.js'
import { seriesVar } from '../look/palette.js'
import { chartMove } from '../ui/arrows.js'
import { usePalette } from '../look/usePalette.js'
import { useWorkspace } from '../page/workspace.js'
import { pointName, sizeConfig, sizeLines } from './sizeConfig.js'
import { useWidth } from '../charts/useWidth.js'
import type { Selected } from './selected.js'

/** Sizes on a canvas. Arrows move from point to point, Enter selects the people of that moment. */
export default function SizeChart(props: {
  size: SegmentSize
  rule: RuleGroup
  onSelect: (selected: Selected) => void
}) {
  const { size, rule, onSelect } = props
  const { words } = useWorkspace()
  const palette = usePalette()
  const canvas = useRef<HTMLCanvasElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<Chart<'line', number[], string>>(null)
  const [at, setAt] = useState<number | null>(null)
  const width = useWidth(box, 800)
  const wide = width >= 520
  const lines = useMemo(() => sizeLines(size), [size])
  const config = useMemo(
    () => sizeConfig(size, { palette, words, selected: at, wide }),
    [size, palette, words, at, wide],
  )
  const latest = useRef<(index: number) => void>(() => {})
  latest.current = (index) => {
    setAt(index)
    onSelect(selectionAt(size, index, rule, pointName(size.points[index].key, size.every, words)))
  }
  useEffect(() => {
    const made = new Chart(canvas.current!, {
      ...config,
      options: {
        ...config.options,
        onClick(event, _elements, self) {
          const [hit] = self.getElementsAtEventForMode(event as never, 'index', { intersect: false }, false)
          if (hit) latest.current(hit.index)
        },
      },
    })
    chart.current = made
    return () => made.destroy()
  }, [config])
  const onKey = (event: KeyboardEvent) => {
    const move = chartMove(event.key)
    const here = at ?? size.points.length - 1
    if (move) {
      event.preventDefault()
      setAt(Math.min(size.points.length - 1, Math.max(0, here + (at === null ? 0 : move[1]))))
    } else if (event.key === 'Enter') {
      event.preventDefault()
      latest.current(here)
    }
  }
  const point = at === null ? null : size.points[at]
  return (
    <div className="chart-box" ref={box}>
      {lines.length > 1 && !wide && (
        <ul className="legend">
          {lines.map((line, index) => (
            <li key={line.label}>
              <i style={{ background: seriesVar(index, line.rest) }} />
              {line.label}
            </li>
          ))}
        </ul>
      )}
      <div
        className="chart-canvas"
        role="group"
        aria-label="Size over time. Arrow keys move from point to point, Enter selects the people of that moment."
        tabIndex={0}
        onKeyDown={onKey}
      >
        <canvas ref={canvas} aria-hidden="true" />
        <span className="sr-only" aria-live="polite">
          {point && `${pointName(point.key, size.every, words)}: ${formatNumber(point.members)} people`}
        </span>
      </div>
    </div>
  )
}

/** The members as of a point, and who came and went since the point before. */
function selectionAt({ points }: SegmentSize, index: number, rule: RuleGroup, name: string): Selected {
  const { at, open } = points[index]
  const now: PeopleRef = open ? { rule } : { rule, at }
  if (index === 0) return { people: now, choices: [] }
  const since = points[index - 1].at
  const came = (which: 'in' | 'out'): PeopleRef => ({ rule, came: which, since, ...(open ? {} : { at }) })
  return {
    people: now,
    choices: [
      { label: `Came in by ${name}`, people: came('in') },
      { label: 'Went out', people: came('out') },
    ],
  }
}
