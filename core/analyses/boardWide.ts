import type { Filter } from '../questions/parts.js'
import type { Range } from '../time/range.js'
import type { Question } from './registry.js'

/**
 * A card's question with what its dashboard sets for all: the range, and a filter on profiles. A person's profile is
 * the same at every event, so in a funnel the filter stands at the first step.
 */
export function boardWide(question: Question, range: Range | null, filter: Filter | null): Question {
  const ranged: Question = range ? { ...question, range } : question
  if (!filter) return ranged
  const and = (where: Filter | undefined): Filter => (where ? { all: [where, filter] } : filter)
  if (ranged.kind !== 'funnel')
    return { ...ranged, series: ranged.series.map((series) => ({ ...series, where: and(series.where) })) }
  const [first, ...others] = ranged.steps
  return { ...ranged, steps: [{ ...first, where: and(first.where) }, ...others] }
}
