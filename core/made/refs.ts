import { parseFormula } from '../formula/formula.js'
import type { EventChoice, PropertyRef } from '../questions/parts.js'
import type { Derived, InnerRecipe } from './definitions.js'

/** Every property that a definition of any form reads, each once: it is looked through whole. */
export function propertiesIn(definition: unknown): PropertyRef[] {
  const found = new Map<string, PropertyRef>()
  walk(definition, (node) => {
    if (node.of === 'event' && typeof node.name === 'string')
      found.set(`event ${node.name}`, { of: 'event', name: node.name })
    if (node.of === 'person' && typeof node.name === 'string') {
      const now = node.now === true ? { now: true as const } : {}
      found.set(`person ${node.name} ${node.now === true}`, { of: 'person', name: node.name, ...now })
    }
    if (node.of === 'source') found.set('source', { of: 'source' })
  })
  return [...found.values()]
}

/** Every event name that a definition chooses; `activity` = any activity is chosen somewhere. */
export function eventsIn(definition: unknown): { names: string[]; activity: boolean } {
  const names = new Set<string>()
  let activity = false
  walk(definition, (node) => {
    const choice = node.event as EventChoice | undefined
    if (typeof choice !== 'object' || choice === null) return
    if ('names' in choice && Array.isArray(choice.names)) for (const name of choice.names) names.add(name)
    if ('activity' in choice) activity = true
  })
  return { names: [...names], activity }
}

function walk(node: unknown, visit: (node: Record<string, unknown>) => void): void {
  if (typeof node !== 'object' || node === null) return
  if (!Array.isArray(node)) visit(node as Record<string, unknown>)
  for (const value of Object.values(node)) walk(value, visit)
}

/** The properties that a recipe reads, by name; a formula's names are event properties, or profile ones for a person's. */
export function inputsOf(recipe: InnerRecipe, of: 'event' | 'person'): PropertyRef[] {
  switch (recipe.kind) {
    case 'arithmetic': {
      const formula = parseFormula(recipe.formula)
      return 'fault' in formula ? [] : formula.names.map((name) => ({ of, name }))
    }
    case 'first of':
    case 'by event':
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
