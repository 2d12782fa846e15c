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
