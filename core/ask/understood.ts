import type { Question } from '../analyses/registry.js'
import type { RuleGroup } from '../segments/rule.js'

/** How one part of a typed question was understood. */
export interface Understood {
  /** where it stands in the text; `to` is not included */
  from: number
  to: number
  as:
    | 'measure'
    | 'event'
    | 'property'
    | 'value'
    | 'time'
    | 'unit'
    | 'groups'
    | 'comparison'
    | 'window'
    | 'reading'
    | 'kind'
    | 'people'
  /** in the words of the workspace */
  means: string
}

/** One way to understand a typed question: a study, or the people of a rule. */
export type AskReading = { understood: Understood[]; unused: { from: number; to: number }[]; notes: string[] } & (
  { question: Question; rule?: undefined } | { rule: RuleGroup; question?: undefined }
)
