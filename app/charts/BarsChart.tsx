import type { ChartConfiguration } from 'chart.js'
import { useMemo, useRef } from 'react'
import type { NumberUnit } from '../../core/words/format.js'
import { usePalette } from '../look/usePalette.js'
import { barsConfig, colourOf, type DrawnBars } from './barsConfig.js'
import { ChartCanvas } from './ChartCanvas.js'
import { useWidth } from './useWidth.js'

interface BarsChartProps extends Pick<DrawnBars, 'axis' | 'titles' | 'bars'> {
  stacked: boolean
  unit: NumberUnit
  currency: string
  /** the figure stands on each bar where there is room */
  figures?: boolean
  /** what stands above each place's bars in place of their figures */
  totals?: readonly string[]
  label: string
  chosen: boolean
  onPoint?: (line: number, at: number, add: boolean) => void
}

/** Bars on a canvas. Arrows move from bar to bar, Enter selects the one at hand. */
export default function BarsChart(props: BarsChartProps) {
  const { axis, titles, bars, stacked, unit, currency, figures = false, totals = NO_TOTALS } = props
  const palette = usePalette()
  const box = useRef<HTMLDivElement>(null)
  const wide = useWidth(box, 900) >= 560
  const drawn = JSON.stringify({ axis, titles, bars, totals })
  const config = useMemo(
    () =>
      barsConfig({ ...(JSON.parse(drawn) as DrawnBars), stacked, unit, currency, figures: figures && wide, palette }),
    [drawn, stacked, unit, currency, figures, wide, palette],
  )
  const lines = bars.map((each) => ({ ...each, colour: colourOf(palette, each.paint) }))
  return (
    <ChartCanvas {...props} lines={lines} box={box} config={config as ChartConfiguration} legend={bars.length > 1} />
  )
}

const NO_TOTALS: readonly string[] = []
