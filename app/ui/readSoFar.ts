import { formatNumber } from '../../core/words/format.js'

/** How far reading the events is, for whoever waits for it. */
export function readSoFar({ loaded, toLoad }: { loaded: number; toLoad: number }): string {
  return toLoad > 0 ? `${formatNumber(loaded)} of ${formatNumber(toLoad)}` : `${formatNumber(loaded)} so far`
}
