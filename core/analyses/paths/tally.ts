import { rankedValues } from '../../stats/select.js'
import type { Pieces } from '../../stats/pieces.js'
import type { Path } from './follow.js'
import type { PathsPlan } from './shape.js'

/** How one way is counted, of the ways that are told apart. */
export interface WayTally {
  /** its nodes as they are sent */
  refs: (number | string)[]
  more: boolean
  /** by group, the last being all together */
  counts: Float64Array
  /** ms from the start to its last step, or to where it has to get */
  times: number[]
}
export type WayTallies = Map<string, WayTally>

/** Of steps in the order they were taken: how their ribbon is numbered, ms from the start, ms from the step before. */
export interface StepTimes {
  ribbon: Uint32Array
  sinceStart: Float64Array
  sinceStep: Float64Array
}

/** What is counted of one group. Joins by adding and putting side by side. */
export interface SideTally {
  ways: number
  people: number
  /** got to where they have to */
  reached: number
  cut: number
  open: number
  /** by step × width + place: the kept nodes, then all others, then those that end */
  nodes: Float64Array
  /** by (step × width + place before) × width + place; of the first step all come from place 0 */
  ribbons: Float64Array
  /** by (step × width + place) × sources + source */
  sources: Float64Array
  /** of every step that was taken */
  times: StepTimes[]
  /** ms from start to where they have to get: of all, of those who came by the start again, and by node on the way */
  total: Pieces
  loops: Pieces
  over: Map<string, Pieces>
}

/** A step's places: the kept nodes, everything else, ends here. */
export const widthOf = ({ keep }: Pick<PathsPlan, 'keep'>) => keep + 2

export class SideBuilder {
  private readonly width: number
  private readonly nodes: Float64Array
  private readonly ribbons: Float64Array
  private readonly sources: Float64Array
  private readonly ribbon: number[] = []
  private readonly sinceStart: number[] = []
  private readonly sinceStep: number[] = []
  private readonly over: number[][] = []
  private readonly total: number[] = []
  private readonly loops: number[] = []
  private ways = 0
  private people = 0
  private reached = 0
  private cut = 0
  private open = 0
  private last = -1

  constructor(
    private readonly plan: PathsPlan,
    private readonly time: Float64Array,
    private readonly source: Uint16Array,
  ) {
    this.width = widthOf(plan)
    this.nodes = new Float64Array(plan.steps * this.width)
    this.ribbons = new Float64Array(plan.steps * this.width * this.width)
    this.sources = new Float64Array(plan.steps * this.width * plan.sources)
  }

  /** @param places by step: the place of its node @param over those of its nodes that stand by themselves anywhere, by number */
  add(path: Path, places: Int32Array, over: readonly number[]): void {
    const { plan, width, time } = this
    const { anchor, length, rows, person } = path
    this.ways++
    if (person !== this.last) this.people++
    this.last = person
    if (path.cut) this.cut++
    if (path.open) this.open++
    if (plan.end) {
      if (path.reached < 0) return
      this.reached++
      const took = time[path.reached] - time[anchor]
      this.total.push(took)
      if (path.loops) this.loops.push(took)
      for (const number of over) (this.over[number] ??= []).push(took)
    } else if (path.loops) this.loops.push(length > 0 ? Math.abs(time[rows[length - 1]] - time[anchor]) : 0)
    let before = 0
    let at = time[anchor]
    for (let step = 0; step < length; step++) {
      const row = rows[step]
      const place = places[step]
      const node = step * width + place
      const ribbon = (step * width + before) * width + place
      this.nodes[node]++
      this.ribbons[ribbon]++
      this.sources[node * plan.sources + this.source[row]]++
      this.ribbon.push(ribbon)
      this.sinceStart.push(Math.abs(time[row] - time[anchor]))
      this.sinceStep.push(Math.abs(time[row] - at))
      at = time[row]
      before = place
    }
    if (plan.end || length === plan.steps) return
    const ends = width - 1
    this.nodes[length * width + ends]++
    this.ribbons[(length * width + before) * width + ends]++
  }

  /** @param names of the nodes that stand by themselves anywhere, by their numbers */
  done(names: readonly string[]): SideTally {
    const { nodes, ribbons, sources, ways, people, reached, cut, open } = this
    return {
      ...{ ways, people, reached, cut, open, nodes, ribbons, sources },
      times: [
        {
          ribbon: new Uint32Array(this.ribbon),
          sinceStart: new Float64Array(this.sinceStart),
          sinceStep: new Float64Array(this.sinceStep),
        },
      ],
      total: [new Float64Array(this.total)],
      loops: [new Float64Array(this.loops)],
      over: new Map(this.over.flatMap((list, number) => (list ? [[names[number], [new Float64Array(list)]]] : []))),
    }
  }
}

export function joinSides(a: SideTally, b: SideTally): SideTally {
  const sum = (x: Float64Array, y: Float64Array) => x.map((each, i) => each + y[i])
  return {
    ...{ ways: a.ways + b.ways, people: a.people + b.people, reached: a.reached + b.reached },
    ...{ cut: a.cut + b.cut, open: a.open + b.open },
    ...{ nodes: sum(a.nodes, b.nodes), ribbons: sum(a.ribbons, b.ribbons), sources: sum(a.sources, b.sources) },
    times: taken(a.times, b.times),
    total: taken(a.total, b.total),
    loops: taken(a.loops, b.loops),
    over: joinPieces(a.over, b.over),
  }
}

function taken<T>(a: T[], b: readonly T[]): T[] {
  a.push(...b)
  return a
}

/** Into the first, which is taken over: there may be very many. */
function joinPieces<K>(a: Map<K, Pieces>, b: ReadonlyMap<K, Pieces>): Map<K, Pieces> {
  for (const [key, list] of b) {
    const own = a.get(key)
    if (own) own.push(...list)
    else a.set(key, list)
  }
  return a
}

/** Into the first, which is taken over. */
export function joinWays(a: WayTallies, b: WayTallies): WayTallies {
  for (const [key, way] of b) {
    const own = a.get(key)
    if (!own) {
      a.set(key, way)
      continue
    }
    for (let group = 0; group < own.counts.length; group++) own.counts[group] += way.counts[group]
    for (const ms of way.times) own.times.push(ms)
  }
  return a
}

/**
 * The medians of times by ribbon and by node, ms; NaN where there are none. Each list is put behind the others in one array,
 * and its median is found without sorting it.
 */
export function medianTimes(
  { times, nodes, ribbons }: SideTally,
  width: number,
): { nodes: Float64Array; ribbons: Float64Array } {
  const nodeOf = Uint32Array.from(
    ribbons,
    (_, ribbon) => Math.floor(ribbon / (width * width)) * width + (ribbon % width),
  )
  const own = Uint32Array.from(ribbons, (_, ribbon) => ribbon)
  const starts = times.map(({ ribbon, sinceStart }) => ({ ribbon, values: sinceStart }))
  const steps = times.map(({ ribbon, sinceStep }) => ({ ribbon, values: sinceStep }))
  return { nodes: mediansBy(nodes.length, nodeOf, starts), ribbons: mediansBy(ribbons.length, own, steps) }
}

/** @param keyOf by ribbon: whose times they are */
function mediansBy(
  size: number,
  keyOf: Uint32Array,
  pieces: readonly { ribbon: Uint32Array; values: Float64Array }[],
): Float64Array {
  const starts = new Uint32Array(size + 1)
  for (const { ribbon } of pieces) for (let i = 0; i < ribbon.length; i++) starts[keyOf[ribbon[i]] + 1]++
  for (let key = 0; key < size; key++) starts[key + 1] += starts[key]
  const filled = starts.slice(0, size)
  const all = new Float64Array(starts[size])
  for (const { ribbon, values } of pieces)
    for (let i = 0; i < ribbon.length; i++) all[filled[keyOf[ribbon[i]]]++] = values[i]
  return Float64Array.from({ length: size }, (_, key) => {
    const many = starts[key + 1] - starts[key]
    return many > 0 ? rankedValues(all.subarray(starts[key], starts[key + 1]), (many - 1) / 2) : NaN
  })
}
