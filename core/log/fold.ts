import { arrange, type Pick } from './arrange.js'
import type { EventBlock } from './log.js'

/** What to join: blocks, each without its hidden people. Nobody stands in two of them unhidden. */
export interface FoldRequest {
  layers: { block: EventBlock; hidden: Uint8Array | null }[]
  people: number
  types: number
}

/** Joins blocks into one. Pure: runs in a thread of its own. */
export function fold({ layers, people, types }: FoldRequest): EventBlock {
  return arrange(layers.map(shownRows), people, types, false)
}

function shownRows({ block, hidden }: FoldRequest['layers'][number]): Pick {
  let kept = 0
  for (let i = 0; i < block.people; i++) if (!hidden?.[i]) kept += block.offsets[i + 1] - block.offsets[i]
  const which = new Uint32Array(kept)
  const person = new Uint32Array(kept)
  let at = 0
  for (let i = 0; i < block.people; i++) {
    if (hidden?.[i]) continue
    for (let row = block.offsets[i]; row < block.offsets[i + 1]; row++) {
      which[at] = row
      person[at++] = block.person[i]
    }
  }
  return { rows: block, which, person }
}
