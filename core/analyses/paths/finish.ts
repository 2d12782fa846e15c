import type { GroupKey } from '../../questions/parts.js'
import { adjusted, compare, type Compared } from '../../stats/compared.js'
import type { Interval } from '../../stats/proportion.js'
import { quantile } from '../../stats/quantile.js'
import type { QueryContext } from '../analysis.js'
import { joinedPieces, joinedWhole, sortedPieces, type Pieces } from '../../stats/pieces.js'
import { nodeOfRef, type PathsPart } from './plan.js'
import { nodeId, type PathNode, type PathsQuestion } from './question.js'
import { shownNodes, type PathsPlan } from './shape.js'
import { medianTimes, widthOf, type SideTally } from './tally.js'
import { timesApart, type TimesApart } from './timesApart.js'

/** What stands at a step of the stream: a node, all others together, or those who go no further. */
export type ShownPlace = PathNode | { rest: true; nodes: number } | { ends: true }

export interface ShownNode {
  place: ShownPlace
  /** ways that have it there */
  count: number
  /** median of the times from the start, ms; null for those that end */
  median: number | null
  /** where its events come from, the commonest first */
  sources: { source: string | null; count: number }[]
}

export interface Ribbon {
  /** of the step before: the place in its nodes; 0 = the start */
  from: number
  to: number
  count: number
  /** median of the times from the step before, ms; null for those that end */
  median: number | null
}

export interface PathStep {
  /** the kept ones, the commonest first, then all others, then those that end; each only where there are any */
  nodes: ShownNode[]
  ribbons: Ribbon[]
  /** ways that got to the step before: what shares of the step before are of */
  before: number
}

/** The ways of one group, or of all together. */
export interface PathSide {
  /** null = all together */
  key: GroupKey | null
  /** how many ways, and of how many people */
  ways: number
  people: number
  /** of ways that have to get somewhere: how many did, and the median time they took, ms */
  reached: number | null
  took: number | null
  /** ways that had a further step later than the time allowed, and those whose time is not over yet */
  cut: number
  open: number
  steps: PathStep[]
}

/** A whole way, step by step. */
export interface Way {
  nodes: PathNode[]
  /** of ways that have to get somewhere: it got there in more steps than are followed */
  more: boolean
  count: number
  /** from the start to its last step, or to where it has to get, ms; null where it has none */
  median: number | null
  /** by group */
  counts: number[]
}

/** How often two groups take a step. */
export interface StepDifference {
  step: number
  place: PathNode | { ends: true }
  own: { part: number; whole: number }
  other: { part: number; whole: number }
  /** the first's share of its ways less the other's */
  by: number
  interval: Interval | null
  /** adjusted over all steps that are compared; null where nothing varies */
  p: number | null
}

/** Between two events: what takes longer, and who comes by the start again. */
export interface Detours {
  /** the shortest of the common ways, by its place in the list; null where none is common */
  straight: number | null
  /** of each event on the way: how long the ways over it took, beside all others */
  over: ({ node: PathNode } & TimesApart)[]
}

export interface PathsResult {
  kind: 'paths'
  counts: 'people' | 'occurrences'
  all: PathSide
  groups: PathSide[]
  rest: number
  /** the commonest whole ways, the most gone first */
  ways: Way[]
  /** how many ways more are told apart than are listed; null = not known, for there are too many */
  others: number | null
  /** ways that come by the start again, with the median of their times, ms */
  loops: { count: number; median: number | null }
  detours: Detours | null
  /** of exactly two groups of people: which step one takes more often, the surest first */
  differences: StepDifference[] | null
}

/** So many ways are listed. */
export const MOST_WAYS = 500
/** A way is common that at least such a part of all take. */
const COMMON = 0.05

export function finishPaths(
  part: PathsPart,
  plan: PathsPlan,
  question: PathsQuestion,
  { schema }: QueryContext,
): PathsResult {
  if (part.pass !== 'count') throw new RangeError('only the last pass can be finished')
  const everybody = plan.keys.length
  const whole = part.sides[everybody]
  const sources = schema.sources.values.map((value) => value as string | null)
  const places = stepPlaces(plan, whole)
  const sides = part.sides.map((side, group) =>
    sideOf(group === everybody ? null : plan.keys[group], side, places, plan, sources),
  )
  const counted = plan.end ? whole.reached : whole.ways
  // Ways that are told apart though others as common may not be are not ranked; of the others those that may be listed.
  const apart = [...part.ways.values()].flat()
  const sure = apart.filter(({ counts }) => counts[everybody] >= plan.sure)
  sure.sort((a, b) => b.counts[everybody] - a.counts[everybody])
  const least = sure[MOST_WAYS]?.counts[everybody] ?? 0
  const told = sure
    .filter(({ counts }) => counts[everybody] >= least)
    .map((tally) => {
      const nodes = tally.refs.map((ref) => nodeOfRef(ref, plan.nodes, schema, question))
      return { tally, nodes, id: wayId({ nodes, more: tally.more }) }
    })
  told.sort((a, b) => b.tally.counts[everybody] - a.tally.counts[everybody] || inOrder(a.id, b.id))
  const ways = told.slice(0, MOST_WAYS).map(({ tally: { more, counts, times }, nodes }): Way => ({
    ...{ nodes, more, count: counts[everybody] },
    median: nodes.length > 0 ? quantile(Float64Array.from(times).sort(), 0.5) : null,
    counts: counts.slice(0, everybody),
  }))
  const groups = sides.slice(0, everybody)
  return {
    kind: 'paths',
    counts: plan.occurrences ? 'occurrences' : 'people',
    all: sides[everybody],
    groups,
    rest: plan.rest,
    ways,
    others: plan.sure > 1 ? null : apart.length - ways.length,
    loops: { count: lengthOf(whole.loops), median: medianOf(whole.loops) },
    detours: plan.end ? detoursOf(ways, counted, whole, plan) : null,
    // Ways of one person are alike: only where each is counted once the tests hold.
    differences:
      groups.length === 2 && !plan.occurrences && !overlaps(groups, sides[everybody])
        ? differencesOf(groups, plan)
        : null,
  }
}

const overlaps = (groups: readonly PathSide[], all: PathSide) =>
  groups.reduce((sum, { people }) => sum + people, 0) > all.people

export const wayId = ({ nodes, more }: Pick<Way, 'nodes' | 'more'>) =>
  `${nodes.map(nodeId).join(' ')}${more ? ' …' : ''}`
const inOrder = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)
const known = (ms: number) => (Number.isNaN(ms) ? null : ms)
const lengthOf = (pieces: Pieces) => pieces.reduce((sum, { length }) => sum + length, 0)
const medianOf = (pieces: Pieces | undefined) => (pieces ? quantile(sortedPieces(pieces), 0.5) : null)

/** By step: which of its places are shown, and what stands there. The same for all groups, so that they stand beside each other. */
function stepPlaces(plan: PathsPlan, whole: SideTally): { at: number; place: ShownPlace }[][] {
  const width = widthOf(plan)
  return plan.kept.map(({ nodes, rest }, step) => {
    const some = (at: number) => whole.nodes[step * width + at] > 0
    return [
      ...nodes.map((place, at) => ({ at, place })),
      ...(some(plan.keep) ? [{ at: plan.keep, place: { rest: true as const, nodes: rest } }] : []),
      ...(some(width - 1) ? [{ at: width - 1, place: { ends: true as const } }] : []),
    ]
  })
}

function sideOf(
  key: GroupKey | null,
  side: SideTally,
  places: ReturnType<typeof stepPlaces>,
  plan: PathsPlan,
  sources: readonly (string | null)[],
): PathSide {
  const width = widthOf(plan)
  const ends = width - 1
  const shown = places.map((own) => new Map(own.map(({ at }, index) => [at, index])))
  const medians = medianTimes(side, width)
  let before = plan.end ? side.reached : side.ways
  const steps = places.map((own, step): PathStep => {
    const nodes = own.map(({ at, place }): ShownNode => {
      const node = step * width + at
      const from = sources
        .map((source, code) => ({ source, count: side.sources[node * plan.sources + code] }))
        .filter(({ count }) => count > 0)
        .sort((a, b) => b.count - a.count)
      return {
        place,
        count: side.nodes[node],
        median: known(medians.nodes[node]),
        sources: from.slice(0, 3),
      }
    })
    const ribbons: Ribbon[] = []
    for (let from = 0; from < (step === 0 ? 1 : ends); from++)
      for (const { at } of own) {
        const ribbon = (step * width + from) * width + at
        const count = side.ribbons[ribbon]
        if (count === 0) continue
        const median = known(medians.ribbons[ribbon])
        ribbons.push({ from: step === 0 ? 0 : shown[step - 1].get(from)!, to: shown[step].get(at)!, count, median })
      }
    const reached = before
    before = nodes.reduce((sum, { place, count }) => ('ends' in place ? sum : sum + count), 0)
    return { nodes, ribbons, before: reached }
  })
  return {
    ...{ key, ways: side.ways, people: side.people, cut: side.cut, open: side.open, steps },
    reached: plan.end ? side.reached : null,
    took: plan.end ? medianOf(side.total) : null,
  }
}

function detoursOf(ways: readonly Way[], reached: number, whole: SideTally, plan: PathsPlan): Detours {
  const common = ways.flatMap((way, index) => (way.count >= COMMON * reached && !way.more ? [{ way, index }] : []))
  common.sort((a, b) => a.way.nodes.length - b.way.nodes.length || b.way.count - a.way.count)
  const apartOf = timesApart(joinedPieces(whole.total))
  const bits = whole.over.map(joinedWhole)
  const over = shownNodes(plan).flatMap((node, number) => {
    const own = bits[number >> 5]
    const apart = own && apartOf(own, number & 31)
    return apart ? [{ node, ...apart }] : []
  })
  return { straight: common[0]?.index ?? null, over: adjustTimes(over) }
}

function adjustTimes<T extends TimesApart>(found: readonly T[]): T[] {
  const ps = adjusted(found.map(({ p }) => ({ p }) as Compared))
  return found.map((each, i) => ({ ...each, p: ps[i]!.p }))
}

function differencesOf([a, b]: readonly PathSide[], plan: PathsPlan): StepDifference[] {
  const whole = ({ ways, reached }: PathSide) => (plan.end ? reached! : ways)
  const found = a.steps.flatMap(({ nodes }, step) =>
    nodes.flatMap(({ place, count }, index) => {
      if ('rest' in place) return []
      const own = { part: count, whole: whole(a) }
      const other = { part: b.steps[step].nodes[index].count, whole: whole(b) }
      const compared = compare(own, other)
      return compared ? [{ step: step + 1, place, compared }] : []
    }),
  )
  const all = adjusted(found.map(({ compared }) => compared))
  return found
    .map(({ step, place, compared: { own, other } }, i): StepDifference => {
      const { difference, interval, p } = all[i]!
      return { step, place, own, other, by: difference, interval, p }
    })
    .sort((x, y) => (x.p ?? 1) - (y.p ?? 1) || Math.abs(y.by) - Math.abs(x.by))
}
