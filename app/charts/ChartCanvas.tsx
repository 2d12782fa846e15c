import { Chart, type ChartConfiguration } from 'chart.js'
import { useEffect, useRef, useState, type KeyboardEvent, type RefObject } from 'react'
import { seriesVar } from '../look/palette.js'
import { chartMove } from '../ui/arrows.js'
import './register.js'

/** What is drawn, as it is said: each dataset's name and what is told of each of its points. */
export interface ToldLine {
  label: string
  values: (number | null)[]
  tells: string[]
  rest?: boolean
  /** a colour of its own, as a style sheet knows it */
  colour?: string
}

interface ChartCanvasProps {
  /** measured by whoever makes the config */
  box: RefObject<HTMLDivElement | null>
  config: ChartConfiguration
  lines: readonly ToldLine[]
  /** what each place on the axis is called by itself */
  titles: readonly string[]
  /** names and colours stand above the chart */
  legend: boolean
  /** what the chart is, and what Enter does */
  label: string
  /** whether anything is selected */
  chosen: boolean
  /** left out: points cannot be selected */
  onPoint?: (line: number, at: number, add: boolean) => void
}

/** A chart on a canvas that keys can walk over: arrows move from point to point, Enter selects the one at hand. */
export function ChartCanvas({ box, config, lines, titles, legend, label, chosen, onPoint }: ChartCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const chart = useRef<Chart>(null)
  const [at, setAt] = useState<{ line: number; place: number } | null>(null)
  const latest = useRef<NonNullable<ChartCanvasProps['onPoint']>>(() => {})
  latest.current = (line, place, add) => {
    const value = lines[line]?.values[place]
    if (value !== null && value !== undefined) onPoint?.(line, place, add)
  }
  const many = lines.length
  useEffect(() => {
    const mode = config.type === 'bar' ? { intersect: true } : { intersect: false, axis: 'xy' as const }
    const made = new Chart(canvas.current!, {
      ...config,
      options: {
        ...config.options,
        onClick(event, _elements, self) {
          const hits = self.getElementsAtEventForMode(event as never, 'nearest', mode, false)
          const hit = hits.find(({ datasetIndex }) => datasetIndex < many)
          const native = event.native as MouseEvent
          if (hit) latest.current(hit.datasetIndex, hit.index, native.shiftKey || native.ctrlKey || native.metaKey)
        },
      },
    })
    chart.current = made
    return () => made.destroy()
  }, [config, many])
  useEffect(() => {
    const made = chart.current
    if (!made || !at || !made.data.datasets[at.line]) return
    const point = { datasetIndex: at.line, index: at.place }
    made.setActiveElements([point])
    made.tooltip?.setActiveElements([point], { x: 0, y: 0 })
    made.update('none')
  }, [at, config])
  const onKey = (event: KeyboardEvent) => {
    const move = chartMove(event.key)
    const here = at ?? { line: 0, place: titles.length - 1 }
    const within = (n: number, size: number) => Math.min(size - 1, Math.max(0, n))
    if (move) {
      event.preventDefault()
      setAt({
        line: within(here.line + (at ? move[0] : 0), many),
        place: within(here.place + (at ? move[1] : 0), titles.length),
      })
    } else if (event.key === 'Enter' && at && lines[at.line]) {
      event.preventDefault()
      latest.current(at.line, at.place, event.shiftKey || event.ctrlKey)
    }
  }
  const line = at && lines[at.line]
  return (
    <div className="chart-box" ref={box}>
      {legend && (
        <ul className="legend">
          {lines.map((each, index) => (
            <li key={index}>
              <i style={{ background: each.colour ?? seriesVar(index, each.rest) }} />
              {each.label}
            </li>
          ))}
        </ul>
      )}
      <div
        className={`chart-canvas${chosen ? ' has-selection' : ''}`}
        role="group"
        aria-label={label}
        tabIndex={0}
        onKeyDown={onKey}
      >
        <canvas ref={canvas} aria-hidden="true" />
        <span className="sr-only" aria-live="polite">
          {line && `${line.label}, ${titles[at.place]}: ${line.tells[at.place]}`}
        </span>
      </div>
    </div>
  )
}
