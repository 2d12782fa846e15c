import { nearest } from '../../core/questions/faults.js'
import type { PlanEvent, PlanProperty, Rule } from '../../core/plan/plan.js'

/** A plan's event widened just so far that a problem is none any more. Pure; the event given stays as it is. */
export function allowIn(
  event: PlanEvent,
  problem: { rule: Rule; property: string | null },
  values: readonly string[],
  kindOf: (property: string) => PlanProperty['kind'],
): PlanEvent {
  const name = problem.property
  if (name === null) return event
  if (problem.rule === 'unknown property') {
    if (event.properties.some((property) => property.name === name)) return event
    const added: PlanProperty = { name, kind: kindOf(name), required: false, description: '' }
    return { ...event, properties: [...event.properties, added] }
  }
  return {
    ...event,
    properties: event.properties.map((property) =>
      property.name === name ? widened(property, problem.rule, values) : property,
    ),
  }
}

function widened(property: PlanProperty, rule: Rule, values: readonly string[]): PlanProperty {
  switch (rule) {
    case 'missing property':
      return { ...property, required: false }
    case 'wrong type':
      return { ...property, kind: 'any' }
    case 'value not allowed':
      return { ...property, allowed: [...new Set([...(property.allowed ?? []), ...values])] }
    case 'pattern not matched': {
      const { pattern: _dropped, ...rest } = property
      return rest
    }
    case 'unknown event':
    case 'unknown property':
      return property
  }
}

/** The planned name that a misspelt one probably means: `bikeType` means `bike_type`. */
export function likelyName(name: string, names: readonly string[]): string | undefined {
  const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')
  return names.find((each) => plain(each) === plain(name)) ?? nearest(name, names)
}

/** At least this share of two events' properties must be the same for one to be taken for the other's old name. */
const ALIKE = 0.6

/** The planned event that carries mostly the same properties: an old name often shares nothing but these. */
export function likelyEvent(
  carried: readonly string[],
  planned: readonly { name: string; properties: readonly string[] }[],
): string | undefined {
  let best: string | undefined
  let most = ALIKE
  for (const { name, properties } of planned) {
    const both = carried.filter((property) => properties.includes(property)).length
    const all = new Set([...carried, ...properties]).size
    if (both >= 2 && both / all > most) {
      best = name
      most = both / all
    }
  }
  return best
}

/** What allowing a problem means, for the button and what it changes. */
export function allowWords(rule: Rule, property: string | null): string {
  switch (rule) {
    case 'unknown event':
      return 'Take it into the plan'
    case 'unknown property':
      return 'Take it into the plan'
    case 'missing property':
      return `Make ${property} optional`
    case 'wrong type':
      return `Let ${property} be of any type`
    case 'value not allowed':
      return 'Allow these values'
    case 'pattern not matched':
      return `Drop the pattern of ${property}`
  }
}
