import { sharedUint16, sharedUint32 } from './log.js'

/** What people are called by whoever sends their events: the UTF-16 code units of each, one after the other. */
export interface PersonIds {
  text: Uint16Array
  /** by the workspace's number of a person, and one more: theirs are `starts[person]` up to, not including, `starts[person + 1]` */
  starts: Uint32Array
}

/** @param ids by the workspace's number; undefined = that number is nobody's */
export function personIds(ids: readonly (string | undefined)[]): PersonIds {
  const starts = sharedUint32(ids.length + 1)
  ids.forEach((id, person) => (starts[person + 1] = starts[person] + (id?.length ?? 0)))
  const text = sharedUint16(starts[ids.length])
  ids.forEach((id, person) => {
    for (let i = 0; i < (id?.length ?? 0); i++) text[starts[person] + i] = id!.charCodeAt(i)
  })
  return { text, starts }
}

export function idOf({ text, starts }: PersonIds, person: number): string {
  return String.fromCharCode(...text.subarray(starts[person], starts[person + 1]))
}

/** In code-unit order. */
export function compareIds({ text, starts }: PersonIds, a: number, b: number): number {
  const [lengthA, lengthB] = [starts[a + 1] - starts[a], starts[b + 1] - starts[b]]
  for (let i = 0; i < lengthA && i < lengthB; i++) {
    const more = text[starts[a] + i] - text[starts[b] + i]
    if (more !== 0) return more
  }
  return lengthA - lengthB
}
