import { propertiesIn } from '../questions/named.js'
import { parseFormula } from '../formula/formula.js'
import type { PropertyRef } from '../questions/parts.js'
import type { Derived, InnerRecipe } from './definitions.js'

/** The properties that a recipe reads, by name; a formula's names are event properties, or profile ones for a person's. */
export function inputsOf(recipe: InnerRecipe, of: 'event' | 'person'): PropertyRef[] {
  switch (recipe.kind) {
    case 'arithmetic': {
      const formula = parseFormula(recipe.formula)
      return 'fault' in formula ? [] : formula.names.map((name) => ({ of, name }))
    }
    case 'first of':
    case 'by event':
    case 'session':
      return [] // raw columns, which nothing else makes
    default:
      return propertiesIn(recipe)
  }
}

/**
 * Circles among derived properties.
 * @returns the names along one circle, the first repeated at the end; null where there is none
 */
export function findCircle(derived: readonly Derived[]): string[] | null {
  const byName = new Map(derived.map((property) => [`${property.of} ${property.name}`, property]))
  const state = new Map<string, 'open' | 'done'>()
  const trail: string[] = []
  const visit = (key: string): string[] | null => {
    const property = byName.get(key)
    if (!property || state.get(key) === 'done') return null
    if (state.get(key) === 'open') return [...trail.slice(trail.indexOf(property.name)), property.name]
    state.set(key, 'open')
    trail.push(property.name)
    for (const input of inputsOf(property.recipe, property.of)) {
      const circle = input.of === 'source' ? null : visit(`${input.of} ${input.name}`)
      if (circle) return circle
    }
    trail.pop()
    state.set(key, 'done')
    return null
  }
  for (const key of byName.keys()) {
    const circle = visit(key)
    if (circle) return circle
  }
  return null
}
