import type { ColumnRef } from '../../filters/compile.js'
import type { PickPlan } from '../../filters/picks.js'
import type { GroupedPlan, GroupPass } from '../../groups/grouped.js'
import type { CutPlan } from '../../sessions/cuts.js'
import type { FollowedRanges } from './followed.js'
import { nodeId, type PathNode } from './question.js'

/** What paths are counted by: names as codes, filters as tables. */

/** Which node an event is: a number for each event, then for each value of those that are opened. */
export interface NodesPlan {
  /** by event type: the number of its event, after merging; −1 = hidden or left out */
  ofType: Int32Array
  /** by event type: how its values are told apart; null = it is not opened */
  opened: (OpenedPlan | null)[]
  /** how many nodes are known beforehand; numbers and days of opened events get theirs as they turn up */
  size: number
  /** IANA zone that days are told in */
  zone: string
}

export interface OpenedPlan {
  column: ColumnRef
  /** the node of a value is `base` + its code; `base` itself is no value */
  base: number
}

/** A node as it is sent: its number, or for those that turn up by and by their key. */
export type NodeRef = number | string

/** Which nodes stand by themselves at a step. */
export interface KeptStep {
  nodes: PathNode[]
  refs: NodeRef[]
  /** how many others there are */
  rest: number
}

/**
 * cuts, rank = looks for the groups; nodes = counts every node at each step, and roughly every whole way; count = counts
 * what is kept.
 */
export interface PathsPlan extends GroupedPlan {
  pass: GroupPass | 'nodes'
  start: PickPlan
  end: PickPlan | null
  backward: boolean
  occurrences: boolean
  folded: boolean
  steps: number
  /** at the step where it is most */
  keep: number
  windowMs: number
  /** starts lie in [from, until); steps go beyond it, up to now */
  from: number
  until: number
  now: number
  /** how sessions are cut; null = ways go beyond them */
  sessions: CutPlan | null
  nodes: NodesPlan
  contains: PickPlan[]
  lacks: PickPlan[]
  through: { step: number; ref: NodeRef }[]
  among: Uint8Array | null
  /** how many sources there are, no source included */
  sources: number
  /** by step */
  kept: KeptStep[]
  /** pass count: nodes that are asked for by name, by their ids */
  marked: { id: string; ref: NodeRef }[]
  /** pass count: by the place of a way in the rough count, 1 = its ways are told apart */
  wanted: Uint8Array | null
  /** every way that was gone at least so often is told apart */
  sure: number
  /** pass count: the ways that the pass before followed; null = they are followed again */
  followed: FollowedRanges | null
}

/** The nodes that stand by themselves at any step, each once. */
export function shownNodes({ kept }: Pick<PathsPlan, 'kept'>): PathNode[] {
  return [...new Map(kept.flatMap(({ nodes }) => nodes.map((node) => [nodeId(node), node] as const))).values()]
}
