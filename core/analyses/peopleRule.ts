import { asGroup, type Rule, type RuleGroup } from '../segments/rule.js'
import { kindOf } from './kinds.js'
import type { PeopleRef, StudyPeople } from './people.js'

/**
 * A rule that says who was selected, and goes on saying it as time goes on; null where only a list can keep them: who
 * came in or went out, who was in as of an earlier moment, and points of a time that moves on.
 */
export function ruleOfPeople(ref: PeopleRef): RuleGroup | null {
  if ('rule' in ref) return ref.at === undefined && !ref.came ? asGroup(ref.rule) : null
  const { study, marks } = lostForGood(ref)
  const kind = kindOf(study.kind)
  const each = marks.map((mark) => kind.marks.rule?.(study, mark) ?? null)
  const plain = each.flatMap((rule) => rule ?? [])
  // Parts that can be said plainly are; the others refer to the study.
  const rule: Rule | null =
    plain.length === marks.length
      ? plain.length === 1
        ? plain[0]
        : { hold: 'any', of: plain }
      : staysPut(ref)
        ? { kind: 'study', study: kind.marks.plain(study, marks), marks }
        : null
  return rule && asGroup(rule)
}

/** Whether the marks mean the same people whenever they are asked: their time is fixed, or is the study's whole time. */
function staysPut({ study, marks }: StudyPeople): boolean {
  if (study.range && 'from' in study.range && study.range.to !== undefined) return true
  const kind = kindOf(study.kind)
  return marks.every((mark) => !kind.marks.timed(mark))
}

/** In a segment, being lost is for good: those who may still go on come in when their time is up. */
export function lostForGood<Ref extends PeopleRef>(ref: Ref): Ref {
  if (!('study' in ref)) return ref
  const { forGood } = kindOf(ref.study.kind).marks
  return forGood ? { ...ref, marks: ref.marks.map(forGood) } : ref
}
