import type { Rule } from '../../core/plan/plan.js'
import type { AsideRule } from '../../server/store/setAside.js'

/** A way in which data does not fit, in a line. */
export function problemWords(rule: Rule | AsideRule, event: string | null, property: string | null): string {
  switch (rule) {
    case 'unknown event':
      return 'The plan does not know this event'
    case 'unknown property':
      return `The plan does not know the property ${property}`
    case 'missing property':
      return `${property} is missing`
    case 'wrong type':
      return `${property} is of another type than planned`
    case 'value not allowed':
      return `${property} has values that are not allowed`
    case 'pattern not matched':
      return `${property} does not match its pattern`
    case 'by hand':
      return 'Set aside by hand'
    case 'clock ahead':
      return 'Sent with a clock more than a day ahead'
    case 'refused':
      return event === null ? 'Could not be read' : `${event} could not be read`
  }
}
