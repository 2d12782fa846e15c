import { canStack } from './canStack.js'
import { groupId } from '../../core/questions/groupId.js'
import type { ChartConfiguration, ChartDataset } from 'chart.js'
import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import { annotationsIn } from '../../core/analyses/trend/annotations.js'
import { unusualIn } from '../../core/analyses/trend/unusual.js'
import { readingOf } from '../../core/analyses/trend/shown.js'
import type { TrendMark } from '../../core/analyses/trend/marks.js'
import { formatDay } from '../../core/words/format.js'
import type { Words } from '../../core/words/words.js'
import { seriesColour, type Palette } from '../look/palette.js'
import { clockTicks, placesAxis, tooltipLook } from './look.js'
import {
  dashedEnd,
  endLabels,
  labelWidth,
  markedPoints,
  noteRules,
  openGround,
  shorten,
  type MarkedPoint,
} from './plugins.js'
import { chartLines, formatValue, type ChartLine } from './trendSeries.js'
import { bucketLabel } from './bucketLabel.js'

export interface TrendChartInput {
  result: TrendResult
  question: TrendQuestion
  palette: Palette
  words: Words
  /** px that the chart is wide: narrow ones have their names in a legend */
  width: number
  selected: readonly TrendMark[]
}

type Kind = 'line' | 'bar'
export type TrendConfig = ChartConfiguration<Kind, (number | null)[], string>
type Dataset = ChartDataset<Kind, (number | null)[]>

const NARROW = 520
/** More lines than this are told apart by the table and the tooltip. */
const MOST_LABELS = 12
/** As many as there are colours. */
const MOST_COLOURED = 7
export const MOST_MARKED = 3

export const isBars = ({ show }: TrendQuestion) => show.form === 'bars' || show.form === 'side by side'

/** Of more lines than there are colours, the first have theirs and the others are drawn pale: no colour comes twice. */
export function isPale(line: ChartLine, lines: readonly ChartLine[]): boolean {
  return lines.length > MOST_COLOURED && lines.indexOf(line) >= MOST_COLOURED && !line.rest
}

/** The least figure that a tooltip names, where it cannot name all. */
function leastNamed(items: readonly { parsed: { y: number | null } }[]): number {
  if (items.length <= MOST_LABELS) return -Infinity
  const figures = items.map(({ parsed }) => parsed.y ?? -Infinity).sort((a, b) => b - a)
  return figures[MOST_LABELS - 1]
}

/** Lines of unlike units have an axis each: that of the first line's unit on the left, all others on the right. */
export function axisOf(line: ChartLine, lines: readonly ChartLine[]): string {
  const units = [...new Set(lines.map(({ unit }) => unit))]
  const place = units.indexOf(line.unit)
  return place === 0 ? 'y' : `y${place + 1}`
}

export function showsEndLabels(
  input: TrendChartInput,
  lines = chartLines(input.result, input.question, input.words),
): boolean {
  const { question, width } = input
  const oneAxis = lines.every((line) => axisOf(line, lines) === 'y')
  return !isBars(question) && width >= NARROW && lines.length > 1 && lines.length <= MOST_LABELS && oneAxis
}

/** The lines in the order of the chart's datasets, those of the period beside them after them. */
export function datasetsOf(input: TrendChartInput): { line: ChartLine; before: boolean }[] {
  const lines = chartLines(input.result, input.question, input.words)
  const { form } = input.question.show
  const beside =
    form === 'lines' || (form === 'side by side' && lines.length === 1) || (form === 'bars' && lines.length === 1)
  return [
    ...lines.map((line) => ({ line, before: false })),
    ...(beside ? lines.flatMap((line) => (line.before ? [{ line, before: true }] : [])) : []),
  ]
}

/** Everything Chart.js needs for a trend; a pure function, so that it can be tested without a canvas. */
export function trendConfig(input: TrendChartInput): TrendConfig {
  const { result, question, palette, words } = input
  const sets = datasetsOf(input)
  const lines = sets.filter(({ before }) => !before).map(({ line }) => line)
  const { form, log } = question.show
  const stacked = canStack(question) && (form === 'stacked' || (form === 'bars' && lines.length > 1))
  // What is open at the end: the last one, or all since nothing arrived any more.
  const openIndex = result.buckets.at(-1)?.open ? result.buckets.findLastIndex(({ open }) => !open) + 1 : -1
  const colourOf = (line: ChartLine) =>
    !isBars(question) && form !== 'stacked' && isPale(line, lines)
      ? palette.faint
      : seriesColour(palette, line.place, line.rest)
  const labelled = showsEndLabels(input, lines)
  const notes = annotationsIn(result.buckets, words.annotations, question.show.notes)
  const axes = [...new Set(lines.map((line) => axisOf(line, lines)))]
  const axis = (of: readonly ChartLine[], position: 'left' | 'right') => ({
    // The options of both kinds of axis are the same here; the types know them one by one.
    type: (log ? 'logarithmic' : 'linear') as 'linear',
    position,
    stacked,
    beginAtZero: true,
    ...(readingOf(question) === 'share' && stacked
      ? { max: result.overlap ? undefined : 1 }
      : // Room above the lines for what the notes say.
        notes.length > 0 && input.width >= NARROW && !log && { grace: '8%' }),
    grid: { color: palette.hairline, drawOnChartArea: position === 'left' },
    border: { display: false },
    ...(log ? {} : clockTicks(of[0].unit)),
    title: {
      display: axes.length > 1,
      text: shorten([...new Set(of.map(({ name }) => name))].join(', '), 46),
      color: palette.soft,
    },
    ticks: {
      color: palette.soft,
      maxTicksLimit: 5,
      callback: (value: number | string) =>
        formatValue(Number(value), { unit: of[0].unit }, words).replace(/\.0+(?=\D|$)/, ''),
    },
  })
  return {
    type: isBars(question) ? 'bar' : 'line',
    data: {
      labels: result.buckets.map(({ key }) => bucketLabel(key, question.every, words)),
      // The types of Chart.js tie each dataset's callbacks to its own kind of chart; a chart of one kind is both.
      datasets: sets.map(({ line, before }, i) => {
        const values = before ? fitted(line.before!.values, result.buckets.length) : line.values
        const label = before ? `${line.label}, before` : line.label
        const set = { label, values, yAxisID: axisOf(line, lines) }
        return isBars(question)
          ? barsOf(set, colourOf(line), before ? 'all' : openIndex)
          : lineOf(
              set,
              colourOf(line),
              before || (isPale(line, lines) && !stacked),
              stacked && (i === 0 ? 'origin' : '-1'),
            )
      }) as Dataset[],
    },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { right: labelled ? labelWidth(lines) + 14 : 14, top: 8 } },
      interaction: { mode: 'index', intersect: false },
      scales: {
        x: {
          stacked,
          offset: isBars(question),
          ...placesAxis(palette),
        },
        ...Object.fromEntries(
          axes.map((id, place) => [
            id,
            axis(
              lines.filter((line) => axisOf(line, lines) === id),
              place === 0 ? 'left' : 'right',
            ),
          ]),
        ),
      },
      plugins: {
        tooltip: {
          ...tooltipLook(palette),
          usePointStyle: true,
          // Named in the order in which the lines stand at that point.
          itemSort: (a, b) => (b.parsed.y ?? -1) - (a.parsed.y ?? -1),
          // Of many lines those that stand highest at that point.
          filter: (item, _index, items) => item.parsed.y !== null && item.parsed.y >= leastNamed(items),
          callbacks: {
            title: ([item]) => (item ? titleOf(input, item.dataIndex) : ''),
            footer: (items) => [
              ...(items.length >= MOST_LABELS && lines.length > items.length
                ? [`and ${lines.length - items.length} below these`]
                : []),
              ...notes.flatMap(({ annotation, bucket }) =>
                bucket === items[0]?.dataIndex
                  ? [`${formatDay(annotation.day, words.thisYear)}: ${annotation.text}`]
                  : [],
              ),
            ],
            label: (item) =>
              `${item.dataset.label}: ${formatValue(item.parsed.y, sets[item.datasetIndex].line, words)}`,
          },
        },
      },
    },
    plugins: [
      openGround(palette.hazelTint, openIndex),
      ...(isBars(question)
        ? []
        : [
            ...(openIndex > 0 ? [dashedEnd(openIndex)] : []),
            markedPoints(
              lines.flatMap((line, dataset) =>
                markedOf(input, line, lines, stacked ? -1 : openIndex - 1).map((point) => ({
                  ...point,
                  ...{ dataset, colour: colourOf(line) },
                })),
              ),
            ),
          ]),
      noteRules(
        notes.map(({ annotation, bucket }) => ({ bucket, text: shorten(annotation.text, 28) })),
        input.width >= NARROW,
        palette.hazel,
        palette.sheet,
      ),
      ...(labelled ? [endLabels(lines.map((line) => ({ text: line.label, colour: colourOf(line) })))] : []),
    ],
  }
}

/** As many values as there are buckets: the period beside may have more or fewer. */
function fitted(values: readonly (number | null)[], length: number): (number | null)[] {
  return Array.from({ length }, (_, i) => values[i] ?? null)
}

function titleOf({ result, question, words }: TrendChartInput, index: number): string {
  const bucket = result.buckets[index]
  const label = bucketLabel(bucket.key, question.every, words)
  const name = question.every === 'week' ? `Week of ${label}` : label
  if (bucket.silent) return `${name}, nothing arrived any more`
  return bucket.open ? `${name}, so far` : bucket.cut ? `${name}, in part` : name
}

function selectedBuckets({ result, selected }: TrendChartInput, line: ChartLine): Set<number> {
  const found = new Set<number>()
  for (const mark of selected) {
    if (mark.kind !== 'point' || mark.bucket === undefined || mark.before) continue
    const { of } = line.line
    const sameLine =
      'formula' in of ? mark.formula === of.formula : mark.formula === undefined && (mark.series ?? 0) === of.series
    if (sameLine && groupId(mark.group) === groupId(line.key ?? undefined))
      found.add(result.buckets.findIndex(({ key }) => key === mark.bucket))
  }
  return found
}

interface ChartSet {
  label: string
  values: (number | null)[]
  yAxisID: string
}

/** Marked are the unusual points of up to three lines: with more, the marks would hide them. */
function unusualBuckets({ result, question }: TrendChartInput, line: ChartLine, lines: number): Set<number> {
  if (lines > MOST_MARKED || question.show.form !== 'lines') return new Set()
  return new Set(unusualIn(line, result.buckets, question).map(({ bucket }) => bucket))
}

/** The points of a line that are drawn as such: what is selected, what is unusual, and where the last whole bucket ends. */
function markedOf(
  input: TrendChartInput,
  line: ChartLine,
  lines: readonly ChartLine[],
  lastWhole: number,
): Omit<MarkedPoint, 'dataset' | 'colour'>[] {
  const unusual = unusualBuckets(input, line, lines.length)
  const selected = selectedBuckets(input, line)
  const plain = isPale(line, lines) ? -1 : lastWhole
  return [...new Set([plain, ...unusual, ...selected])]
    .filter((index) => index >= 0)
    .map((index) => ({
      index,
      radius: selected.has(index) ? 6 : index === plain ? 3.5 : 5,
      style: unusual.has(index) ? 'rectRot' : 'circle',
    }))
}

function lineOf(
  set: ChartSet,
  colour: string,
  thin: boolean,
  fill: false | 'origin' | '-1',
): ChartDataset<'line', (number | null)[]> {
  const many = set.values.length > 60
  return {
    type: 'line',
    label: set.label,
    data: set.values,
    yAxisID: set.yAxisID,
    borderColor: thin ? `${colour}77` : colour,
    backgroundColor: fill ? `${colour}66` : colour,
    fill,
    borderWidth: thin ? 1.4 : many ? 1.5 : 2.2,
    // One setting for all points: set for each, they take as long as all else that is drawn.
    pointRadius: set.values.length === 1 ? 3.5 : 0,
    pointHoverRadius: 5,
    pointHitRadius: 12,
    pointBackgroundColor: colour,
    pointBorderColor: colour,
  }
}

function barsOf(set: ChartSet, colour: string, pale: number | 'all'): ChartDataset<'bar', (number | null)[]> {
  return {
    type: 'bar',
    label: set.label,
    data: set.values,
    yAxisID: set.yAxisID,
    backgroundColor: set.values.map((_, i) => (pale === 'all' || (pale >= 0 && i >= pale) ? `${colour}66` : colour)),
    borderRadius: 2,
    maxBarThickness: 46,
    categoryPercentage: 0.82,
    barPercentage: 0.94,
  }
}
