import type { Words } from '../../core/words/words.js'
import type { ChartConfiguration, ChartDataset } from 'chart.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import { groupId, type Mark } from '../../core/questions/parts.js'
import { seriesColour, type Palette } from '../palette.js'
import { endLabels, LABEL_FONT, openGround } from './plugins.js'
import { bucketLabel, canShare, chartSeries, formatValue, type ChartSeries } from './trendSeries.js'

export interface TrendChartInput {
  result: TrendResult
  question: TrendQuestion
  palette: Palette
  words: Words
  /** px that the chart is wide: narrow ones have their names in a legend below */
  width: number
  selected: readonly Mark[]
}

type Kind = 'line' | 'bar'
export type TrendConfig = ChartConfiguration<Kind, (number | null)[], string>
type Dataset = ChartDataset<Kind, (number | null)[]>

const NARROW = 520

export function showsEndLabels({ question, result, width }: TrendChartInput): boolean {
  return question.show.form !== 'bars' && width >= NARROW && result.groups.length > 0
}

/** Everything Chart.js needs for a trend; a pure function, so that it can be tested without a canvas. */
export function trendConfig(input: TrendChartInput): TrendConfig {
  const { result, question, palette, words } = input
  const series = chartSeries(result, question, words)
  const { form } = question.show
  const stacked = form === 'stacked' || (form === 'bars' && series.length > 1)
  const asShare = question.show.as === 'share' && canShare(question)
  const openIndex = result.buckets.at(-1)?.open ? result.buckets.length - 1 : -1
  const colours = series.map((s, i) => seriesColour(palette, i, s.rest))
  const labelled = showsEndLabels(input)
  return {
    type: form === 'bars' ? 'bar' : 'line',
    data: {
      labels: result.buckets.map(({ key }) => bucketLabel(key, question.every, words)),
      // The types of Chart.js tie each dataset's callbacks to its own kind of chart; a chart of one kind is both.
      datasets: series.map((s, i) =>
        form === 'bars'
          ? barsOf(s, colours[i], openIndex)
          : lineOf(s, colours[i], {
              openIndex,
              fill: stacked && (i === 0 ? 'origin' : '-1'),
              selected: selectedBuckets(input, s),
            }),
      ) as Dataset[],
    },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { right: labelled ? labelWidth(series) + 14 : 14, top: 8 } },
      interaction: { mode: 'index', intersect: false },
      scales: {
        x: {
          stacked,
          offset: form === 'bars',
          grid: { display: false },
          border: { color: palette.rule },
          ticks: { color: palette.soft, maxRotation: 0, autoSkipPadding: 22 },
        },
        y: {
          stacked,
          beginAtZero: true,
          ...(asShare && stacked ? { max: result.overlap ? undefined : 1 } : {}),
          grid: { color: palette.hairline },
          border: { display: false },
          ticks: {
            color: palette.soft,
            maxTicksLimit: 5,
            callback: (value) => formatValue(Number(value), question).replace('.0', ''),
          },
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
          itemSort: (a, b) => (b.parsed.y ?? -1) - (a.parsed.y ?? -1),
          callbacks: {
            title: ([item]) => (item ? titleOf(input, item.dataIndex) : ''),
            label: (item) => `${item.dataset.label}: ${formatValue(item.parsed.y, question)}`,
          },
        },
      },
    },
    plugins: [
      openGround(palette.hazelTint, openIndex >= 0),
      ...(labelled ? [endLabels(series.map(({ label }, i) => ({ text: shorten(label), colour: colours[i] })))] : []),
    ],
  }
}

function titleOf({ result, question, words }: TrendChartInput, index: number): string {
  const bucket = result.buckets[index]
  const label = bucketLabel(bucket.key, question.every, words)
  const name = question.every === 'week' ? `Week of ${label}` : label
  return bucket.open ? `${name}, so far` : bucket.cut ? `${name}, in part` : name
}

function selectedBuckets({ result, selected }: TrendChartInput, series: ChartSeries): Set<number> {
  const found = new Set<number>()
  for (const mark of selected) {
    if (mark.kind !== 'point' || mark.bucket === undefined) continue
    const same = groupId(mark.group) === groupId(series.key ?? undefined)
    if (same) found.add(result.buckets.findIndex(({ key }) => key === mark.bucket))
  }
  return found
}

function lineOf(
  series: ChartSeries,
  colour: string,
  { openIndex, fill, selected }: { openIndex: number; fill: false | 'origin' | '-1'; selected: ReadonlySet<number> },
): ChartDataset<'line', (number | null)[]> {
  const many = series.values.length > 60
  return {
    type: 'line',
    label: series.label,
    data: series.values,
    borderColor: colour,
    backgroundColor: fill ? `${colour}66` : colour,
    fill,
    borderWidth: many ? 1.5 : 2.2,
    pointRadius: (context) =>
      selected.has(context.dataIndex)
        ? 6
        : (!fill && context.dataIndex === openIndex - 1) || series.values.length === 1
          ? 3.5
          : 0,
    pointHoverRadius: 5,
    pointHitRadius: 12,
    pointBackgroundColor: colour,
    pointBorderColor: colour,
    segment: { borderDash: (context) => (context.p1DataIndex === openIndex ? [3, 4] : undefined) },
  }
}

function barsOf(series: ChartSeries, colour: string, openIndex: number): ChartDataset<'bar', (number | null)[]> {
  return {
    type: 'bar',
    label: series.label,
    data: series.values,
    backgroundColor: series.values.map((_, i) => (i === openIndex ? `${colour}66` : colour)),
    borderRadius: 2,
    maxBarThickness: 46,
    categoryPercentage: 0.82,
    barPercentage: 0.94,
  }
}

function shorten(label: string): string {
  return label.length > 24 ? `${label.slice(0, 23)}…` : label
}

/** Width of the longest name in px, estimated where there is no canvas to measure with. */
function labelWidth(series: readonly ChartSeries[]): number {
  const context = typeof document === 'undefined' ? null : document.createElement('canvas').getContext('2d')
  if (context) context.font = LABEL_FONT
  return Math.max(
    ...series.map(({ label }) => context?.measureText(shorten(label)).width ?? shorten(label).length * 6.4),
  )
}
