import { wantedColumn, wantedGroup, wantedRow } from '../questions/groupId.js'
import type { GroupKey, NestedKey } from '../questions/parts.js'
import type { AnyMark } from '../questions/study.js'
import type { QueryContext } from './analysis.js'
import { analysisOf, type Question } from './registry.js'

/** The plan of the last pass, and what each pass found, all people's parts merged. */
export interface Passed {
  plan: unknown
  parts: unknown[]
}

/**
 * The passes over everybody that a question takes: gives a plan to scan with, is given what the scan found, and so on.
 * @param plan that of the first pass
 * @param marks passes end where the people of these can be read; null = all passes
 */
export function* passesOf(
  question: Question,
  plan: unknown,
  context: QueryContext,
  marks: readonly AnyMark[] | null = null,
): Generator<unknown, Passed, unknown> {
  const analysis = analysisOf(question.kind)
  const wants = (mark: AnyMark) => analysis.wants?.(mark) ?? []
  const asked = marks ? { ...context, wanted: new Set([...groupsIn(marks), ...marks.flatMap(wants)]) } : context
  const parts: unknown[] = []
  for (;;) {
    if (marks && analysis.reads(plan, marks)) return { plan, parts }
    const part = yield plan
    parts.push(part)
    const next = analysis.next(part, plan, question, asked)
    if (next === null) return { plan, parts }
    plan = next
  }
}

/** The groups that marks name, by their ids. */
function groupsIn(marks: readonly AnyMark[]): ReadonlySet<string> {
  const named = marks.flatMap((mark) => {
    const { group, row = [], column } = mark as { group?: GroupKey; row?: NestedKey[]; column?: NestedKey }
    return [
      ...(group ? [wantedGroup(group)] : []),
      ...row.map((_key, at) => wantedRow(row.slice(0, at + 1))),
      ...(column ? [wantedColumn(column)] : []),
    ]
  })
  return new Set(named)
}

/** Takes the passes one after another, where scanning waits for nobody. */
export function passAll(passes: ReturnType<typeof passesOf>, scan: (plan: unknown) => unknown): Passed {
  for (let at = passes.next(); ; at = passes.next(scan(at.value))) if (at.done) return at.value
}
