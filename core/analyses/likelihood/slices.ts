import type { KeptModel, Scored } from './model.js'

/** A part of the people there are now, from the likeliest on. */
export interface Slice {
  /** percent of people: from, to */
  from: number
  to: number
  people: number
  /** how many of them are expected to do it */
  expected: number
  /** the least likely one's chance */
  lowest: number
  /** of those it was told of, what part of all who did it stood in it; null where nobody did */
  caught: number | null
}

/** How many people the likeliest so many percent are. */
export const placesOf = (percent: number, people: number): number => Math.floor((percent * people) / 100)

/** The parts that cuts make of everybody. */
export function slicesOf({ people, expected, lowest }: Scored, { told }: KeptModel, cuts: readonly number[]): Slice[] {
  const edges = [0, ...cuts, 100]
  return edges.slice(1).map((to, i) => {
    const from = edges[i]
    return {
      ...{ from, to },
      people: placesOf(to, people) - placesOf(from, people),
      expected: expected[to] - expected[from],
      lowest: lowest[to],
      caught: told.did > 0 ? (told.caught[to] - told.caught[from]) / told.did : null,
    }
  })
}
