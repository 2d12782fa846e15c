import { own } from '../../../core/names.js'
import {
  computeTextCentre,
  intersectionArea,
  intersectionAreaPath,
  normalizeSolution,
  scaleSolution,
  venn,
  type ICircle,
} from '@upsetjs/venn.js'
import type { OverlapRegion } from '../../../core/analyses/overlap/finish.js'

/** Circles whose areas, and those of the parts they make, are in proportion to the people. */
export interface Euler {
  /** by place of the segment; null for one that holds nobody */
  circles: ({ x: number; y: number; radius: number } | null)[]
  /** the parts that hold somebody: where their number stands, and the outline of all that lies in these circles */
  parts: { in: number[]; people: number; at: { x: number; y: number }; path: string }[]
  /** share of all people whose area is not what it should be: 0 = exact */
  off: number
}

/**
 * Lays out two or three segments. Circles cannot show every combination exactly; `off` says how far off these are.
 * @param width,height px
 */
export function eulerOf(
  segments: readonly { people: number }[],
  regions: readonly OverlapRegion[],
  width: number,
  height: number,
): Euler {
  const present = segments.map((_, place) => place).filter((place) => segments[place].people > 0)
  if (present.length === 0) return { circles: segments.map(() => null), parts: [], off: 0 }
  const shared = (places: readonly number[]) =>
    regions.reduce((sum, region) => (places.every((place) => region.in.includes(place)) ? sum + region.people : sum), 0)
  const sets = subsets(present).map((places) => ({ sets: places.map(String), size: shared(places) }))
  // The layout starts from random places: a fixed sequence gives the same picture each time.
  const solution = venn(sets, { random: sequence() })
  const laid = scaleSolution(normalizeSolution(solution, Math.PI / 2), width, height, 8)
  const circles = segments.map((_, place) => own(laid, String(place)) ?? null)
  const parts = regions
    .filter(({ people, in: inside }) => people > 0 && inside.every((place) => circles[place]))
    .map(({ in: inside, people }) => {
      const within = inside.map((place) => circles[place]!)
      const without = present.filter((place) => !inside.includes(place)).map((place) => circles[place]!)
      return { in: inside, people, at: computeTextCentre(within, without), path: intersectionAreaPath(within) }
    })
  return { circles, parts, off: misplaced(circles, regions) }
}

function subsets(places: readonly number[]): number[][] {
  return Array.from({ length: (1 << places.length) - 1 }, (_, mask) =>
    places.filter((_place, index) => ((mask + 1) & (1 << index)) !== 0),
  )
}

/** Half the sum of the differences between each part's share of the area and its share of the people. */
function misplaced(circles: readonly (ICircle | null)[], regions: readonly OverlapRegion[]): number {
  const area = new Map(regions.map(({ in: inside }) => [inside.join(), ownArea(circles, inside)]))
  const total = [...area.values()].reduce((sum, each) => sum + each, 0)
  const people = regions.reduce((sum, each) => sum + each.people, 0)
  return regions.reduce((sum, each) => sum + Math.abs(area.get(each.in.join())! / total - each.people / people), 0) / 2
}

/** The area that lies in these circles and in no other, by inclusion and exclusion. */
function ownArea(circles: readonly (ICircle | null)[], inside: readonly number[]): number {
  if (inside.some((place) => !circles[place])) return 0
  const others = circles.flatMap((circle, place) => (circle && !inside.includes(place) ? [place] : []))
  let area = intersectionArea(inside.map((place) => circles[place]!))
  for (const more of subsets(others)) {
    const sign = more.length % 2 === 0 ? 1 : -1
    area += sign * intersectionArea([...inside, ...more].map((place) => circles[place]!))
  }
  return Math.max(0, area)
}

function sequence(): () => number {
  let state = 42
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648
    return state / 2_147_483_648
  }
}

/** Which part a point lies in: the places of the circles around it. */
export function partAt({ circles }: Euler, x: number, y: number): number[] {
  return circles.flatMap((circle, place) =>
    circle && (circle.x - x) ** 2 + (circle.y - y) ** 2 <= circle.radius ** 2 ? [place] : [],
  )
}
