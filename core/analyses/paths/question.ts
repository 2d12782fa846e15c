import type { TimeLimit } from '../../questions/limits.js'
import type { EventPick, PropertyRef } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Range } from '../../time/range.js'
import type { Among } from '../people.js'

/** So many steps are followed at most, each way. */
export const MOST_STEPS = 10
/** So many ways a step stand by themselves where nobody said, and at most. */
export const USUAL_KEEP = 8
export const MOST_KEEP = 50
/** So many events may be left out, opened, demanded or forbidden. */
export const MOST_NAMED = 30

export const pathForms = ['stream', 'ways'] as const
export type PathForm = (typeof pathForms)[number]

/** What stands at a step: an event, or an event with one value of the property that it is opened by. */
export interface PathNode {
  event: string
  /** left out: it is not opened; null = no value; a day for dates */
  value?: string | number | boolean | null | undefined
}

/** An event whose values are each a node of their own. */
export interface Opened {
  event: { names: string[] }
  by: PropertyRef
}

/** "After X, what do people do next?", "What brings people to X?", "Between X and Y, what happens?" */
export interface PathsQuestion {
  kind: 'paths'
  /** where ways begin; asked back, where they lead */
  start: EventPick
  /** where they have to get: then it is asked what happens between */
  end?: EventPick | undefined
  /** what came before the start, not what came after; not with an end */
  backward?: true | undefined
  /** 1 to 10 */
  steps: number
  /** left out: people, each by their first way in the range, or asked back the last */
  count?: 'occurrences' | undefined
  /** between the start and the last step */
  window: TimeLimit
  range: Range
  /** how many ways a step stand by themselves; the rest is everything else */
  keep: number
  /** steps, counted from 1, whose everything else is opened: up to `MOST_KEEP` ways stand by themselves there */
  wide?: number[] | undefined
  leaveOut?: { event: { names: string[] } } | undefined
  /** whole ways are kept that have all of these on them, or dropped that have any */
  contains?: EventPick[] | undefined
  lacks?: EventPick[] | undefined
  open?: Opened[] | undefined
  /** repeats of one event in a row are each a step; left out: they are folded into one */
  unfolded?: true | undefined
  /** only up to the end of the session of the start; asked back, from its start */
  session?: true | undefined
  /** only ways that have these at these steps, counted from 1 */
  through?: { step: number; node: PathNode }[] | undefined
  /** people side by side: one breakdown */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  show: { form: PathForm; difference?: true | undefined }
}

export function usualPaths(event: string): PathsQuestion {
  return {
    kind: 'paths',
    start: { event: { names: [event] } },
    steps: 3,
    window: { count: 1, unit: 'day' },
    range: { last: 12, unit: 'week' },
    keep: USUAL_KEEP,
    show: { form: 'stream' },
  }
}

/** How many ways stand by themselves at a step, counted from 1. */
export const keptAt = ({ keep, wide }: Pick<PathsQuestion, 'keep' | 'wide'>, step: number): number =>
  wide?.includes(step) ? MOST_KEEP : keep

/** Tells nodes apart. */
export const nodeId = ({ event, value }: PathNode): string =>
  JSON.stringify(value === undefined ? [event] : [event, value])
