import type { BetweenResult } from './lookResult.js'
import type { FunnelStep } from './question.js'

/**
 * A funnel's steps with events put between its first and its last, in the order in which they usually come; the steps
 * that stand between already keep their order among themselves.
 * @param events what is to be put in; what a step has already is left out
 * @param isOptional whether an event becomes a step that is not required
 * @param first events whose order is known, where their usual place is not
 */
export function suggestedSteps(
  steps: readonly FunnelStep[],
  between: BetweenResult,
  events: readonly string[],
  isOptional: (event: string) => boolean = () => false,
  first: readonly string[] = [],
): FunnelStep[] {
  const has = new Set(steps.flatMap(({ event }) => ('names' in event ? event.names : [])))
  const placeOf = (event: string): number => {
    const known = between.events.find((each) => each.event === event)?.place
    if (known !== undefined) return known
    const at = first.indexOf(event)
    return at < 0 ? 0.5 : (at + 1) / (first.length + 1)
  }
  const added = events
    .filter((event) => !has.has(event))
    .map((event) => ({ event, place: placeOf(event) }))
    .sort((a, b) => a.place - b.place)
  const middle = steps.slice(1, -1)
  const result: FunnelStep[] = [steps[0]]
  let taken = 0
  middle.forEach((step, i) => {
    // Steps there already are thought of as evenly spread over the way.
    const place = (i + 1) / (middle.length + 1)
    for (; taken < added.length && added[taken].place < place; taken++) result.push(stepOf(added[taken].event))
    result.push(step)
  })
  for (; taken < added.length; taken++) result.push(stepOf(added[taken].event))
  if (steps.length > 1) result.push(steps.at(-1)!)
  return result

  function stepOf(event: string): FunnelStep {
    return { event: { names: [event] }, ...(isOptional(event) ? { optional: true as const } : {}) }
  }
}
