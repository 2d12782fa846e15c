import { Chart, type ChartConfiguration, type Plugin } from 'chart.js'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import type { OverTime } from '../../../core/analyses/funnel/finish.js'
import { targetWords } from '../../../core/analyses/funnel/sentence.js'
import type { Mark } from '../../../core/questions/parts.js'
import { formatNumber, formatPercent } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'
import { endLabels, LABEL_FONT } from '../../charts/plugins.js'
import '../../charts/register.js'
import { labelWidth } from '../../charts/trendConfig.js'
import { bucketLabel } from '../../charts/trendSeries.js'
import { seriesColour, seriesVar, type Palette } from '../../palette.js'
import { arrowMove } from '../../ui/arrows.js'
import { usePalette } from '../../usePalette.js'
import { useWidth } from '../../charts/useWidth.js'
import type { RateLine } from './rateLines.js'

interface RateChartProps {
  over: OverTime
  lines: readonly RateLine[]
  target: number | null
  words: Words
  selected: readonly Mark[]
  onSelect?: (mark: Mark, add: boolean) => void
}

/** Rates on a canvas; a point with attempts that may still go on is dashed. Arrows move, Enter selects who got there. */
export default function RateChart({ over, lines, target, words, selected, onSelect }: RateChartProps) {
  const palette = usePalette()
  const canvas = useRef<HTMLCanvasElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<Chart<'line', (number | null)[], string>>(null)
  const [at, setAt] = useState<{ line: number; bucket: number } | null>(null)
  const width = useWidth(box, 900)
  const wide = width >= 560
  // The lines are made anew with every render; what they say is what matters.
  const drawn = JSON.stringify(lines)
  const config = useMemo(
    () => configOf({ over, lines: JSON.parse(drawn) as RateLine[], target, words, palette, wide }),
    [over, drawn, target, words, palette, wide],
  )
  const latest = useRef<(line: number, bucket: number, add: boolean) => void>(() => {})
  latest.current = (line, bucket, add) => {
    const { step, key, parts } = lines[line]
    if (parts[bucket] === 0) return
    onSelect?.(
      { ...{ kind: 'step', step, what: 'reached', bucket: over.buckets[bucket].key }, ...(key ? { group: key } : {}) },
      add,
    )
  }
  useEffect(() => {
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
          const native = event.native as MouseEvent
          if (hit) latest.current(hit.datasetIndex, hit.index, native.shiftKey || native.ctrlKey || native.metaKey)
        },
      },
    })
    chart.current = made
    return () => made.destroy()
  }, [config])
  useEffect(() => {
    const made = chart.current
    if (!made || !at || !made.data.datasets[at.line]) return
    const point = { datasetIndex: at.line, index: at.bucket }
    made.setActiveElements([point])
    made.tooltip?.setActiveElements([point], { x: 0, y: 0 })
    made.update('none')
  }, [at, config])
  const onKey = (event: KeyboardEvent) => {
    const move = arrowMove(event.key)
    const here = at ?? { line: 0, bucket: over.buckets.length - 1 }
    if (move) {
      event.preventDefault()
      setAt({
        line: Math.min(lines.length - 1, Math.max(0, here.line + (at ? move[0] : 0))),
        bucket: Math.min(over.buckets.length - 1, Math.max(0, here.bucket + (at ? move[1] : 0))),
      })
    } else if (event.key === 'Enter' && at && lines[at.line]) {
      event.preventDefault()
      latest.current(at.line, at.bucket, event.shiftKey || event.ctrlKey)
    }
  }
  const line = at && lines[at.line]
  const isChosen = selected.length > 0
  return (
    <div className="chart-box" ref={box}>
      {lines.length > 1 && !wide && (
        <ul className="legend">
          {lines.map((each, index) => (
            <li key={index}>
              <i style={{ background: seriesVar(index, each.rest) }} />
              {each.label}
            </li>
          ))}
        </ul>
      )}
      <div
        className={`chart-canvas${isChosen ? ' has-selection' : ''}`}
        role="group"
        aria-label="Conversion over time. Arrow keys move from point to point, Enter selects the people who got there."
        tabIndex={0}
        onKeyDown={onKey}
      >
        <canvas ref={canvas} aria-hidden="true" />
        <span className="sr-only" aria-live="polite">
          {line &&
            `${line.label}, ${bucketLabel(over.buckets[at.bucket].key, over.every, words)}: ${pointWords(line, at.bucket)}`}
        </span>
      </div>
    </div>
  )
}

function pointWords({ rates, parts, wholes, open }: RateLine, at: number): string {
  const still = open[at] > 0 ? `, ${formatNumber(open[at])} still open` : ''
  return `${formatPercent(rates[at])}, ${formatNumber(parts[at])} of ${formatNumber(wholes[at])}${still}`
}

function configOf(input: {
  over: OverTime
  lines: readonly RateLine[]
  target: number | null
  words: Words
  palette: Palette
  wide: boolean
}): ChartConfiguration<'line', (number | null)[], string> {
  const { over, lines, target, words, palette, wide } = input
  const colourOf = (line: RateLine, index: number) => seriesColour(palette, index, line.rest)
  const labelled = lines.length > 1 && wide
  const lead = over.every === 'week' ? 'Week of ' : over.every === 'quarter' ? 'Quarter from ' : ''
  return {
    type: 'line',
    data: {
      labels: over.buckets.map(({ key }) => bucketLabel(key, over.every, words)),
      datasets: lines.map((line, index) => ({
        label: line.label,
        data: line.rates,
        borderColor: colourOf(line, index),
        backgroundColor: colourOf(line, index),
        borderWidth: over.buckets.length > 120 ? 1.5 : 2.2,
        pointRadius: over.buckets.length === 1 ? 3.5 : 0,
        pointHoverRadius: 5,
        pointHitRadius: 12,
        segment: { borderDash: (context) => (line.open[context.p1DataIndex] > 0 ? [3, 4] : undefined) },
      })),
    },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { right: labelled ? labelWidth(lines) + 14 : 14, top: 8 } },
      scales: {
        x: {
          grid: { display: false },
          border: { color: palette.rule },
          ticks: { color: palette.soft, maxRotation: 0, autoSkipPadding: 22 },
        },
        y: {
          beginAtZero: true,
          suggestedMax: target ?? 0.1,
          grid: { color: palette.hairline },
          border: { display: false },
          ticks: { color: palette.soft, maxTicksLimit: 5, callback: (value) => formatPercent(Number(value), 0) },
        },
      },
      plugins: {
        tooltip: {
          backgroundColor: palette.tray,
          titleColor: palette.trayInk,
          bodyColor: palette.trayInk,
          padding: 10,
          boxPadding: 4,
          usePointStyle: true,
          callbacks: {
            title: ([item]) => (item ? `${lead}${item.label}` : ''),
            label: (item) => `${item.dataset.label}: ${pointWords(lines[item.datasetIndex], item.dataIndex)}`,
          },
        },
      },
    },
    plugins: [
      ...(target === null ? [] : [targetLine(target, palette)]),
      ...(labelled
        ? [
            endLabels(
              lines.map((line, i) => ({ text: line.label.slice(0, 22), colour: colourOf(line, i) })),
            ) as Plugin<'line'>,
          ]
        : []),
    ],
  }
}

/** The share aimed at, as a line across. */
function targetLine(target: number, { hazel }: Palette): Plugin<'line'> {
  return {
    id: 'target',
    afterDatasetsDraw({ ctx, chartArea, scales }) {
      const y = scales.y.getPixelForValue(target)
      ctx.save()
      ctx.strokeStyle = hazel
      ctx.fillStyle = hazel
      ctx.setLineDash([6, 4])
      ctx.lineWidth = 1.5
      ctx.beginPath()
      ctx.moveTo(chartArea.left, y)
      ctx.lineTo(chartArea.right, y)
      ctx.stroke()
      ctx.font = LABEL_FONT
      ctx.fillText(`target ${targetWords(target)}`, chartArea.left + 6, y - 5)
      ctx.restore()
    },
  }
}
