import type { Split } from '../questions/split.js'
import { analysisOf, parseQuestion, type AnalysisKind, type Question } from './registry.js'

/** What two kinds of study have in common, in the fields that nearly all of them have. */
interface Common {
  range?: unknown
  among?: unknown
  breakdowns?: unknown
}

/**
 * A question as one of another kind, with what fits of it: its events with their conditions, the time, whom it is asked
 * among, and its breakdowns, as long as the other kind takes them. null where one of the two is not about events.
 */
export function turnedInto(kind: AnalysisKind, question: Question): Question | null {
  const { turn } = analysisOf(kind)
  const own = analysisOf(question.kind).turn
  const picks = own?.picks(question) ?? []
  if (!turn || !own || picks.length === 0) return null
  const { range, among } = question as Common
  const all = own.splits?.(question) ?? ((question as Common).breakdowns as Split[] | undefined)
  const splits = turn.ofPeople ? all?.filter(({ by }) => by.of === 'person' || by.of === 'segments') : all
  const usual = new Map<string, unknown>(Object.entries(turn.about(picks)))
  const whole = new Map<string, unknown>([...usual, ['range', range]])
  if (among !== undefined) whole.set('among', among)
  if (splits && splits.length > 0)
    for (const [field, value] of Object.entries(turn.splitBy?.(splits) ?? { breakdowns: splits }))
      whole.set(field, value)
  // What the other kind does not take is left out, a part at a time, until it is a question.
  for (;;) {
    const { question: read, faults } = parseQuestion(Object.fromEntries(whole))
    const [first] = faults
    if (!first) return read
    const head = String(first.path[0] ?? '')
    if (!whole.has(head) || whole.get(head) === usual.get(head)) return null
    if (usual.has(head)) whole.set(head, usual.get(head))
    else whole.delete(head)
  }
}
