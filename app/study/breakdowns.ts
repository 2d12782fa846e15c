import { kindOf } from '../../core/analyses/kinds.js'
import { recorded } from '../../core/questions/named.js'
import type { StudyDefinition } from '../../core/questions/study.js'
import type { Catalog } from '../../server/engine/catalog.js'

/** A profile property of few values that the question does not use yet. */
export function goodBreakdown(catalog: Catalog, question: StudyDefinition) {
  const splits = kindOf(question.kind).splits(question)
  const used = new Set(splits.map(({ by }) => JSON.stringify(by.of === 'person' ? recorded(by) : by)))
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
