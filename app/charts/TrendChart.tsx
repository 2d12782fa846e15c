import type { Words } from '../../core/words/words.js'
import { Chart } from 'chart.js'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { Mark } from '../../core/questions/parts.js'
import { seriesColour } from '../palette.js'
import { usePalette } from '../usePalette.js'
import './register.js'
import { showsEndLabels, trendConfig } from './trendConfig.js'
import { bucketLabel, chartSeries, formatValue } from './trendSeries.js'
import { arrowMove } from '../ui/arrows.js'

interface TrendChartProps {
  result: TrendResult
  question: TrendQuestion
  words: Words
  selected?: readonly Mark[]
  /** left out: the chart is only read */
  onSelect?: (mark: Mark, add: boolean) => void
}

/** Lines, areas or bars on a canvas. Arrows move from point to point, Enter selects, and each point is read out. */
export default function TrendChart({ result, question, words, selected = [], onSelect }: TrendChartProps) {
  const palette = usePalette()
  const canvas = useRef<HTMLCanvasElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<Chart<'line' | 'bar', (number | null)[], string>>(null)
  const [width, setWidth] = useState(900)
  const [at, setAt] = useState<{ series: number; bucket: number } | null>(null)
  const series = useMemo(() => chartSeries(result, question, words), [result, question, words])
  const input = { result, question, palette, words, width, selected }
  const latest = useRef({ onSelect, series, result })
  latest.current = { onSelect, series, result }

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.round(entry.contentRect.width)))
    if (box.current) observer.observe(box.current)
    return () => observer.disconnect()
  }, [])

  const narrow = width < 520
  useEffect(() => {
    const config = trendConfig({ result, question, palette, words, width: narrow ? 400 : 900, selected })
    const made = new Chart(canvas.current!, {
      ...config,
      options: {
        ...config.options,
        onClick(event, _elements, self) {
          const [hit] = self.getElementsAtEventForMode(
            event as never,
            'nearest',
            { intersect: false, axis: 'xy' },
            false,
          )
          const { onSelect: select, series: rows, result: shown } = latest.current
          if (!hit || !select) return
          const native = event.native as MouseEvent
          select(
            markOf(rows[hit.datasetIndex].key, shown.buckets[hit.index].key),
            native.shiftKey || native.ctrlKey || native.metaKey,
          )
        },
      },
    })
    chart.current = made
    return () => made.destroy()
  }, [result, question, palette, words, narrow, selected])

  useEffect(() => {
    const made = chart.current
    if (!made || !at) return
    const point = { datasetIndex: at.series, index: at.bucket }
    made.setActiveElements([point])
    made.tooltip?.setActiveElements([point], { x: 0, y: 0 })
    made.update('none')
  }, [at])

  const onKey = (event: KeyboardEvent) => {
    const move = arrowMove(event.key)
    const here = at ?? { series: 0, bucket: result.buckets.length - 1 }
    if (move) {
      event.preventDefault()
      setAt({
        series: Math.min(series.length - 1, Math.max(0, here.series + move[0])),
        bucket: Math.min(result.buckets.length - 1, Math.max(0, here.bucket + (at ? move[1] : 0))),
      })
    } else if (event.key === 'Enter' && at && onSelect) {
      event.preventDefault()
      onSelect(markOf(series[at.series].key, result.buckets[at.bucket].key), event.shiftKey || event.ctrlKey)
    }
  }
  const said =
    at && series[at.series] && result.buckets[at.bucket]
      ? `${series[at.series].label}, ${bucketLabel(result.buckets[at.bucket].key, question.every, words)}: ${formatValue(series[at.series].values[at.bucket], question)}`
      : ''
  const legend = series.length > 1 && !showsEndLabels({ ...input, width: narrow ? 400 : 900 })
  return (
    <div className="chart-box" ref={box}>
      {legend && (
        <ul className="legend">
          {series.map(({ label, rest }, i) => (
            <li key={label}>
              <i style={{ background: seriesColour(palette, i, rest) }} />
              {label}
            </li>
          ))}
        </ul>
      )}
      <div
        className="chart-canvas"
        role="group"
        aria-label="Chart. Arrow keys move from point to point, Enter selects the people counted there."
        tabIndex={0}
        onKeyDown={onKey}
      >
        <canvas ref={canvas} aria-hidden="true" />
        <span className="sr-only" aria-live="polite">
          {said}
        </span>
      </div>
    </div>
  )
}

function markOf(group: Mark['group'] | null, bucket: string): Mark {
  return { kind: 'point', bucket, ...(group ? { group } : {}) }
}
