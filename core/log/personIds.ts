import { STEP, type Steps } from '../steps.js'
import { sharedUint16, sharedUint32 } from './log.js'

/** What people are called by whoever sends their events: the UTF-16 code units of each, one after the other. */
export interface PersonIds {
  text: Uint16Array
  /** by the workspace's number of a person, and one more: theirs are `starts[person]` up to, not including, `starts[person + 1]` */
  starts: Uint32Array
}

/** @param ids by the workspace's number; undefined = that number is nobody's */
export function* packingIds(ids: readonly (string | undefined)[]): Steps<PersonIds> {
  const starts = sharedUint32(ids.length + 1)
  for (let person = 0; person < ids.length; person++) {
    starts[person + 1] = starts[person] + (ids[person]?.length ?? 0)
    if (person % STEP === 0) yield
  }
  const text = sharedUint16(starts[ids.length])
  for (let person = 0; person < ids.length; person++) {
    const id = ids[person]
    for (let i = 0; id && i < id.length; i++) text[starts[person] + i] = id.charCodeAt(i)
    if (person % STEP === 0) yield
  }
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
