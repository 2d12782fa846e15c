/** A way, used again for the next one. */
export interface Path {
  /** the row of its start */
  anchor: number
  /** by the workspace's number, and in the block */
  person: number
  index: number
  /** steps that were taken, at most as many as are followed */
  length: number
  /** by step: its row and its node */
  rows: Uint32Array
  nodes: Int32Array
  /** the row where it got to where it has to; −1 = it did not */
  reached: number
  /** got there in more steps than are followed */
  more: boolean
  /** came by the start again */
  loops: boolean
  /** had a further step, later than the time allowed */
  cut: boolean
  /** took fewer steps than are followed, and its time is not over */
  open: boolean
}
