import type { TestEventLike } from '../reference.js'

/** A funnel's rules over plain events. */
export interface ReferenceRules {
  steps: {
    /** whether an event fills the step of an attempt that began with `entry` */
    matches: (event: TestEventLike, entry: TestEventLike) => boolean
    optional?: boolean
  }[]
  windowMs: number
  from: number
  until: number
  now: number
  order?: 'back to back' | 'any order' | undefined
  attempts?: boolean
  first?: boolean
  /** what all steps must have in common; undefined = has none */
  same?: ((event: TestEventLike) => unknown) | undefined
  /** `after`: place of the step, left out = any */
  forbidden?: { matches: (event: TestEventLike) => boolean; after?: number | undefined }[]
  passive?: (event: TestEventLike) => boolean
}

export interface ReferenceAttempt {
  entry: TestEventLike
  /** by step; in any order by steps done */
  filled: (TestEventLike | undefined)[]
  /** required steps filled */
  depth: number
  state: 'complete' | 'ended' | 'open' | 'over'
}

/**
 * One person's counted attempts as the definition reads, slow and plain: each event is put to each attempt that is under
 * way, in the order in which they began.
 * @param events in order of time, then arrival
 */
export function referenceAttempts(events: readonly TestEventLike[], rules: ReferenceRules): ReferenceAttempt[] {
  const seen = events.filter(({ time }) => time <= rules.now)
  const entries = seen.filter((event) => isEntry(event, rules))
  // Attempts from up to the window before the time are followed for what they take, and not counted.
  const earliest = rules.attempts ? rules.from - rules.windowMs : rules.from
  const allowed = (rules.first ? entries.slice(0, 1) : entries).filter(
    ({ time }) => time >= earliest && time < rules.until,
  )
  if (rules.attempts) return walk(seen, allowed, rules).filter(({ entry }) => entry.time >= rules.from)
  const each = allowed.map((entry) => walk(seen, [entry], rules)[0])
  const deepest = Math.max(0, ...each.map(({ depth }) => depth))
  return each.filter(({ depth }) => depth === deepest).slice(0, 1)
}

function isEntry(event: TestEventLike, { steps, order, same }: ReferenceRules): boolean {
  if (same && same(event) === undefined) return false
  return order === 'any order' ? steps.some((step) => step.matches(event, event)) : steps[0].matches(event, event)
}

interface Walking extends ReferenceAttempt {
  /** places of the steps done */
  done: number[]
}

function walk(seen: readonly TestEventLike[], entries: readonly TestEventLike[], rules: ReferenceRules): Walking[] {
  const { steps, order, windowMs, now } = rules
  const required = steps.map((_, i) => i).filter((i) => !steps[i].optional)
  const under: Walking[] = []
  for (const event of seen) {
    let taken = false
    for (const attempt of under) {
      if (attempt.state !== 'open' || event.time > attempt.entry.time + windowMs) continue
      const step = taken ? undefined : nextStep(attempt, event, rules, required)
      if (step === undefined) {
        if (endsAttempt(attempt, event, rules, required)) attempt.state = 'ended'
        continue
      }
      taken = true
      attempt.done.push(step)
      attempt.filled[order === 'any order' ? attempt.depth : step] = event
      if (!steps[step].optional) attempt.depth++
      if (attempt.depth === required.length) attempt.state = 'complete'
    }
    if (taken || !entries.includes(event)) continue
    const done = [order === 'any order' ? steps.findIndex((step) => step.matches(event, event)) : 0]
    under.push({ entry: event, filled: [event], depth: 1, done, state: required.length === 1 ? 'complete' : 'open' })
  }
  for (const attempt of under)
    if (attempt.state === 'open' && attempt.entry.time + windowMs <= now) attempt.state = 'over'
  return under
}

function nextStep(
  attempt: Walking,
  event: TestEventLike,
  rules: ReferenceRules,
  required: number[],
): number | undefined {
  const { steps, order, same } = rules
  const fits = (step: number) =>
    steps[step].matches(event, attempt.entry) && (!same || same(event) === same(attempt.entry))
  if (order === 'any order') return steps.map((_, i) => i).find((i) => !attempt.done.includes(i) && fits(i))
  const next = required[attempt.depth]
  if (fits(next)) return next
  const last = Math.max(...attempt.done)
  return steps.map((_, i) => i).find((i) => i > last && i < next && fits(i))
}

function endsAttempt(attempt: Walking, event: TestEventLike, rules: ReferenceRules, required: number[]): boolean {
  const { steps, order, forbidden = [], passive = () => false } = rules
  const at = order === 'any order' ? attempt.depth - 1 : required[attempt.depth - 1]
  if (forbidden.some(({ matches, after }) => (after === undefined || after === at) && matches(event))) return true
  // Passive types are passed over, unless the type is itself a step; the tests' steps go by type.
  return order === 'back to back' && (!passive(event) || steps.some((step) => step.matches(event, attempt.entry)))
}
