import { sideName } from '../../segments/side.js'
import { own } from '../../names.js'
import { finishTrend } from '../trend/finish.js'
import { MEASURES, type MeasureUnit } from '../trend/measures.js'
import type { QueryContext } from '../analysis.js'
import type { OverlapPart, OverlapPlan } from './plan.js'
import { figureTrend, type OverlapQuestion } from './question.js'

/** One part: in these segments and in no other of them. */
export interface OverlapRegion {
  /** places of the segments it lies in, ascending */
  in: number[]
  people: number
  /** the figure over the range; null = a gap, or none is asked */
  figure: number | null
}

export interface OverlapResult {
  kind: 'overlap'
  /** what the segments are called, and how many people each holds */
  segments: { name: string; people: number }[]
  /** all parts, the 2^n − 1 of them, those in fewest segments first */
  regions: OverlapRegion[]
  /** people in any of them, in more than one, and everybody there is */
  any: number
  several: number
  everyone: number
  unit: MeasureUnit | null
  /** the figure for all people in any of the parts and none together; null where none is asked, or a gap */
  total: number | null
}

export function finishOverlap(
  part: OverlapPart,
  plan: OverlapPlan,
  question: OverlapQuestion,
  context: QueryContext,
): OverlapResult {
  const asked = figureTrend(question)
  const trend = asked && part.trend && plan.trend ? finishTrend(part.trend, plan.trend, asked) : null
  const [line] = trend?.lines ?? []
  const figures = new Map(
    (line?.groups ?? []).flatMap(({ key, total }): [number, number | null][] =>
      key && 'side' in key ? [[key.side, total]] : [],
    ),
  )
  const regions = Array.from({ length: (1 << plan.sides) - 1 }, (_, index) => {
    const mask = index + 1
    const inside = sidesOf(mask, plan.sides)
    // A part in which nothing was counted is no group of the trend: counts and sums of it are 0, all else a gap.
    const missing = question.figure && MEASURES[question.figure.measure].emptyIsZero ? 0 : null
    return { in: inside, people: part.people[mask], figure: figures.get(mask) ?? (question.figure ? missing : null) }
  }).sort((a, b) => a.in.length - b.in.length || compareSides(a.in, b.in))
  const nameOf = (id: string) => own(context.segmentNames, id) ?? id
  return {
    kind: 'overlap',
    segments: question.sides.map((side, place) => ({
      name: sideName(side, nameOf),
      people: regions.reduce((sum, region) => (region.in.includes(place) ? sum + region.people : sum), 0),
    })),
    regions,
    any: regions.reduce((sum, { people }) => sum + people, 0),
    several: regions.reduce((sum, region) => (region.in.length > 1 ? sum + region.people : sum), 0),
    everyone: part.people.reduce((sum, people) => sum + people, 0),
    unit: question.figure ? MEASURES[question.figure.measure].unit : null,
    total: line?.all.total ?? null,
  }
}

function sidesOf(mask: number, many: number): number[] {
  return Array.from({ length: many }, (_, side) => side).filter((side) => (mask & (1 << side)) !== 0)
}

function compareSides(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i] - b[i]
  return 0
}
