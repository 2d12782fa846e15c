import type { FunnelRow } from './finish.js'

/** The step with the smallest share going on, among those that enough people reached; null when nothing is lost. */
export function narrowest(row: FunnelRow): number | null {
  let best: number | null = null
  let least = 1
  row.steps.slice(0, -1).forEach((step, index) => {
    if (step.optional || step.people === 0) return
    const goOn = 1 - step.lost / step.people
    if (goOn < least) {
      least = goOn
      best = index
    }
  })
  return best
}
