/** A bar of a histogram of times: from `least` ms up to, not including, `under`; null = any longer. */
export interface HistogramBar {
  least: number
  under: number | null
  count: number
}

const SECOND = 1000
const MINUTE = 60 * SECOND
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

/** Widths that a reader can name. */
const WIDTHS = [
  ...[1, 2, 5, 10, 20, 30].map((n) => n * SECOND),
  ...[1, 2, 5, 10, 20, 30].map((n) => n * MINUTE),
  ...[1, 2, 3, 6, 12].map((n) => n * HOUR),
  ...[1, 2, 7, 14, 30].map((n) => n * DAY),
]
const MOST_BARS = 24

/**
 * Bars of equal width that a reader can name, up to the 95th percentile; what took longer shares the last.
 * @param sorted ms, ascending
 */
export function histogramOf(sorted: Float64Array): HistogramBar[] {
  if (sorted.length === 0) return []
  const reach = sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * 0.95))]
  const width = WIDTHS.find((each) => reach / each < MOST_BARS) ?? WIDTHS.at(-1)!
  const full = Math.min(MOST_BARS, Math.floor(reach / width) + 1)
  const bars = Array.from({ length: full }, (_, i): HistogramBar => {
    return { least: i * width, under: (i + 1) * width, count: 0 }
  })
  let longer = 0
  for (const ms of sorted) {
    const place = Math.floor(ms / width)
    if (place < full) bars[place].count++
    else longer++
  }
  return longer > 0 ? [...bars, { least: full * width, under: null, count: longer }] : bars
}
