import type { Range } from '../time/range.js'
import type { Rule } from '../segments/rule.js'
import type { Among } from './people.js'
import type { Question } from './registry.js'

/**
 * A card's question with what its dashboard sets for all: the range, and the people, who are then those of both.
 * @returns null where the card already asks among people as of a moment of their own, which cannot be said of both at once
 */
export function boardWide(question: Question, range: Range | null, among: Among | null): Question | null {
  // What is asked as of now only has no range to set.
  const ranged: Question = range && 'range' in question ? { ...question, range } : question
  if (!among) return ranged
  if (!ranged.among) return { ...ranged, among }
  const [own, all] = [ruleOf(ranged.among), ruleOf(among)]
  const everybody = ranged.among.everybody || among.everybody ? { everybody: true as const } : {}
  return own && all && { ...ranged, among: { rule: { hold: 'all', of: [own, all] }, ...everybody } }
}

function ruleOf(ref: Among): Rule | null {
  if ('study' in ref) return { kind: 'study', study: ref.study, marks: ref.marks }
  return ref.at === undefined && !ref.came ? ref.rule : null
}
