import type { Fault } from '../questions/faults.js'
import { kindOf } from './kinds.js'
import type { Question } from './registry.js'

/**
 * What can be answered of a question although something in it is not known: the other series, formulas, breakdowns and
 * segments, each counted just as it would be beside the rest.
 * @param faults those of its plan
 * @returns null where a fault is not of such a part, or nothing would be left
 */
export function restOf(question: Question, faults: readonly Fault[]): Question | null {
  const { rest } = kindOf(question.kind)
  if (!rest) return null
  const wrong = new Map<string, Set<number>>()
  for (const { path } of faults) {
    const [head, place] = path
    if (!rest.parts.some((part) => part === head)) return null
    const places = wrong.get(String(head)) ?? new Set()
    wrong.set(String(head), places.add(typeof place === 'number' ? place : 0))
  }
  if (wrong.size === 0) return null
  return rest.without(question, wrong) as Question | null
}

/**
 * The question after an edit of the one that is drawn, which may be another: of a question that is on its way, or of
 * the part of it that could be answered. What the edit changes is changed, and all else stays as it is asked.
 * @param question as it is asked by now
 * @param drawn the one that the edit began with
 * @param next that after the edit
 * @param partly whether something was left out of what is drawn: lists that parts are left out of keep theirs
 */
export function withEdited(question: Question, drawn: Question, next: Question, partly = false): Question {
  if (next.kind !== drawn.kind) return next
  const removable = kindOf(question.kind).rest?.parts ?? []
  const edited = new Map<string, unknown>(Object.entries(question))
  const [before, after] = [drawn, next].map((each) => new Map<string, unknown>(Object.entries(each)))
  for (const key of new Set([...before.keys(), ...after.keys()])) {
    if (JSON.stringify(before.get(key)) === JSON.stringify(after.get(key))) continue
    if (partly && removable.some((part) => part === key)) continue
    if (after.get(key) === undefined) edited.delete(key)
    else edited.set(key, after.get(key))
  }
  return Object.fromEntries(edited) as unknown as Question
}
