import type { Words } from '../../core/words/words.js'
import { Chart } from 'chart.js'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { TrendMark } from '../../core/analyses/trend/marks.js'
import { compareWords } from '../../core/words/words.js'
import { seriesColour } from '../look/palette.js'
import type { AnnotationDraft } from '../study/AnnotationDialog.js'
import { usePalette } from '../look/usePalette.js'
import './register.js'
import { annotationsIn } from '../../core/analyses/trend/annotations.js'
import { newNote, NoteList } from './NoteList.js'
import { datasetsOf, isBars as isBarForm, isPale, showsEndLabels, trendConfig } from './trendConfig.js'
import { formatValue, markOf } from './trendSeries.js'
import { bucketLabel } from './bucketLabel.js'
import { useWidth } from './useWidth.js'
import { chartMove } from '../ui/arrows.js'

interface TrendChartProps {
  result: TrendResult
  question: TrendQuestion
  words: Words
  selected?: readonly TrendMark[]
  /** left out: the chart is only read */
  onSelect?: (mark: TrendMark, add: boolean) => void
  /** a run of buckets was drawn over, both included; left out: the time cannot be changed */
  onZoom?: (first: number, last: number) => void
  /** opens a dated note, new or old; left out: notes are only read */
  onAnnotate?: (draft: AnnotationDraft) => void
}

/** Dragging less than this is a press. */
const LEAST_DRAG = 10

/** Lines, areas or bars on a canvas. Arrows move from point to point, Enter selects, and each point is read out. */
export default function TrendChart({
  result,
  question,
  words,
  selected = [],
  onSelect,
  onZoom,
  onAnnotate,
}: TrendChartProps) {
  const palette = usePalette()
  const canvas = useRef<HTMLCanvasElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<Chart<'line' | 'bar', (number | null)[], string>>(null)
  const width = useWidth(box, 900)
  const [at, setAt] = useState<{ set: number; bucket: number } | null>(null)
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null)
  const dragged = useRef(false)
  const narrow = width < 520
  const input = useMemo(
    () => ({ result, question, palette, words, width: narrow ? 400 : 900, selected }),
    [result, question, palette, words, narrow, selected],
  )
  const sets = useMemo(() => datasetsOf(input), [input])
  const latest = useRef({ onSelect, sets, result })
  latest.current = { onSelect, sets, result }

  useEffect(() => {
    const config = trendConfig(input)
    const made = new Chart(canvas.current!, {
      ...config,
      options: {
        ...config.options,
        onClick(event, _elements, self) {
          if (dragged.current) return
          const [hit] = self.getElementsAtEventForMode(
            event as never,
            'nearest',
            { intersect: false, axis: 'xy' },
            false,
          )
          const { onSelect: select, sets: rows, result: shown } = latest.current
          if (!hit || !select) return
          const native = event.native as MouseEvent
          const mark = markAt(rows[hit.datasetIndex], hit.index, shown)
          if (mark) select(mark, native.shiftKey || native.ctrlKey || native.metaKey)
        },
      },
    })
    chart.current = made
    return () => made.destroy()
  }, [input])

  useEffect(() => {
    const made = chart.current
    if (!made || !at || !made.data.datasets[at.set]) return
    const point = { datasetIndex: at.set, index: at.bucket }
    made.setActiveElements([point])
    made.tooltip?.setActiveElements([point], { x: 0, y: 0 })
    made.update('none')
  }, [at])

  const onKey = (event: KeyboardEvent) => {
    const move = chartMove(event.key)
    const here = at ?? { set: 0, bucket: result.buckets.length - 1 }
    if (move) {
      event.preventDefault()
      setAt({
        set: Math.min(sets.length - 1, Math.max(0, here.set + move[0])),
        bucket: Math.min(result.buckets.length - 1, Math.max(0, here.bucket + (at ? move[1] : 0))),
      })
    } else if (event.key === 'a' && onAnnotate && !event.ctrlKey && !event.metaKey) {
      event.preventDefault()
      onAnnotate(newNote(result.buckets[at?.bucket ?? result.buckets.length - 1].key))
    } else if (event.key === 'Enter' && at && sets[at.set] && onSelect) {
      event.preventDefault()
      const mark = markAt(sets[at.set], at.bucket, result)
      if (mark) onSelect(mark, event.shiftKey || event.ctrlKey)
    }
  }
  const place = (event: PointerEvent) => event.clientX - canvas.current!.getBoundingClientRect().left
  const onDown = (event: PointerEvent) => {
    dragged.current = false
    if (onZoom && event.button === 0 && event.pointerType === 'mouse' && !event.shiftKey && !event.ctrlKey)
      setDrag({ from: place(event), to: place(event) })
  }
  const onMove = (event: PointerEvent) => {
    if (drag) setDrag({ ...drag, to: place(event) })
  }
  const onUp = () => {
    const made = chart.current
    setDrag(null)
    if (!drag || !made || !onZoom || Math.abs(drag.to - drag.from) < LEAST_DRAG) return
    dragged.current = true
    const [first, last] = [Math.min(drag.from, drag.to), Math.max(drag.from, drag.to)].map((x) =>
      Math.min(result.buckets.length - 1, Math.max(0, Math.round(made.scales.x.getValueForPixel(x) ?? 0))),
    )
    onZoom(first, last)
  }
  const here = at && sets[at.set]
  const bucket = at && result.buckets[at.bucket]
  const said =
    here && bucket
      ? `${here.line.label}${here.before ? ', before' : ''}, ${bucketLabel(bucket.key, question.every, words)}: ${formatValue((here.before ? here.line.before!.values : here.line.values)[at.bucket] ?? null, here.line, words)}`
      : ''
  const notes = annotationsIn(result.buckets, words.annotations, question.show.notes)
  const lines = sets.filter(({ before }) => !before)
  const shownLines = lines.map(({ line }) => line)
  const named =
    isBarForm(question) || question.show.form === 'stacked'
      ? lines
      : lines.filter(({ line }) => !isPale(line, shownLines))
  const legend = lines.length > 1 && !showsEndLabels(input)
  const beside = sets.some(({ before }) => before) && question.compare
  return (
    <div className="chart-box" ref={box}>
      {(legend || beside) && (
        <ul className="legend">
          {(legend ? named : []).map(({ line }) => (
            <li key={line.id}>
              <i style={{ background: seriesColour(palette, line.place, line.rest) }} />
              {line.label}
            </li>
          ))}
          {legend && named.length < lines.length && (
            <li className="beside">
              <i />
              {lines.length - named.length} more, drawn pale: the table has them
            </li>
          )}
          {beside && (
            <li className="beside">
              <i />
              thin: {compareWords(beside, words)}
            </li>
          )}
        </ul>
      )}
      <div
        className="chart-canvas"
        role="group"
        aria-label={`Chart. Arrow keys move from point to point, Enter selects the people counted there.${onAnnotate ? ' A writes a note.' : ''}`}
        tabIndex={0}
        onKeyDown={onKey}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerLeave={() => setDrag(null)}
      >
        <canvas ref={canvas} aria-hidden="true" />
        {drag && Math.abs(drag.to - drag.from) >= LEAST_DRAG && (
          <div
            className="chart-drag"
            style={{ left: Math.min(drag.from, drag.to), width: Math.abs(drag.to - drag.from) }}
          />
        )}
        <span className="sr-only" aria-live="polite">
          {said}
        </span>
      </div>
      {onAnnotate && <NoteList placed={notes} buckets={result.buckets} words={words} onAnnotate={onAnnotate} />}
    </div>
  )
}

function markAt(
  { line, before }: ReturnType<typeof datasetsOf>[number],
  index: number,
  result: TrendResult,
): TrendMark | null {
  const bucket = (before ? result.beforeBuckets : result.buckets)?.[index]
  return bucket ? markOf(line, bucket.key, before) : null
}
