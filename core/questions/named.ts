import type { EventChoice, PropertyRef } from './parts.js'

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

/** The property itself, as the catalog has it, whenever its value is read. */
export function recorded(property: PropertyRef): PropertyRef {
  return property.of === 'person' ? { of: 'person', name: property.name } : property
}
