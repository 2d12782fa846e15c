import { own } from '../names.js'
import { compilePattern, type Pattern } from '../filters/pattern.js'
import { kindOf, type Value, type ValueKind } from '../log/values.js'
import type { Mending } from '../made/definitions.js'
import type { Plan, PlanKind, PlanProperty, Policy, Violation } from './plan.js'

/** A plan made ready for checking many events. */
export interface Checker {
  /** false while nothing is planned: then everything fits */
  active: boolean
  /** @returns every way in which the event does not fit; none for one that does */
  check(event: string, properties: Readonly<Record<string, Value>>): Violation[]
  /** what is to happen to an event of this name that does not fit */
  policyOf(event: string): Policy
}

/** A planned property with its pattern and values made ready. */
export interface PropertyCheck {
  plan: PlanProperty
  allowed: ReadonlySet<string> | null
  pattern: Pattern | null
}

/** Whether a value of a kind is one of the planned kind. A text that happens to be a date is a text all the same. */
export function kindFits(planned: PlanKind, kind: ValueKind): boolean {
  return planned === 'any' || planned === kind || (planned === 'text' && kind === 'date')
}

/** What a value is compared with allowed values and patterns as; a list by its elements. */
export function valueTexts(value: Value): readonly string[] {
  return Array.isArray(value) ? value : [String(value)]
}

/** What is wrong with a value of a planned property, if anything; one thing at a time. */
export function checkValue(value: Value, kind: ValueKind, check: PropertyCheck): Violation['rule'] | null {
  if (!kindFits(check.plan.kind, kind)) return 'wrong type'
  const texts = valueTexts(value)
  if (check.allowed && !texts.every((text) => check.allowed!.has(text))) return 'value not allowed'
  if (check.pattern && !texts.every((text) => check.pattern!.test(text))) return 'pattern not matched'
  return null
}

export function propertyChecks(properties: readonly PlanProperty[]): Map<string, PropertyCheck> {
  return new Map(
    properties.map((plan) => {
      const pattern = plan.pattern === undefined ? null : compilePattern(plan.pattern, false)
      return [
        plan.name,
        {
          plan,
          allowed: plan.allowed ? new Set(plan.allowed) : null,
          // An unreadable pattern is refused when the plan is written; one from elsewhere forbids nothing.
          pattern: pattern && 'test' in pattern ? pattern : null,
        },
      ]
    }),
  )
}

/**
 * Makes a plan ready. Names that were merged count as what they were merged into, so that mending a name also ends the
 * complaints about it.
 */
export function checkerOf(plan: Plan, mending: Pick<Mending, 'mergedEvents' | 'mergedProperties'>): Checker {
  const events = new Map(
    plan.events.map((event) => {
      const checks = propertyChecks(event.properties)
      const required = [...checks.values()].filter((check) => check.plan.required).map((check) => check.plan.name)
      return [event.name, { checks, required, policy: event.policy ?? plan.policy }]
    }),
  )
  const mergedProperty = new Map(
    mending.mergedProperties.filter(({ of }) => of === 'event').map(({ from, into }) => [from, into]),
  )
  const current = (name: string) => own(mending.mergedEvents, name) ?? name
  return {
    active: plan.events.length > 0,
    policyOf: (event) => events.get(current(event))?.policy ?? own(plan.others, event) ?? plan.policy,
    check(event, properties) {
      if (plan.events.length === 0) return []
      const planned = events.get(current(event))
      if (!planned) return [{ rule: 'unknown event', property: null, got: null }]
      const found: Violation[] = []
      let missing = planned.required
      for (const sent in properties) {
        const value = properties[sent]
        const kind = kindOf(value)
        if (kind === null) continue
        const name = planned.checks.has(sent) ? sent : (mergedProperty.get(sent) ?? sent)
        const check = planned.checks.get(name)
        if (!check) {
          found.push({ rule: 'unknown property', property: sent, got: shown(value) })
          continue
        }
        if (check.plan.required) missing = missing.filter((each) => each !== name)
        const rule = checkValue(value, kind, check)
        if (rule) found.push({ rule, property: name, got: shown(value) })
      }
      for (const name of missing) found.push({ rule: 'missing property', property: name, got: null })
      return found
    },
  }
}

function shown(value: Value): string {
  const text = valueTexts(value).join(', ')
  return text.length > 200 ? `${text.slice(0, 200)}…` : text
}
