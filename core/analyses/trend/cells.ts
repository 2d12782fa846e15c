import type { SeriesPlan } from './shape.js'
import { addArrays } from '../../groups/groups.js'
import { rankedCells, type Extent } from '../../stats/rankedCells.js'
import { percentileOf } from './measures.js'

/**
 * What is counted of one series. Cell (g, b) is `g * width + b`; the last bucket number is the whole range, and after
 * the groups comes all of them together. Joins: sums add up, lists are appended, sets united.
 */
export interface SeriesPart {
  /** matching events; of sessions: the sessions */
  events: Float64Array
  people: Float64Array
  numbers: NumberCells | null
  /** percentiles: every number with its cell, in pieces; cells of the whole range are not among them */
  values: { cells: Uint32Array[]; numbers: Float64Array[]; extents: Extent[] } | null
  /** distinct values by cell: codes, numbers and moments are different values */
  distinct: {
    codes: Map<number, Set<number>>
    numbers: Map<number, Set<number>>
    dates: Map<number, Set<number>>
  } | null
}

/** Of the numbers that a property has in a cell. */
export interface NumberCells {
  count: Float64Array
  sum: Float64Array
  min: Float64Array
  max: Float64Array
  /** people with a matching event that has a number */
  people: Float64Array
}

export function mergeSeries(a: SeriesPart, b: SeriesPart): SeriesPart {
  return {
    events: addArrays(a.events, b.events),
    people: addArrays(a.people, b.people),
    numbers: a.numbers && {
      count: addArrays(a.numbers.count, b.numbers!.count),
      sum: addArrays(a.numbers.sum, b.numbers!.sum),
      min: a.numbers.min.map((x, i) => Math.min(x, b.numbers!.min[i])),
      max: a.numbers.max.map((x, i) => Math.max(x, b.numbers!.max[i])),
      people: addArrays(a.numbers.people, b.numbers!.people),
    },
    values: a.values && {
      cells: [...a.values.cells, ...b.values!.cells],
      numbers: [...a.values.numbers, ...b.values!.numbers],
      extents: [...a.values.extents, ...b.values!.extents],
    },
    distinct: a.distinct && {
      codes: unite(a.distinct.codes, b.distinct!.codes),
      numbers: unite(a.distinct.numbers, b.distinct!.numbers),
      dates: unite(a.distinct.dates, b.distinct!.dates),
    },
  }
}

type Sets = Map<number, Set<number>>

function unite(a: Sets, b: Sets): Sets {
  const united = new Map(a)
  for (const [cell, values] of b) {
    const had = united.get(cell)
    united.set(cell, had ? new Set([...had, ...values]) : values)
  }
  return united
}

/** Joins the cells of groups that two scans numbered each for itself: group k of a scan is `ids[k]`. */
export function mergeRanks(
  a: { ids: string[]; cells: SeriesPart },
  b: { ids: string[]; cells: SeriesPart },
): { ids: string[]; cells: SeriesPart } {
  const ids = [...a.ids]
  const at = new Map(ids.map((id, index) => [id, index]))
  const place = b.ids.map((id) => {
    let index = at.get(id)
    if (index === undefined) at.set(id, (index = ids.push(id) - 1))
    return index
  })
  const same = (index: number) => index
  return {
    ids,
    cells: mergeSeries(
      moved(a.cells, ids.length, same),
      moved(b.cells, ids.length, (i) => place[i]),
    ),
  }
}

/** The cells under other group numbers, one cell a group. */
function moved(
  { events, people, numbers, values, distinct }: SeriesPart,
  length: number,
  to: (group: number) => number,
): SeriesPart {
  const array = (from: Float64Array, empty = 0) => {
    const made = new Float64Array(length).fill(empty)
    from.forEach((x, group) => (made[to(group)] = x))
    return made
  }
  const sets = (from: Sets): Sets => new Map([...from].map(([cell, set]) => [to(cell), set]))
  return {
    events: array(events),
    people: array(people),
    numbers: numbers && {
      count: array(numbers.count),
      sum: array(numbers.sum),
      min: array(numbers.min, Infinity),
      max: array(numbers.max, -Infinity),
      people: array(numbers.people),
    },
    values: values && { ...values, cells: values.cells.map((cells) => cells.map(to)) },
    distinct: distinct && {
      codes: sets(distinct.codes),
      numbers: sets(distinct.numbers),
      dates: sets(distinct.dates),
    },
  }
}

/**
 * The figure of each cell (how numbers are counted, 5). An empty cell is 0 for counts and sums, a gap for averages.
 * @param width cells a group
 * @param active people with any activity, by bucket; only read for the share of them
 */
export function figureOf(
  part: SeriesPart,
  { measure }: Pick<SeriesPlan, 'measure'>,
  width: number,
  active: Float64Array | null,
): (group: number, bucket: number) => number | null {
  const { events, people, numbers, distinct } = part
  const q = percentileOf(measure)
  if (q !== null) {
    const figures = rankedCells(part.values!, events.length, width, q)
    return (group, bucket) => orGap(figures[group * width + bucket])
  }
  const over = (a: number, b: number) => (b > 0 ? a / b : null)
  return (group, bucket) => {
    const cell = group * width + bucket
    switch (measure) {
      case 'events':
      case 'sessions':
        return events[cell]
      case 'events per person':
        return over(events[cell], people[cell])
      case 'share of active people':
        return active ? over(people[cell], active[bucket]) : people[cell]
      case 'sum':
        return numbers!.sum[cell]
      case 'average':
        return over(numbers!.sum[cell], numbers!.count[cell])
      case 'minimum':
        return numbers!.count[cell] > 0 ? numbers!.min[cell] : null
      case 'maximum':
        return numbers!.count[cell] > 0 ? numbers!.max[cell] : null
      case 'per person':
        return over(numbers!.sum[cell], numbers!.people[cell])
      case 'distinct values': {
        const size = (sets: Sets) => sets.get(cell)?.size ?? 0
        return size(distinct!.codes) + size(distinct!.numbers) + size(distinct!.dates)
      }
      default:
        return people[cell]
    }
  }
}

const orGap = (x: number) => (Number.isNaN(x) ? null : x)
