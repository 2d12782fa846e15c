import { arrange } from './arrange.js'
import type { EventBlock } from './log.js'

/** What to join: the main block, who is hidden in it, and the tail. */
export interface FoldRequest {
  main: EventBlock
  hidden: Uint8Array
  tail: EventBlock
  people: number
  types: number
}

/** Joins the main block, without its hidden people, and the tail into one. Pure: runs in a thread of its own. */
export function fold({ main, hidden, tail, people, types }: FoldRequest): EventBlock {
  let kept = 0
  for (let i = 0; i < main.people; i++) if (!hidden[i]) kept += main.offsets[i + 1] - main.offsets[i]
  const which = new Uint32Array(kept)
  const person = new Uint32Array(kept)
  let at = 0
  for (let i = 0; i < main.people; i++) {
    if (hidden[i]) continue
    for (let row = main.offsets[i]; row < main.offsets[i + 1]; row++) {
      which[at] = row
      person[at++] = main.person[i]
    }
  }
  const tailPerson = new Uint32Array(tail.length)
  for (let i = 0; i < tail.people; i++) tailPerson.fill(tail.person[i], tail.offsets[i], tail.offsets[i + 1])
  return arrange(
    [
      { rows: main, which, person },
      { rows: tail, which: null, person: tailPerson },
    ],
    people,
    types,
    false,
  )
}
