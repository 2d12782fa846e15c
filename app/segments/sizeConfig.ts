import { placesAxis, tooltipLook } from '../charts/look.js'
import type { ChartConfiguration, Plugin } from 'chart.js'
import { formatDay, formatMonth, formatNumber } from '../../core/words/format.js'
import { groupWords, type Words } from '../../core/words/words.js'
import type { SegmentSize, SizeUnit } from '../../server/engine/segments.js'
import { dashedEnd, endLabels, labelWidth, markedPoints, openGround } from '../charts/plugins.js'
import { seriesColour, type Palette } from '../look/palette.js'

/** A line of the chart: all members, or those of one group. */
export interface SizeLine {
  label: string
  values: number[]
  /** place among the groups; null = all together */
  group: number | null
  rest: boolean
}

export function sizeLines({ points, groups, rest }: SegmentSize): SizeLine[] {
  if (groups.length === 0)
    return [{ label: 'Members', values: points.map(({ members }) => members), group: null, rest: false }]
  return groups.flatMap(({ key, members }, index) => {
    const isRest = 'rest' in key
    // Everything else is there for whoever was a member before; where that was nobody, it says nothing.
    return isRest && members.every((value) => value === 0)
      ? []
      : [
          {
            label: isRest && rest === 0 ? 'Others before' : groupWords(key, rest),
            values: members,
            group: index,
            rest: isRest,
          },
        ]
  })
}

export function pointName(key: string, every: SizeUnit, words: Words): string {
  return every === 'month' ? formatMonth(key, words.thisYear) : formatDay(key, words.thisYear)
}

/** What Chart.js needs for sizes over time: one filled line, or a line for each group. */
export function sizeConfig(
  size: SegmentSize,
  { palette, words, selected, wide }: { palette: Palette; words: Words; selected: number | null; wide: boolean },
): ChartConfiguration<'line', number[], string> {
  const lines = sizeLines(size)
  const colourOf = (line: SizeLine, index: number) => seriesColour(palette, index, line.rest)
  const open = size.points.at(-1)?.open === true
  const last = size.points.length - 1
  const labelled = lines.length > 1 && wide
  const lead = size.every === 'day' ? '' : size.every === 'week' ? 'Week of ' : ''
  return {
    type: 'line',
    data: {
      labels: size.points.map(({ key }) => pointName(key, size.every, words)),
      datasets: lines.map((line, index) => ({
        label: line.label,
        data: line.values,
        borderColor: colourOf(line, index),
        backgroundColor: `${colourOf(line, index)}1f`,
        fill: lines.length === 1 ? 'origin' : false,
        borderWidth: size.points.length > 120 ? 1.5 : 2.2,
        pointRadius: size.points.length === 1 ? 3.5 : 0,
        pointHoverRadius: 5,
        pointHitRadius: 12,
        pointBackgroundColor: colourOf(line, index),
        pointBorderColor: colourOf(line, index),
      })),
    },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { right: labelled ? labelWidth(lines) + 14 : 14, top: 8 } },
      interaction: { mode: 'index', intersect: false },
      scales: {
        x: placesAxis(palette),
        y: {
          beginAtZero: true,
          grid: { color: palette.hairline },
          border: { display: false },
          ticks: {
            color: palette.soft,
            maxTicksLimit: 5,
            precision: 0,
            callback: (value) => formatNumber(Number(value)),
          },
        },
      },
      plugins: {
        tooltip: {
          ...tooltipLook(palette),
          usePointStyle: true,
          itemSort: (a, b) => (b.parsed.y ?? 0) - (a.parsed.y ?? 0),
          callbacks: {
            title: ([item]) =>
              item ? `${lead}${item.label}${size.points[item.dataIndex].open ? ', so far' : `, at its end`}` : '',
            label: (item) => `${item.dataset.label}: ${formatNumber(item.parsed.y)} people`,
          },
        },
      },
    },
    plugins: [
      openGround(palette.hazelTint, open ? last : -1) as Plugin<'line'>,
      ...(open && last > 0 ? [dashedEnd(last) as Plugin<'line'>] : []),
      markedPoints(
        selected === null
          ? []
          : lines.map((line, dataset) => ({
              ...{ dataset, index: selected, radius: 6, style: 'circle' },
              colour: colourOf(line, dataset),
            })),
      ) as Plugin<'line'>,
      ...(labelled
        ? [endLabels(lines.map((line, i) => ({ text: line.label, colour: colourOf(line, i) }))) as Plugin<'line'>]
        : []),
    ],
  }
}
