import { bindPick, planPick } from '../filters/picks.js'
import type { CompileContext } from '../filters/compile.js'
import type { MadeBase } from '../made/columns.js'
import type { EventPick } from '../questions/parts.js'
import { STEP, type Steps } from '../steps.js'

/** Moments of people after which something is looked for: entry i of each is of the same person. */
export interface Moments {
  /** by the workspace's number, each person once */
  people: Uint32Array
  /** epoch ms */
  atMs: Float64Array
}

/**
 * Whether each did something later than their moment, and at most so long after it.
 * @returns 1 = did it, in the order of the moments. What the condition reads must have been made ready.
 */
export function* didWithin(
  pick: EventPick,
  { people, atMs }: Moments,
  withinMs: number,
  base: MadeBase,
): Steps<Uint8Array> {
  const context: CompileContext = { ...base, schema: base.schema.asMade(), faults: [] }
  const plan = planPick(pick, context, [])
  const did = new Uint8Array(people.length)
  if (context.faults.length > 0) return did
  const placeOf = new Map([...people].map((person, place) => [person, place]))
  for (const log of base.logs) {
    const picker = bindPick(plan, log)
    for (let index = 0; index < log.person.length; index++) {
      if (index % STEP === STEP - 1) yield
      const place = placeOf.get(log.person[index])
      if (place === undefined || log.hidden?.[index] === 1) continue
      const [from, end] = [atMs[place], log.offsets[index + 1]]
      let row = picker.next(log.offsets[index], end, log.person[index])
      while (row >= 0 && log.time[row] <= from) row = picker.next(row + 1, end, log.person[index])
      if (row >= 0 && log.time[row] <= Math.min(from + withinMs, base.now)) did[place] = 1
    }
  }
  return did
}
