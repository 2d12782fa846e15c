import { sharedInt32 } from '../../log/log.js'
import type { Path } from './path.js'

/**
 * The ways of a range of people as they were followed once, one for each person, one after the other: the person's index,
 * the row of the start, the row where it got to (−1), its length and what is true of it as bits, then the row and node of each
 * step. Of those who had to get somewhere and did not, no steps. Nodes that turned up by and by are the scan's own: −1.
 * In memory that threads share, so that the next pass goes over them without following them again.
 */
export type Followed = Int32Array
/** By what a range of people is known by. */
export type FollowedRanges = Map<string, Followed>

const LENGTH = 0xff

/** Keeps ways while they are followed. Nodes below `known` are told by their number everywhere. */
export class FollowedBuilder {
  private values = new Int32Array(1 << 12)
  private length = 0

  constructor(
    private readonly known: number,
    private readonly hasEnd: boolean,
  ) {}

  add(path: Path): void {
    const { rows, nodes } = path
    const length = this.hasEnd && path.reached < 0 ? 0 : path.length
    const end = this.length + 4 + 2 * length
    if (end > this.values.length) {
      const wider = new Int32Array(end * 2)
      wider.set(this.values)
      this.values = wider
    }
    const { values } = this
    let at = this.length
    values[at++] = path.index
    values[at++] = path.anchor
    values[at++] = path.reached
    values[at++] =
      length | (path.more ? 256 : 0) | (path.loops ? 512 : 0) | (path.cut ? 1024 : 0) | (path.open ? 2048 : 0)
    for (let step = 0; step < length; step++) {
      values[at++] = rows[step]
      values[at++] = nodes[step] < this.known ? nodes[step] : -1
    }
    this.length = end
  }

  done(): Followed {
    const kept = sharedInt32(this.length)
    kept.set(this.values.subarray(0, this.length))
    return kept
  }
}

/**
 * Puts the way that stands at a place back into `path`.
 * @returns where the next one stands
 */
export function readFollowed(followed: Followed, at: number, path: Path): number {
  const told = followed[at + 3]
  path.index = followed[at]
  path.anchor = followed[at + 1]
  path.reached = followed[at + 2]
  path.length = told & LENGTH
  path.more = (told & 256) !== 0
  path.loops = (told & 512) !== 0
  path.cut = (told & 1024) !== 0
  path.open = (told & 2048) !== 0
  let next = at + 4
  for (let step = 0; step < path.length; step++) {
    path.rows[step] = followed[next++]
    path.nodes[step] = followed[next++]
  }
  return next
}
