import type { FunnelPlan } from './shape.js'
import type { EventLog } from '../../log/log.js'
import { addArrays } from '../../groups/groups.js'
import type { Attempt, Finder } from './attempts.js'
import type { Pieces } from '../../stats/pieces.js'

/** What is counted of one group; joins by adding and putting side by side. */
export interface FunnelTally {
  /** counted attempts that filled the step */
  reached: Float64Array
  /** those still open that filled the step, and no required one after it */
  open: Float64Array
  /** ms from the required step before, by step; nothing for step 1 */
  fromPrevious: Pieces[]
  /** ms from the entry */
  fromEntry: Pieces[]
  /** by bucket of the entry, then step: each bucket is a funnel of its own */
  over: { reached: Float64Array; open: Float64Array } | null
  /** ms between the two steps asked about */
  between: Pieces | null
  /** by step: how often its event was done before going on */
  repeats: Pieces[] | null
}

/** Not complete, not ended, and the window of its entry is not over yet: may still go on. */
export function isOpen({ time }: EventLog, plan: FunnelPlan, { depth, ended, rows }: Attempt): boolean {
  return depth < plan.required.length && !ended && time[rows[0]] + plan.windowMs > plan.now
}

/** The last required step that an attempt filled. */
export function lastStep({ required, rules }: FunnelPlan, { depth }: Attempt): number {
  return rules.order === 'any order' ? depth - 1 : required[depth - 1]
}

export class TallyBuilder {
  private readonly reached: Float64Array
  private readonly open: Float64Array
  private readonly fromPrevious: number[][]
  private readonly fromEntry: number[][]
  private readonly over: { reached: Float64Array; open: Float64Array } | null
  private readonly between: number[] | null
  private readonly repeats: number[][] | null

  constructor(
    private readonly log: EventLog,
    private readonly plan: FunnelPlan,
    overTime: boolean,
  ) {
    const n = plan.steps.length
    const lists = () => Array.from({ length: n }, (): number[] => [])
    this.reached = new Float64Array(n)
    this.open = new Float64Array(n)
    this.fromPrevious = lists()
    this.fromEntry = lists()
    const cells = plan.grid.buckets * n
    this.over = overTime ? { reached: new Float64Array(cells), open: new Float64Array(cells) } : null
    this.between = plan.between ? [] : null
    this.repeats = plan.repeats ? lists() : null
  }

  add(attempt: Attempt, finder: Finder): void {
    const { log, plan, between, repeats } = this
    const { time } = log
    const { rows } = attempt
    const n = plan.steps.length
    const entered = time[rows[0]]
    let previous = entered
    let before = rows[0]
    let stepBefore = 0
    for (let step = 0; step < n; step++) {
      if (rows[step] < 0) continue
      this.reached[step]++
      if (step === 0) continue
      const at = time[rows[step]]
      this.fromPrevious[step].push(at - previous)
      this.fromEntry[step].push(at - entered)
      if (plan.steps[step].optional && plan.rules.order !== 'any order') continue
      if (repeats) repeats[stepBefore].push(finder.matches(stepBefore, before, rows[step]))
      previous = at
      before = rows[step]
      stepBefore = step
    }
    if (isOpen(log, plan, attempt)) {
      this.open[lastStep(plan, attempt)]++
    }
    if (between) {
      const [from, to] = plan.between!
      if (rows[from] >= 0 && rows[to] >= 0) between.push(time[rows[to]] - time[rows[from]])
    }
  }

  /** The attempt that counts in a bucket's own funnel. */
  addIn(bucket: number, attempt: Attempt): void {
    const { log, plan, over } = this
    if (!over) return
    const n = plan.steps.length
    const cell = bucket * n
    for (let step = 0; step < n; step++) if (attempt.rows[step] >= 0) over.reached[cell + step]++
    if (isOpen(log, plan, attempt)) over.open[cell + lastStep(plan, attempt)]++
  }

  done(): FunnelTally {
    const piece = (list: number[]): Pieces => (list.length > 0 ? [Float64Array.from(list)] : [])
    const arrays = (lists: number[][]) => lists.map(piece)
    return {
      ...{ reached: this.reached, open: this.open, over: this.over },
      ...{ fromPrevious: arrays(this.fromPrevious), fromEntry: arrays(this.fromEntry) },
      between: this.between && piece(this.between),
      repeats: this.repeats && arrays(this.repeats),
    }
  }
}

export function joinTallies(a: FunnelTally, b: FunnelTally): FunnelTally {
  return {
    reached: addArrays(a.reached, b.reached),
    open: addArrays(a.open, b.open),
    fromPrevious: a.fromPrevious.map((list, i) => list.concat(b.fromPrevious[i])),
    fromEntry: a.fromEntry.map((list, i) => list.concat(b.fromEntry[i])),
    over: a.over && {
      reached: addArrays(a.over.reached, b.over!.reached),
      open: addArrays(a.over.open, b.over!.open),
    },
    between: a.between && a.between.concat(b.between!),
    repeats: a.repeats && a.repeats.map((list, i) => list.concat(b.repeats![i])),
  }
}
