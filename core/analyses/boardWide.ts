import type { Filter } from '../questions/parts.js'
import type { Rule } from '../segments/rule.js'
import type { Range } from '../time/range.js'
import type { Question } from './registry.js'

/**
 * A card's question with what its dashboard sets for all: the range, and a filter on profiles. A person's profile is
 * the same at every event, so in a funnel the filter stands at the first step,
 * and in an overlap it says among whom.
 */
export function boardWide(question: Question, range: Range | null, filter: Filter | null): Question {
  const ranged: Question = range ? { ...question, range } : question
  if (!filter) return ranged
  const and = (where: Filter | undefined): Filter => (where ? { all: [where, filter] } : filter)
  if (ranged.kind === 'overlap') {
    const { among } = ranged
    const asked: Rule[] = !among ? [] : 'rule' in among ? [among.rule] : [{ kind: 'study', ...among }]
    return { ...ranged, among: { rule: { hold: 'all', of: [...asked, profileRule(filter)] } } }
  }
  if (ranged.kind !== 'funnel')
    return { ...ranged, series: ranged.series.map((series) => ({ ...series, where: and(series.where) })) }
  const [first, ...others] = ranged.steps
  return { ...ranged, steps: [{ ...first, where: and(first.where) }, ...others] }
}

function profileRule(filter: Filter): Rule {
  if ('all' in filter) return { hold: 'all', of: filter.all.map(profileRule) }
  if ('any' in filter) return { hold: 'any', of: filter.any.map(profileRule) }
  return { kind: 'profile', where: filter }
}
