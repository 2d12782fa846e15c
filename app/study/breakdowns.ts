import type { Question } from '../../core/analyses/registry.js'
import type { Catalog } from '../../server/engine/catalog.js'

/** A profile property of few values that the question does not use yet. */
export function goodBreakdown(catalog: Catalog, question: Question) {
  if (question.kind === 'overlap' || question.kind === 'growth' || question.kind === 'gaps') return null
  const splits = question.kind === 'crosstab' ? question.rows : (question.breakdowns ?? [])
  const used = new Set(splits.map(({ by }) => JSON.stringify(by)))
  const few = catalog.properties.filter(
    ({ property, kind, samples }) =>
      property.of === 'person' &&
      kind === 'text' &&
      samples.length > 1 &&
      samples.length < 6 &&
      !used.has(JSON.stringify(property)),
  )
  const favourite = few.find(({ name }) => /plan|kind|segment|tier/.test(name))
  return (favourite ?? few[0])?.property ?? null
}
