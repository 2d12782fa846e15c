import { columnOf, isOfPerson } from '../../filters/bind.js'
import { bindPick, rowMatcher, type RowMatcher } from '../../filters/picks.js'
import type { EventLog } from '../../log/log.js'
import { cutter } from '../../sessions/cuts.js'
import { QUARTER } from '../../time/quarter.js'
import { dayOf } from '../../time/range.js'
import type { Path } from './path.js'
import { readFollowed, type Followed } from './followed.js'
import type { NodeRef, OpenedPlan, PathsPlan } from './shape.js'

export interface PathFinder {
  /** the ways of a person, by their index in the block */
  each(index: number, visit: (path: Path) => void): void
  /** ways that were followed before, in their order */
  again(followed: Followed, visit: (path: Path) => void): void
  /** what a node is known by beyond this scan */
  refOf(node: number): NodeRef
  /** nodes below it are known by their own number */
  size: number
  nodeOf(ref: NodeRef): number
}

const NEVER = -2

/**
 * Follows ways (how numbers are counted, 13): from each person's first start in the range, or every one, step by step in
 * the order of events; asked back from the last one.
 */
export function pathFinder(log: EventLog, plan: PathsPlan): PathFinder {
  const { offsets, time, person: persons, type: typeOf, slot } = log
  const { backward, occurrences, folded, steps, windowMs, from, until, now } = plan
  const picker = bindPick(plan.start, log)
  const begins = plan.sessions && cutter(log, plan.sessions)
  // Whether they get there at all is seen without the steps, where nothing is asked of those who do not.
  const asksSteps = plan.contains.length + plan.lacks.length + plan.through.length > 0
  const ends = plan.end && !backward && !begins && !asksSteps ? bindPick(plan.end, log) : null
  const fromQuarter = from / QUARTER
  const { plain } = picker
  const isStart = rowMatcher(plan.start, log)
  const isEnd = plan.end && rowMatcher(plan.end, log)
  const { nodeAt, refOf, nodeOf } = nodeReader(log, plan)
  // Where nothing is opened a node is told by the type alone, without a call for each row.
  const { ofType, opened } = plan.nodes
  const plainNodes = opened.every((each) => each === null) ? ofType : null
  const contains = plan.contains.map((pick) => rowMatcher(pick, log))
  const lacks = plan.lacks.map((pick) => rowMatcher(pick, log))
  const through = plan.through.map(({ step, ref }) => ({ at: step - 1, node: nodeOf(ref) }))
  const path: Path = {
    ...{ anchor: 0, person: 0, index: 0, length: 0, rows: new Uint32Array(steps), nodes: new Int32Array(steps) },
    ...{ reached: -1, more: false, loops: false, cut: false, open: false },
  }

  /** @param stop the first row, in the direction of going, that is no longer of this way */
  function follow(anchor: number, stop: number, person: number): void {
    const { rows, nodes } = path
    const by = backward ? -1 : 1
    const origin = time[anchor]
    let last = folded ? nodeAt(anchor, person) : NEVER
    let length = 0
    path.anchor = anchor
    path.person = person
    path.reached = -1
    path.more = path.loops = path.cut = path.open = false
    if (ends !== null) {
      const reached = ends.next(anchor + 1, stop, person)
      const seen = reached >= 0 && time[reached] <= now
      if (!seen || time[reached] - origin > windowMs) {
        path.length = 0
        path.cut = seen
        path.open = !seen && origin + windowMs > now
        return
      }
    }
    for (let row = anchor + by; row !== stop; row += by) {
      const at = time[row]
      // What lies after the moment is not seen yet.
      if (at > now) break
      if (begins !== null && begins(backward ? row + 1 : row)) break
      const type = typeOf[row]
      const node = plainNodes !== null ? plainNodes[type] : nodeAt(row, person)
      const isThere = isEnd !== null && isEnd.of[type] !== 0 && isEnd.holds(row, person)
      const isStep = node >= 0 && node !== last
      if (Math.abs(at - origin) > windowMs) {
        if (isEnd ? isThere : isStep) {
          path.cut = true
          break
        }
        continue
      }
      if (!isThere && !isStep) continue
      if (isStep) {
        if (length < steps) {
          rows[length] = row
          nodes[length++] = node
        } else path.more = true
        if (folded) last = node
        if (isStart.of[type] !== 0 && isStart.holds(row, person)) path.loops = true
      }
      if (isThere) {
        path.reached = row
        break
      }
      if (!isEnd && length === steps) break
    }
    path.length = length
    const short = isEnd ? path.reached < 0 : length < steps
    path.open = short && !backward && !path.cut && origin + windowMs > now
  }

  function has(test: RowMatcher): boolean {
    const { rows, length, person } = path
    for (let step = 0; step < length; step++) if (test.holds(rows[step], person)) return true
    return false
  }

  function isWanted(): boolean {
    const { nodes, length } = path
    for (const { at, node } of through) if (at >= length || nodes[at] !== node) return false
    for (const test of contains) if (!has(test)) return false
    for (const test of lacks) if (has(test)) return false
    return true
  }

  const anchors: number[] = []
  return {
    ...{ refOf, nodeOf, size: plan.nodes.size },
    each(index, visit) {
      path.index = index
      const person = persons[index]
      const [first, end] = [offsets[index], offsets[index + 1]]
      if (backward && !occurrences && plain) {
        const last = plain.placeOf(time[end - 1] < until ? end : firstAt(until, first, end)) - 1
        if (last < 0 || plain.rows[last] < first || plain.quarters[last] < fromQuarter) return
        follow(plain.rows[last], first - 1, person)
        if (isWanted()) visit(path)
        return
      }
      if (!backward && !occurrences && plain) {
        // The range begins with a quarter, so the quarters alone tell what lies before it.
        const { rows, quarters } = plain
        let at = plain.placeOf(first)
        while (at < rows.length && rows[at] < end && quarters[at] < fromQuarter) at++
        if (at >= rows.length || rows[at] >= end || time[rows[at]] >= until) return
        follow(rows[at], end, person)
        if (isWanted()) visit(path)
        return
      }
      const since = time[first] >= from ? first : firstAt(from, first, end)
      // The list is used again: to empty one is slow.
      let many = 0
      for (let row = picker.next(since, end, person); row >= 0; row = picker.next(row + 1, end, person)) {
        if (time[row] >= until) break
        anchors[many++] = row
        if (!occurrences && !backward) break
      }
      if (many === 0) return
      for (let i = occurrences ? 0 : many - 1; i < many; i++) {
        const before = occurrences && i > 0 ? anchors[i - 1] : first - 1
        follow(anchors[i], backward ? before : i + 1 < many ? anchors[i + 1] : end, person)
        if (isWanted()) visit(path)
      }
    },
    again(followed, visit) {
      const { rows, nodes } = path
      for (let at = 0; at < followed.length;) {
        at = readFollowed(followed, at, path)
        path.person = persons[path.index]
        for (let step = 0; step < path.length; step++)
          if (nodes[step] < 0) nodes[step] = nodeAt(rows[step], path.person)
        visit(path)
      }
    },
  }

  /** the first of a person's rows that is not before a moment */
  function firstAt(ms: number, first: number, end: number): number {
    let [low, high] = [first, end]
    while (low < high) {
      const middle = (low + high) >>> 1
      if (time[middle] < ms) low = middle + 1
      else high = middle
    }
    return low
  }

  function nodeReader(_log: EventLog, { nodes: { ofType, opened, size, zone } }: PathsPlan) {
    const loose: string[] = []
    const looseNodes = new Map<string, number>()
    const readers: (ValueReader | null | undefined)[] = []
    const intern = (key: string): number => {
      let found = looseNodes.get(key)
      if (found === undefined) looseNodes.set(key, (found = size + loose.push(key) - 1))
      return found
    }
    return {
      nodeAt(row: number, person: number): number {
        const type = typeOf[row]
        const node = ofType[type]
        if (node < 0) return -1
        const reader = (readers[type] ??= opened[type] ? valueReader(log, type, opened[type], zone) : null)
        if (!reader) return node
        const value = reader(row, slot[row], person)
        return typeof value === 'number' ? value : intern(`${node} ${value}`)
      },
      refOf: (node: number): NodeRef => (node < size ? node : loose[node - size]),
      nodeOf: (ref: NodeRef): number => (typeof ref === 'number' ? ref : intern(ref)),
    }
  }
}

/** The node of a coded value, or the key of a number or day. */
type ValueReader = (row: number, slot: number, person: number) => number | string

function valueReader(log: EventLog, type: number, { column: ref, base }: OpenedPlan, zone: string): ValueReader {
  const column = columnOf(ref, log, type)
  if (!column) return () => base
  const { codes, numbers, dates } = column
  const byPerson = isOfPerson(ref)
  const bySource = ref.of === 'source'
  const days = new Map<number, string>()
  return (row, slot, person) => {
    const at = bySource ? row : byPerson ? person : slot
    const code = codes ? codes[at] : 0
    if (code > 0) return base + code
    const number = numbers ? numbers[at] : NaN
    if (number === number) return `n${number}`
    const date = dates ? dates[at] : NaN
    if (date !== date) return base
    let day = days.get(date)
    if (day === undefined) days.set(date, (day = `d${dayOf(date, zone).toString()}`))
    return day
  }
}
