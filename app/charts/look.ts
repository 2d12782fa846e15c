import type { Scale } from 'chart.js'
import type { NumberUnit } from '../../core/words/format.js'
import type { Palette } from '../look/palette.js'

/** The axis of times or places below a chart: as many names as have room, side by side. */
export function placesAxis({ rule, soft }: Palette, apart = 22) {
  return {
    grid: { display: false },
    border: { color: rule },
    ticks: { color: soft, maxRotation: 0, autoSkipPadding: apart },
  }
}

/** How the note beside a point looks, in every chart. */
export function tooltipLook({ tray, trayInk }: Palette) {
  return {
    ...{ backgroundColor: tray, titleColor: trayInk, bodyColor: trayInk, footerColor: trayInk },
    ...{ padding: 10, boxPadding: 4 },
  }
}

const MINUTE = 60
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
/** Steps that clocks and calendars are read by, seconds. */
const CLOCK_STEPS = [
  ...[1, 2, 5, 10, 15, 30],
  ...[1, 2, 5, 10, 15, 30].map((n) => n * MINUTE),
  ...[1, 2, 3, 6, 12].map((n) => n * HOUR),
  ...[1, 2, 7, 14, 28, 91, 182, 365].map((n) => n * DAY),
]

/** How far apart the ticks of an axis of durations stand, seconds: at most five of them, at whole minutes, hours or days. */
export function durationStep(most: number): number | undefined {
  return most < 1
    ? undefined
    : (CLOCK_STEPS.find((step) => most / step <= 5) ?? 365 * DAY * Math.ceil(most / (5 * 365 * DAY)))
}

/** Ticks of durations stand where a clock has them; of anything else the chart's own are good. */
export function clockTicks(unit: NumberUnit) {
  if (unit !== 'duration') return {}
  return {
    afterDataLimits(scale: Scale) {
      const { ticks } = scale.options as unknown as { ticks: { stepSize?: number | undefined } }
      ticks.stepSize = durationStep(scale.max)
    },
  }
}
