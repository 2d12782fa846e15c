import type { AnyMark, StudyDefinition } from '../questions/study.js'
import type { Rule } from '../segments/rule.js'

/** Which people: those of a study's result, or those for whom a segment's rule holds. */
export type PeopleRef = (StudyPeople | RulePeople) & {
  /** of a study asked among them: nobody is left out whom the workspace leaves out of every study */
  everybody?: true | undefined
}

/** Those counted in any of the marks. */
export interface StudyPeople {
  study: StudyDefinition
  marks: AnyMark[]
}

/**
 * Those for whom a rule holds as of a moment; with `came`, those who came in between `since` and that moment, or went out.
 */
export interface RulePeople {
  rule: Rule
  /** epoch ms; left out, or later than now: now */
  at?: number | undefined
  came?: 'in' | 'out' | undefined
  /** epoch ms; needed where somebody came in or went out */
  since?: number | undefined
}
export type Among = PeopleRef

/** Who a study of any kind asks among; it was read by `amongSchema`. */
export function amongOf({ among }: StudyDefinition): Among | undefined {
  return among as Among | undefined
}
