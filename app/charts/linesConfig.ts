import type { ChartConfiguration, ChartDataset, Plugin } from 'chart.js'
import { formatAs, shareFigure, type NumberUnit } from '../../core/words/format.js'
import { seriesColour, type Palette } from '../look/palette.js'
import { endLabels, LABEL_FONT, labelWidth, placeOf } from './plugins.js'
import { clockTicks, placesAxis, tooltipLook } from './look.js'

/** A line of figures over places that follow each other. */
export interface ChartLine {
  label: string
  /** null = a gap */
  values: (number | null)[]
  /** what is said of each point, after the line's name */
  tells: string[]
  /** by point: dashed up to it, for it is not over yet */
  dashed?: boolean[]
  /** the interval around it */
  band?: { low: (number | null)[]; high: (number | null)[] }
  /** everything else: the last colour */
  rest: boolean
  /** what the line of so many places before it stands beside: thin, in that one's colour */
  beside?: number
}

/** What is drawn, apart from how wide and in which colours. */
export interface DrawnLines {
  /** names of the places on the axis, and what each is called by itself */
  axis: readonly string[]
  titles: readonly string[]
  lines: readonly ChartLine[]
  /** a line across, with its name */
  target: { at: number; text: string } | null
}
type Config = ChartConfiguration<'line', (number | null)[], string>
type Dataset = ChartDataset<'line', (number | null)[]>

/** Everything Chart.js needs for lines; a pure function, so that it can be tested without a canvas. */
export function linesConfig(
  input: DrawnLines & { unit: NumberUnit; currency: string; figures: boolean; palette: Palette; wide: boolean },
): Config {
  const { axis, titles, lines, target, unit, currency, figures, palette, wide } = input
  const colourOf = (line: ChartLine, index: number) => seriesColour(palette, index - (line.beside ?? 0), line.rest)
  const main = lines.filter(({ beside }) => beside === undefined)
  const labelled = main.length > 1 && wide
  const isShort = axis.length <= 16
  const nearWhole = unit === 'percent' && lines.some(({ values }) => values.some((value) => (value ?? 0) > 0.8))
  const points = figures && lines.length === 1 && isShort && wide
  const drawn = lines.map((line, index): Dataset => {
    const { dashed } = line
    return {
      label: line.label,
      data: line.values,
      borderColor: colourOf(line, index),
      backgroundColor: colourOf(line, index),
      borderWidth: line.beside !== undefined ? 1 : axis.length > 120 ? 1.5 : 2.2,
      pointRadius: axis.length === 1 ? 3.5 : points ? 3 : 0,
      pointHoverRadius: 5,
      pointHitRadius: 12,
      // A point on the edge is drawn whole.
      clip: 6,
      ...(dashed ? { segment: { borderDash: (context) => (dashed[context.p1DataIndex] ? [3, 4] : undefined) } } : {}),
    }
  })
  // The intervals lie behind all lines: two edges without a stroke, the ground between them filled.
  const bands = lines.flatMap((line, index): Dataset[] => {
    if (!line.band || lines.length > 3) return []
    const plain = { borderWidth: 0, pointRadius: 0, pointHitRadius: 0, pointHoverRadius: 0 }
    const ground = `${colourOf(line, index)}26`
    return [
      { ...plain, label: '', data: line.band.low, fill: false },
      { ...plain, label: '', data: line.band.high, fill: '-1', backgroundColor: ground },
    ]
  })
  return {
    type: 'line',
    data: { labels: [...axis], datasets: [...drawn, ...bands] },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { right: labelled ? labelWidth(main) + 14 : 18, top: points ? 18 : 8 } },
      scales: {
        x: placesAxis(palette),
        y: {
          beginAtZero: true,
          ...clockTicks(unit),
          ...(unit === 'percent'
            ? nearWhole
              ? { max: 1 }
              : { suggestedMax: target?.at ?? 0.1 }
            : target
              ? { suggestedMax: target.at * 1.1 }
              : {}),
          grid: { color: palette.hairline },
          border: { display: false },
          ticks: {
            color: palette.soft,
            ...(nearWhole ? { stepSize: 0.25 } : { maxTicksLimit: 5 }),
            callback: (value) => formatAs(Number(value), unit, currency).replace(/\.0(?=\D*$)/, ''),
          },
        },
      },
      plugins: {
        tooltip: {
          ...tooltipLook(palette),
          usePointStyle: true,
          filter: (item) => item.datasetIndex < lines.length,
          callbacks: {
            title: ([item]) => (item ? titles[item.dataIndex] : ''),
            label: (item) => `${item.dataset.label}: ${lines[item.datasetIndex].tells[item.dataIndex]}`,
          },
        },
      },
    },
    plugins: [
      ...(target === null ? [] : [targetLine(target, palette)]),
      ...(points ? [pointFigures(lines[0], unit, currency, palette)] : []),
      ...(labelled
        ? [endLabels(main.map((line, i) => ({ text: line.label, colour: colourOf(line, i) }))) as Plugin<'line'>]
        : []),
    ],
  }
}

/** What is aimed at, as a line across. */
function targetLine({ at, text }: { at: number; text: string }, { hazel }: Palette): Plugin<'line'> {
  return {
    id: 'target',
    afterDatasetsDraw({ ctx, chartArea, scales }) {
      const y = scales.y.getPixelForValue(at)
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
      ctx.fillText(text, chartArea.left + 6, y - 5)
      ctx.restore()
    },
  }
}

/** The figure above each point. */
function pointFigures({ values }: ChartLine, unit: NumberUnit, currency: string, { ink }: Palette): Plugin<'line'> {
  return {
    id: 'pointFigures',
    afterDatasetsDraw(chart) {
      const { ctx, chartArea } = chart
      ctx.save()
      ctx.font = LABEL_FONT
      ctx.fillStyle = ink
      ctx.textBaseline = 'bottom'
      ctx.textAlign = 'center'
      chart.getDatasetMeta(0).data.forEach((point, i) => {
        const value = values[i]
        const place = placeOf(point)
        if (value === null || !place) return
        const { x, y } = place
        const text = unit === 'percent' ? shareFigure(value) : formatAs(value, unit, currency)
        // Where the line comes down steeply the figure stands beside it, not on it.
        const before = i > 0 ? (values[i - 1] ?? 0) : 0
        const steep = before > 2 * value && before - value > 0.2 * Math.max(...values.map((each) => each ?? 0))
        // The first one's figure would lie on those of the axis.
        const inside = Math.max(steep ? x + 13 : x, chartArea.left + ctx.measureText(text).width / 2 + 2)
        ctx.fillText(text, Math.min(inside, chartArea.right - 4), y - 7)
      })
      ctx.restore()
    },
  }
}
