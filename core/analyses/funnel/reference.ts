import type { TestEventLike } from '../reference.js'

export interface ReferenceFunnel {
  /** people by step */
  reached: number[]
  open: number
  /** ms from the step before, by step, sorted */
  fromPrevious: number[][]
}

/**
 * The funnel as its definition reads, slow and plain: every attempt of every person is walked by itself.
 * @param matches whether an event fills a step
 */
export function referenceFunnel(
  people: readonly (readonly TestEventLike[])[],
  steps: number,
  matches: (event: TestEventLike, step: number) => boolean,
  settings: { windowMs: number; from: number; until: number; now: number },
): ReferenceFunnel {
  const result: ReferenceFunnel = {
    reached: new Array<number>(steps).fill(0),
    open: 0,
    fromPrevious: Array.from({ length: steps }, () => []),
  }
  for (const events of people) {
    const seen = events.filter(({ time }) => time <= settings.now)
    let best: TestEventLike[] = []
    seen.forEach((entry, start) => {
      if (!matches(entry, 0) || entry.time < settings.from || entry.time >= settings.until) return
      const attempt = [entry]
      for (const later of seen.slice(start + 1)) {
        if (attempt.length === steps || later.time > entry.time + settings.windowMs) break
        if (matches(later, attempt.length)) attempt.push(later)
      }
      if (attempt.length > best.length) best = attempt
    })
    if (best.length === 0) continue
    best.forEach((event, step) => {
      result.reached[step]++
      if (step > 0) result.fromPrevious[step].push(event.time - best[step - 1].time)
    })
    if (best.length < steps && best[0].time + settings.windowMs > settings.now) result.open++
  }
  for (const times of result.fromPrevious) times.sort((a, b) => a - b)
  return result
}
