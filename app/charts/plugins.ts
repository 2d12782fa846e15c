import type { Chart, Element, Plugin, PointElement } from 'chart.js'
import { drawPoint } from 'chart.js/helpers'

/** Shades what is still open at the end. @param first index of the first such bucket; -1 = none */
export function openGround(colour: string, first: number): Plugin {
  return {
    id: 'openGround',
    beforeDatasetsDraw({ ctx, chartArea, scales, data }) {
      const count = data.labels?.length ?? 0
      if (first < 0 || count < 2) return
      const step = scales.x.getPixelForValue(count - 1) - scales.x.getPixelForValue(count - 2)
      const left = scales.x.getPixelForValue(first) - step / 2
      ctx.save()
      ctx.fillStyle = colour
      ctx.globalAlpha = 0.45
      ctx.fillRect(
        left,
        chartArea.top,
        Math.min(step * (count - first), chartArea.right - left + 14),
        chartArea.bottom - chartArea.top,
      )
      ctx.restore()
    },
  }
}

/**
 * Draws the end of each line dashed, for what it leads to is not over yet. A style for each piece, asked for piece by
 * piece, would take as long as all else that is drawn.
 * @param first index of the first bucket that is not over
 */
export function dashedEnd(first: number): Plugin {
  return {
    id: 'dashedEnd',
    beforeDatasetDraw({ ctx, height }, { meta }) {
      ctx.save()
      ctx.beginPath()
      ctx.rect(0, 0, middleOf(meta.data[first - 1]).x, height)
      ctx.clip()
    },
    afterDatasetDraw({ ctx, chartArea }, { meta }) {
      ctx.restore()
      const line = meta.dataset!.options as { borderColor: string; borderWidth: number }
      for (let at = first; at < meta.data.length; at++) {
        const [from, to] = [placeOf(meta.data[at - 1]), placeOf(meta.data[at])]
        if (!from || !to) continue
        ctx.save()
        ctx.setLineDash([3, 4])
        ctx.strokeStyle = line.borderColor
        ctx.lineWidth = line.borderWidth
        ctx.beginPath()
        ctx.moveTo(from.x, from.y)
        ctx.lineTo(to.x, to.y)
        ctx.stroke()
        ctx.restore()
      }
      // Points at hand lie on the edge of what was drawn, or beyond it.
      for (const point of meta.data.slice(first - 1)) if (point.active) (point as PointElement).draw(ctx, chartArea)
    },
  }
}

/** Where a point stands, though nothing be drawn there. */
function middleOf(point: Element): { x: number; y: number } {
  return point.getProps(['x', 'y'], true) as { x: number; y: number }
}

/** @returns null for a gap: its point stands on the axis, and is passed over by the line */
export function placeOf(point: Element): { x: number; y: number } | null {
  return (point as PointElement & { skip?: boolean }).skip ? null : middleOf(point)
}

export interface MarkedPoint {
  dataset: number
  index: number
  /** px */
  radius: number
  style: 'circle' | 'rectRot'
  colour: string
}

/** Draws single points of lines that are drawn without points. */
export function markedPoints(points: readonly MarkedPoint[]): Plugin {
  return {
    id: 'markedPoints',
    afterDatasetsDraw(chart) {
      const { ctx } = chart
      ctx.save()
      ctx.setLineDash([])
      for (const { dataset, index, radius, style, colour } of points) {
        const place = placeOf(chart.getDatasetMeta(dataset).data[index])
        if (!place) continue
        ctx.fillStyle = ctx.strokeStyle = colour
        ctx.lineWidth = 1
        drawPoint(ctx, { radius, pointStyle: style, borderWidth: 1 }, place.x, place.y)
      }
      ctx.restore()
    },
  }
}

export const LABEL_FONT = '600 11.5px "Hanken Grotesk Variable", sans-serif'
const LINE = 14

/** A name cut where it would take too much room. */
export function shorten(label: string, most = 27): string {
  return label.length > most ? `${label.slice(0, most - 1)}…` : label
}

/** @returns px that the names at the ends of lines take, estimated where there is no canvas to measure with */
export function labelWidth(lines: readonly { label: string }[]): number {
  const context = typeof document === 'undefined' ? null : document.createElement('canvas').getContext('2d')
  if (context) context.font = LABEL_FONT
  return Math.max(
    ...lines.map(({ label }) => context?.measureText(shorten(label)).width ?? shorten(label).length * 6.4),
  )
}

/** Writes each line's name at its end, moved apart where they would touch; what finds no room is left to the table. */
export function endLabels(labels: readonly { text: string; colour: string }[]): Plugin {
  return {
    id: 'endLabels',
    afterDatasetsDraw(chart) {
      const { ctx, chartArea } = chart
      const wanted = labels.flatMap((label, index) => {
        const point = lastPoint(chart, index)
        return point ? [{ ...label, text: shorten(label.text), x: point.x, y: point.y }] : []
      })
      const room = Math.floor((chartArea.bottom - chartArea.top + LINE) / LINE)
      const placed = spread(wanted.slice(0, room), chartArea.top, chartArea.bottom)
      ctx.save()
      ctx.font = LABEL_FONT
      ctx.textBaseline = 'middle'
      for (const label of placed) {
        ctx.fillStyle = label.colour
        ctx.fillText(label.text, chartArea.right + 10, label.y)
      }
      ctx.restore()
    },
  }
}

function lastPoint(chart: Chart, index: number): { x: number; y: number } | null {
  const points = chart.getDatasetMeta(index).data
  for (let i = points.length - 1; i >= 0; i--) {
    const place = placeOf(points[i])
    if (place) return place
  }
  return null
}

/** Moves labels apart to a line's height, in the order they have, within top and bottom. */
export function spread<T extends { y: number }>(labels: readonly T[], top: number, bottom: number): T[] {
  const sorted = [...labels].sort((a, b) => a.y - b.y).map((label) => ({ ...label }))
  for (let i = 0; i < sorted.length; i++) sorted[i].y = Math.max(sorted[i].y, i === 0 ? top : sorted[i - 1].y + LINE)
  for (let i = sorted.length - 1; i >= 0; i--)
    sorted[i].y = Math.min(sorted[i].y, i === sorted.length - 1 ? bottom : sorted[i + 1].y - LINE)
  return sorted
}

export interface NoteRule {
  /** index of its bucket */
  bucket: number
  text: string
}

const NOTE_FONT = '500 11.5px "Hanken Grotesk Variable", sans-serif'
const NOTE_ROWS = 3

/**
 * Draws each dated note as a dotted rule with its text at the top, on the next row where it would touch the one before.
 * @param worded whether there is room for the texts
 */
export function noteRules(notes: readonly NoteRule[], worded: boolean, colour: string, ground: string): Plugin {
  return {
    id: 'noteRules',
    afterDatasetsDraw({ ctx, chartArea, scales }) {
      ctx.save()
      ctx.strokeStyle = colour
      ctx.lineWidth = 1.2
      ctx.setLineDash([2, 3])
      const xs = notes.map(({ bucket }) => scales.x.getPixelForValue(bucket))
      for (const x of xs) {
        ctx.beginPath()
        ctx.moveTo(x, chartArea.top)
        ctx.lineTo(x, chartArea.bottom)
        ctx.stroke()
      }
      const ends = new Array<number>(NOTE_ROWS).fill(-Infinity)
      ctx.font = NOTE_FONT
      ctx.textBaseline = 'top'
      notes.forEach(({ text }, index) => {
        const x = xs[index]
        const width = ctx.measureText(text).width
        const left = x + 5 + width > chartArea.right ? x - 5 - width : x + 5
        const row = ends.findIndex((end) => left > end + 8)
        // Without room its text is left to the tooltip, and to the list below the chart.
        if (!worded || row < 0 || left < chartArea.left) return
        ends[row] = left + width
        ctx.fillStyle = ground
        ctx.globalAlpha = 0.85
        ctx.fillRect(left - 2, chartArea.top + row * 15, width + 4, 14)
        ctx.globalAlpha = 1
        ctx.fillStyle = colour
        ctx.fillText(text, left, chartArea.top + row * 15 + 1)
      })
      ctx.restore()
    },
  }
}
