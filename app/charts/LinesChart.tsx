import type { ChartConfiguration } from 'chart.js'
import { useMemo, useRef } from 'react'
import type { NumberUnit } from '../../core/words/format.js'
import { usePalette } from '../look/usePalette.js'
import { ChartCanvas } from './ChartCanvas.js'
import { linesConfig, type DrawnLines } from './linesConfig.js'
import { useWidth } from './useWidth.js'

interface LinesChartProps extends Pick<DrawnLines, 'axis' | 'titles' | 'lines'> {
  unit: NumberUnit
  currency: string
  /** a line across, with its name */
  target?: { at: number; text: string } | null
  /** the figure stands at each point where there is one line */
  figures?: boolean
  /** what the chart is, and what Enter does */
  label: string
  /** whether anything is selected */
  chosen: boolean
  /** left out: points cannot be selected */
  onPoint?: (line: number, at: number, add: boolean) => void
}

/** Lines on a canvas. Arrows move from point to point, Enter selects the one at hand. */
export default function LinesChart(props: LinesChartProps) {
  const { axis, titles, lines, unit, currency, target = null, figures = false } = props
  const palette = usePalette()
  const box = useRef<HTMLDivElement>(null)
  const wide = useWidth(box, 900) >= 560
  // The lines are made anew with every render; what they say is what matters.
  const drawn = JSON.stringify({ axis, titles, lines, target })
  const config = useMemo(
    () => linesConfig({ ...(JSON.parse(drawn) as DrawnLines), unit, currency, figures, palette, wide }),
    [drawn, unit, currency, figures, palette, wide],
  )
  return <ChartCanvas {...props} box={box} config={config as ChartConfiguration} legend={lines.length > 1 && !wide} />
}
