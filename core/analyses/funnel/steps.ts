import type { FunnelQuestion, FunnelStep } from './question.js'

/**
 * A funnel with other steps. What names a step by its place goes with the step: an event that must not happen after it,
 * and where a breakdown is read. What names one that is gone is gone too; a step changed in its place keeps them.
 * @param steps those that stay are the very objects they were
 */
export function withSteps(question: FunnelQuestion, steps: FunnelStep[]): FunnelQuestion {
  const { forbidden, readAt, show, ...plain } = question
  const last = steps.length - 1
  const placeOf = (before: number): number => {
    const place = steps.indexOf(question.steps[before])
    return place < 0 && steps.length === question.steps.length ? before : place
  }
  const kept = forbidden?.flatMap((each) => {
    if (each.after === undefined) return [each]
    const after = placeOf(each.after)
    return after >= 0 && after < Math.max(1, last) ? [{ ...each, after }] : []
  })
  const read = readAt === undefined ? -1 : placeOf(readAt)
  return {
    ...plain,
    steps: steps.map((step, i) => {
      const { entry, optional, ...rest } = step
      return {
        ...rest,
        ...(entry && i > 0 ? { entry } : {}),
        ...(optional && i > 0 && i < last ? { optional } : {}),
      }
    }),
    ...(kept?.length ? { forbidden: kept } : {}),
    ...(read > 0 ? { readAt: read } : {}),
    ...(show?.form === 'steps' ? { show } : {}),
  }
}
