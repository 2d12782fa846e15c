import { bindPick, planPick } from '../filters/picks.js'
import type { CompileContext } from '../filters/compile.js'
import type { MadeBase } from '../made/columns.js'
import type { EventPick } from '../questions/parts.js'
import { STEP, type Steps } from '../steps.js'

/** Who did something between two moments, and when they did it last: entry i of each is of the same person. */
export interface DidBetween {
  /** by the workspace's number */
  people: Uint32Array
  /** epoch ms */
  last: Float64Array
}

/** Who did it after a moment, up to another. What its condition reads must have been made ready. */
export function* didBetween(
  pick: EventPick,
  { fromMs, untilMs }: { fromMs: number; untilMs: number },
  base: MadeBase,
): Steps<DidBetween> {
  const context: CompileContext = { ...base, schema: base.schema.asMade(), faults: [] }
  const plan = planPick(pick, context, [])
  const [people, last]: [number[], number[]] = [[], []]
  if (context.faults.length === 0)
    for (const log of base.logs) {
      const picker = bindPick(plan, log)
      for (let index = 0; index < log.person.length; index++) {
        if (index % STEP === STEP - 1) yield
        if (log.hidden?.[index] === 1) continue
        const end = log.offsets[index + 1]
        let lastMs = -Infinity
        for (
          let row = picker.next(log.offsets[index], end, log.person[index]);
          row >= 0 && log.time[row] <= untilMs;
          row = picker.next(row + 1, end, log.person[index])
        ) {
          lastMs = log.time[row]
        }
        if (lastMs <= fromMs) continue
        people.push(log.person[index])
        last.push(lastMs)
      }
    }
  return { people: Uint32Array.from(people), last: Float64Array.from(last) }
}
