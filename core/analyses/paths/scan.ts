import { bindGrouped, groupFinder, isIn, mergeFound, type ReadGroups } from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId } from '../../questions/groupId.js'
import { pathFinder, type PathFinder } from './follow.js'
import type { Path } from './path.js'
import { FollowedBuilder } from './followed.js'
import type { PathPlace, PathsMark } from './marks.js'
import { ROUGH, type NodeCounts, type PathsPart } from './plan.js'
import { nodeId, type PathNode } from './question.js'
import { shownNodes, type PathsPlan } from './shape.js'
import { joinSides, joinWays, SideBuilder, WayTable } from './tally.js'

/** Visits the ways of everybody who is asked, in order of people. */
function eachPath(
  log: EventLog,
  people: PersonRange,
  plan: PathsPlan,
  finder: PathFinder,
  visit: (path: Path) => void,
): void {
  const { hidden, person } = log
  const { among } = plan
  for (let index = people.from; index < people.to; index++) {
    if (hidden?.[index] === 1 || (among !== null && among[person[index]] !== 1)) continue
    finder.each(index, visit)
  }
}

export function scanPaths(log: EventLog, people: PersonRange, plan: PathsPlan): PathsPart {
  const finder = pathFinder(log, plan)
  if (plan.pass === 'nodes') return countNodes(log, people, plan, finder)
  if (plan.pass !== 'count') {
    const groups = groupFinder(log, plan)
    eachPath(log, people, plan, finder, ({ anchor, person }) => groups.meet(anchor, person))
    return groups.found()
  }
  const everybody = plan.keys.length
  const sides = Array.from({ length: everybody + 1 }, () => new SideBuilder(plan, log.time, log.source))
  const groupsOf = bindGrouped(log, plan.split)
  const places = placesOf(plan, finder)
  const ways = new WayTable(everybody + 1, finder.refOf)
  const count = (path: Path) => {
    if (plan.end && path.reached < 0) {
      const groups = groupsOf?.(path.anchor, path.person)
      if (groups) for (let g = 0; g < groups.length; g++) sides[groups.found[g]].miss(path)
      sides[everybody].miss(path)
      return
    }
    const at = places.of(path)
    const over = plan.end ? places.overOf(path) : null
    const groups = groupsOf?.(path.anchor, path.person)
    if (groups) for (let g = 0; g < groups.length; g++) sides[groups.found[g]].add(path, at, null)
    sides[everybody].add(path, at, over)
    const rough = roughPlace(path, finder)
    if (plan.wanted![rough] !== 1) return
    const way = ways.of(path, rough)
    way.counts[everybody]++
    if (groups) for (let g = 0; g < groups.length; g++) way.counts[groups.found[g]]++
    const last = plan.end ? path.reached : path.length > 0 ? path.rows[path.length - 1] : path.anchor
    way.times.push(Math.abs(log.time[last] - log.time[path.anchor]))
  }
  const followed = plan.followed?.get(rangeId(log, people))
  if (followed) finder.again(followed, count)
  else eachPath(log, people, plan, finder, count)
  return { pass: 'count', sides: sides.map((side) => side.done()), ways: ways.done() }
}

/** By its first person and its last: nobody is in two blocks. */
const rangeId = ({ person }: EventLog, { from, to }: PersonRange) => `${person[from]} ${person[to - 1]}`

function countNodes(log: EventLog, people: PersonRange, plan: PathsPlan, finder: PathFinder): NodeCounts {
  const { steps, end } = plan
  const { size } = plan.nodes
  const counts = new Float64Array(steps * size)
  const loose = new Map<string, Float64Array>()
  const rough = new Uint32Array(ROUGH)
  // Those who go by every one of their starts may have many ways: they are followed twice rather than kept.
  const ways = plan.occurrences ? null : new FollowedBuilder(finder.size, end !== null)
  eachPath(log, people, plan, finder, (path) => {
    ways?.add(path)
    if (end && path.reached < 0) return
    for (let step = 0; step < path.length; step++) {
      const node = path.nodes[step]
      if (node < size) counts[step * size + node]++
      else {
        const key = finder.refOf(node) as string
        let own = loose.get(key)
        if (!own) loose.set(key, (own = new Float64Array(steps)))
        own[step]++
      }
    }
    rough[roughPlace(path, finder)]++
  })
  const followed = ways && new Map([[rangeId(log, people), ways.done()]])
  return { pass: 'nodes', counts, loose, rough, followed }
}

const mixed = (hash: number, x: number) => Math.imul(Math.imul(hash ^ (x & 0xffff), PRIME) ^ (x >>> 16), PRIME)
const PRIME = 0x01000193

/** FNV-1a over what a way's nodes are known by. */
function roughPlace({ nodes, length, more }: Path, { refOf, size }: PathFinder): number {
  let hash = more ? 0x1b873593 : 0x811c9dc5
  for (let step = 0; step < length; step++) {
    const node = nodes[step]
    const ref = node < size ? node : refOf(node)
    if (typeof ref === 'number') hash = mixed(hash, ref + 1)
    else for (let i = 0; i < ref.length; i++) hash = mixed(hash, ref.charCodeAt(i))
    hash = mixed(hash, 0x9e3779b9)
  }
  return ((hash >>> 16) ^ hash) & (ROUGH - 1)
}

/** Finds the places of nodes at each step; what is found is used again for the next way. */
function placesOf(plan: PathsPlan, { nodeOf }: PathFinder) {
  const { keep, steps, kept } = plan
  const found = new Int32Array(steps)
  // Nodes known beforehand by a table, those that turn up by and by in a map.
  const tables = kept.map(() => new Int16Array(plan.nodes.size).fill(keep))
  const loose = kept.map(() => new Map<number, number>())
  kept.forEach(({ refs }, step) =>
    refs.forEach((ref, place) => {
      if (typeof ref === 'number') tables[step][ref] = place
      else loose[step].set(nodeOf(ref), place)
    }),
  )
  // The nodes that are shown at any step, each once, by numbers of their own.
  const shown = new Map(shownNodes(plan).map((node, number) => [nodeId(node), number]))
  const table = new Int32Array(plan.nodes.size).fill(-1)
  const numbers = new Map<number, number>()
  kept.forEach(({ refs, nodes }) =>
    refs.forEach((ref, i) => {
      const number = shown.get(nodeId(nodes[i]))!
      if (typeof ref === 'number') table[ref] = number
      else numbers.set(nodeOf(ref), number)
    }),
  )
  const bits = new Uint32Array(Math.ceil(shown.size / 32))
  return {
    of({ nodes, length }: Path): Int32Array {
      for (let step = 0; step < length; step++) {
        const node = nodes[step]
        found[step] = node < plan.nodes.size ? tables[step][node] : (loose[step].get(node) ?? keep)
      }
      return found
    },
    /** as bits: which of the shown nodes a way goes over; used again for the next way */
    overOf({ nodes, length }: Path): Uint32Array {
      bits.fill(0)
      for (let step = 0; step < length; step++) {
        const node = nodes[step]
        const number = node < table.length ? table[node] : (numbers.get(node) ?? -1)
        if (number >= 0) bits[number >> 5] |= 1 << (number & 31)
      }
      return bits
    },
  }
}

export function mergePaths(a: PathsPart, b: PathsPart): PathsPart {
  if (a.pass === 'nodes' && b.pass === 'nodes') {
    // Into the first, which is taken over.
    const [rough, more] = [a.rough, b.rough]
    for (let place = 0; place < ROUGH; place++) rough[place] += more[place]
    const loose = new Map(a.loose)
    for (const [key, own] of b.loose) {
      const before = loose.get(key)
      loose.set(key, before ? addArrays(before, own) : own)
    }
    const followed = a.followed && b.followed && new Map([...a.followed, ...b.followed])
    return { pass: 'nodes', counts: addArrays(a.counts, b.counts), loose, rough, followed }
  }
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      sides: a.sides.map((side, group) => joinSides(side, b.sides[group])),
      ways: joinWays(a.ways, b.ways),
    }
  if (a.pass === 'nodes' || b.pass === 'nodes' || a.pass === 'count' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** Whether a way is counted in a mark. */
function markTest(mark: PathsMark, plan: PathsPlan, finder: PathFinder): (path: Path) => boolean {
  const places = placesOf(plan, finder)
  const marked = new Map(plan.marked.map(({ id, ref }) => [id, finder.nodeOf(ref)]))
  const numberOf = (node: PathNode) => marked.get(nodeId(node)) ?? -1
  const placeTest = (place: PathPlace, step: number): ((path: Path) => boolean) => {
    if ('ends' in place) return ({ length }) => !plan.end && length === step - 1
    if ('rest' in place) return (path) => path.length >= step && places.of(path)[step - 1] === plan.keep
    const wanted = numberOf(place)
    return ({ nodes, length }) => length >= step && nodes[step - 1] === wanted
  }
  const counted = (path: Path) => !plan.end || path.reached >= 0
  switch (mark.kind) {
    case 'anchor':
      if (mark.got === undefined) return () => true
      return (path) => path.reached >= 0 === mark.got && !(mark.forGood && path.open)
    case 'loop':
      return (path) => counted(path) && path.loops
    case 'way': {
      const wanted = mark.nodes.map(numberOf)
      return (path) =>
        counted(path) &&
        path.length === wanted.length &&
        path.more === (mark.more === true) &&
        wanted.every((node, step) => path.nodes[step] === node)
    }
    case 'node': {
      const { step, from } = mark
      const there = placeTest(mark.place, step)
      const came = from && step > 1 ? placeTest(from, step - 1) : null
      return (path) => counted(path) && there(path) && (came === null || came(path)) && !(mark.forGood && path.open)
    }
  }
}

function testsOf(log: EventLog, plan: PathsPlan, marks: readonly PathsMark[], finder: PathFinder) {
  const groupsOf: ReadGroups | null = bindGrouped(log, plan.split)
  return marks.flatMap((mark) => {
    const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
    if (group === -1) return []
    const holds = markTest(mark, plan, finder)
    return [
      {
        mark,
        holds: (path: Path) =>
          holds(path) && (group === null || isIn(groupsOf?.(path.anchor, path.person) ?? null, group)),
      },
    ]
  })
}

/** The people one of whose ways is counted in any of the marks, ascending by the workspace's number. */
export function selectPaths(
  log: EventLog,
  people: PersonRange,
  plan: PathsPlan,
  marks: readonly PathsMark[],
): Uint32Array {
  const finder = pathFinder(log, plan)
  const tests = testsOf(log, plan, marks, finder)
  const found: number[] = []
  eachPath(log, people, plan, finder, (path) => {
    if (found.at(-1) !== path.person && tests.some(({ holds }) => holds(path))) found.push(path.person)
  })
  return Uint32Array.from(found)
}

/** The row of the step that a person is counted at; of those that end, their last one. */
export function momentOfPaths(
  log: EventLog,
  index: number,
  plan: PathsPlan,
  marks: readonly PathsMark[],
): number | null {
  const finder = pathFinder(log, plan)
  const tests = testsOf(log, plan, marks, finder)
  let moment: number | null = null
  finder.each(index, (path) => {
    if (moment !== null) return
    const found = tests.find(({ holds }) => holds(path))
    if (!found) return
    const { mark } = found
    const step = mark.kind === 'node' ? Math.min(mark.step, path.length) : mark.kind === 'way' ? path.length : 0
    moment = step > 0 ? path.rows[step - 1] : path.anchor
  })
  return moment
}
