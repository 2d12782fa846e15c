import { GroupMedians } from '../../stats/groupMedians.js'
import { Growing, GrowingWhole, type Pieces } from '../../stats/pieces.js'
import type { Path } from './path.js'
import type { NodeRef, PathsPlan } from './shape.js'

/** How one way is counted, of the ways that are told apart. */
export interface WayTally {
  /** its nodes as they are known beyond a scan */
  refs: NodeRef[]
  more: boolean
  /** by group, the last being all together */
  counts: number[]
  /** ms from the start to its last step, or to where it has to get */
  times: number[]
}
/** By the place of the rough count. */
export type WayTallies = Map<number, WayTally[]>

/** Of steps in the order they were taken, way by way: how their ribbon is numbered, ms from the start. */
export interface StepTimes {
  ribbon: Uint32Array
  sinceStart: Float64Array
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
  /** ms from start to where they have to get: of all, and of those who came by the start again */
  total: Pieces
  loops: Pieces
  /** beside `total`: which of the shown nodes the way goes over, as bits, 32 of them in each list */
  over: Uint32Array[][]
}

/** A step's places: the kept nodes, everything else, ends here. */
export const widthOf = ({ keep }: Pick<PathsPlan, 'keep'>) => keep + 2

export class SideBuilder {
  private readonly width: number
  private readonly nodes: Float64Array
  private readonly ribbons: Float64Array
  private readonly sources: Float64Array
  private readonly ribbon = new GrowingWhole()
  private readonly sinceStart = new Growing()
  private readonly over: GrowingWhole[] = []
  private readonly total = new Growing()
  private readonly loops = new Growing()
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

  /** A way that did not get where it has to: none of its steps is counted. */
  miss({ person, cut, open }: Path): void {
    this.ways++
    if (person !== this.last) this.people++
    this.last = person
    if (cut) this.cut++
    if (open) this.open++
  }

  /** @param places by step: the place of its node @param over which of the shown nodes it goes over, as bits */
  add(path: Path, places: Int32Array, over: Uint32Array | null): void {
    const { plan, width, time } = this
    const { anchor, length, rows } = path
    this.miss(path)
    if (plan.end) {
      this.reached++
      const took = time[path.reached] - time[anchor]
      this.total.push(took)
      if (path.loops) this.loops.push(took)
      if (over !== null) for (let i = 0; i < over.length; i++) (this.over[i] ??= new GrowingWhole()).push(over[i])
    } else if (path.loops) this.loops.push(length > 0 ? Math.abs(time[rows[length - 1]] - time[anchor]) : 0)
    let before = 0
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
      before = place
    }
    if (plan.end || length === plan.steps) return
    const ends = width - 1
    this.nodes[length * width + ends]++
    this.ribbons[(length * width + before) * width + ends]++
  }

  done(): SideTally {
    const { nodes, ribbons, sources, ways, people, reached, cut, open } = this
    return {
      ...{ ways, people, reached, cut, open, nodes, ribbons, sources },
      times: [
        {
          ribbon: this.ribbon.done(),
          sinceStart: this.sinceStart.done(),
        },
      ],
      total: [this.total.done()],
      loops: [this.loops.done()],
      over: this.over.map((bits) => [bits.done()]),
    }
  }
}

/** Into the first, which is taken over. */
export function joinSides(a: SideTally, b: SideTally): SideTally {
  const sum = (x: Float64Array, y: Float64Array) => x.map((each, i) => each + y[i])
  return {
    ...{ ways: a.ways + b.ways, people: a.people + b.people, reached: a.reached + b.reached },
    ...{ cut: a.cut + b.cut, open: a.open + b.open },
    ...{ nodes: sum(a.nodes, b.nodes), ribbons: sum(a.ribbons, b.ribbons), sources: sum(a.sources, b.sources) },
    times: taken(a.times, b.times),
    total: taken(a.total, b.total),
    loops: taken(a.loops, b.loops),
    // Of nobody there are no lists yet.
    over: (a.over.length > 0 ? a : b).over.map((_, i) => taken(a.over[i] ?? [], b.over[i] ?? [])),
  }
}

function taken<T>(a: T[], b: readonly T[]): T[] {
  a.push(...b)
  return a
}

/** Into the first, which is taken over. */
export function joinWays(a: WayTallies, b: WayTallies): WayTallies {
  for (const [place, ways] of b) {
    const known = a.get(place)
    if (!known) {
      a.set(place, ways)
      continue
    }
    for (const way of ways) {
      const own = known.find(({ refs, more }) => more === way.more && sameRefs(refs, way.refs))
      if (!own) {
        known.push(way)
        continue
      }
      for (let group = 0; group < own.counts.length; group++) own.counts[group] += way.counts[group]
      for (const ms of way.times) own.times.push(ms)
    }
  }
  return a
}

function sameRefs(a: readonly NodeRef[], b: readonly NodeRef[]): boolean {
  if (a.length !== b.length) return false
  for (let step = 0; step < a.length; step++) if (a[step] !== b[step]) return false
  return true
}

/** Whole ways, found again by their place of the rough count and their nodes. */
export class WayTable {
  private readonly places: WayTallies = new Map()

  constructor(
    private readonly groups: number,
    private readonly refOf: (node: number) => NodeRef,
  ) {}

  of({ nodes, length, more }: Path, place: number): WayTally {
    const known = this.places.get(place)
    if (known)
      for (let i = 0; i < known.length; i++) {
        const way = known[i]
        if (way.more === more && way.refs.length === length && this.isAlong(nodes, way.refs)) return way
      }
    const way: WayTally = { refs: [], more, counts: [], times: [] }
    for (let step = 0; step < length; step++) way.refs.push(this.refOf(nodes[step]))
    for (let group = 0; group < this.groups; group++) way.counts.push(0)
    if (known) known.push(way)
    else this.places.set(place, [way])
    return way
  }

  private isAlong(nodes: Int32Array, refs: readonly NodeRef[]): boolean {
    for (let step = 0; step < refs.length; step++) {
      const ref = refs[step]
      if (ref !== nodes[step] && (typeof ref === 'number' || ref !== this.refOf(nodes[step]))) return false
    }
    return true
  }

  done(): WayTallies {
    return this.places
  }
}

/** The medians of times by ribbon, from the step before, and by node, from the start, ms; NaN where there are none. */
export function medianTimes(
  { times, nodes, ribbons }: Pick<SideTally, 'times' | 'nodes' | 'ribbons'>,
  width: number,
): { nodes: Float64Array; ribbons: Float64Array } {
  const square = width * width
  const nodeOf = Uint32Array.from(ribbons, (_, ribbon) => Math.floor(ribbon / square) * width + (ribbon % width))
  const fromStart = new GroupMedians(nodes.length)
  const fromStep = new GroupMedians(ribbons.length)
  for (const { ribbon, sinceStart } of times) {
    let before = 0
    for (let i = 0; i < ribbon.length; i++) {
      const own = ribbon[i]
      const ms = sinceStart[i]
      fromStart.count(nodeOf[own], ms)
      // The step before stands before it, unless it is a way's first.
      fromStep.count(own, ms - before * +(own >= square))
      before = ms
    }
  }
  fromStart.narrow()
  fromStep.narrow()
  for (const { ribbon, sinceStart } of times) {
    let before = 0
    for (let i = 0; i < ribbon.length; i++) {
      const own = ribbon[i]
      const ms = sinceStart[i]
      fromStart.collect(nodeOf[own], ms)
      fromStep.collect(own, ms - before * +(own >= square))
      before = ms
    }
  }
  return { nodes: fromStart.medians(), ribbons: fromStep.medians() }
}
