import type { ChartConfiguration, Plugin } from 'chart.js'
import { formatAs, shareFigure, type NumberUnit } from '../../core/words/format.js'
import type { Palette } from '../look/palette.js'
import type { ToldLine } from './ChartCanvas.js'
import { clockTicks, placesAxis, tooltipLook } from './look.js'
import { LABEL_FONT } from './plugins.js'

/** Bars of one thing over places: those under 0 hang below the line. */
export interface BarSeries extends ToldLine {
  /** its colour in the palette, or its place among the series */
  paint: 'water' | number
  /** by place: pale, for it is not over yet */
  pale?: boolean[]
}

/** What is drawn, apart from how wide and in which colours. */
export interface DrawnBars {
  /** names of the places on the axis, and what each is called by itself */
  axis: readonly string[]
  titles: readonly string[]
  bars: readonly BarSeries[]
  /** what stands above each place's bars in place of their figures */
  totals: readonly string[]
}

export function colourOf(palette: Palette, paint: BarSeries['paint']): string {
  return typeof paint === 'number' ? palette.series[paint] : palette[paint]
}

/** Everything Chart.js needs for bars; a pure function, so that it can be tested without a canvas. */
export function barsConfig(
  input: DrawnBars & { stacked: boolean; unit: NumberUnit; currency: string; figures: boolean; palette: Palette },
): ChartConfiguration<'bar', (number | null)[], string> {
  const { axis, titles, bars, totals, stacked, unit, currency, figures, palette } = input
  const isWhole = unit === 'percent' && stacked
  const figure = (value: number | null) =>
    value === null ? '' : unit === 'percent' ? shareFigure(value) : formatAs(value, unit, currency)
  const texts = figures && bars.length === 1 ? bars[0].values.map(figure) : totals
  return {
    type: 'bar',
    data: {
      labels: [...axis],
      datasets: bars.map(({ label, values, paint, pale }) => {
        const colour = colourOf(palette, paint)
        return {
          label,
          data: values,
          backgroundColor: pale ? values.map((_value, i) => (pale[i] ? `${colour}66` : colour)) : colour,
          borderColor: palette.sheet,
          borderWidth: stacked ? 0.5 : 0,
          borderRadius: stacked ? 0 : 3,
          maxBarThickness: 56,
          categoryPercentage: 0.8,
          barPercentage: 0.92,
        }
      }),
    },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { right: 10, top: texts.length > 0 ? 18 : 8 } },
      scales: {
        x: { stacked, ...placesAxis(palette, 14) },
        y: {
          stacked,
          beginAtZero: true,
          ...clockTicks(unit),
          ...(isWhole ? { max: 1 } : {}),
          grid: { drawTicks: false, color: ({ tick }) => (tick?.value === 0 ? palette.soft : palette.hairline) },
          border: { display: false },
          ticks: {
            color: palette.soft,
            ...(isWhole ? { stepSize: 0.25 } : { maxTicksLimit: 6 }),
            callback: (value) =>
              // Below the line stand people as well.
              formatAs(stacked ? Math.abs(Number(value)) : Number(value), unit, currency).replace(/\.0(?=\D*$)/, ''),
          },
        },
      },
      plugins: {
        tooltip: {
          ...tooltipLook(palette),
          callbacks: {
            title: ([item]) => (item ? titles[item.dataIndex] : ''),
            label: (item) => `${item.dataset.label}: ${bars[item.datasetIndex].tells[item.dataIndex]}`,
          },
        },
      },
    },
    plugins: texts.length > 0 ? [textsAbove(texts, palette)] : [],
  }
}

/** What is said of each place, above its highest bar. */
function textsAbove(texts: readonly string[], { ink }: Palette): Plugin<'bar'> {
  return {
    id: 'textsAbove',
    afterDatasetsDraw(chart) {
      const { ctx, chartArea } = chart
      const room = (chartArea.right - chartArea.left) / Math.max(1, texts.length)
      ctx.save()
      ctx.font = LABEL_FONT
      ctx.fillStyle = ink
      ctx.textAlign = 'center'
      ctx.textBaseline = 'bottom'
      texts.forEach((text, i) => {
        const tops = chart.data.datasets.map((_set, d) => chart.getDatasetMeta(d).data[i]?.getProps(['x', 'y'], true))
        const y = Math.min(...tops.map((top) => (top as { y: number } | undefined)?.y ?? Infinity))
        const x = (tops[0] as { x: number } | undefined)?.x
        if (x !== undefined && Number.isFinite(y) && ctx.measureText(text).width < room - 2)
          ctx.fillText(text, x, y - 4)
      })
      ctx.restore()
    },
  }
}
