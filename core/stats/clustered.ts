import { twoSidedP } from './proportion.js'

/**
 * Of people who each have several of something: how many they have (n) and what those come to (y), added up over people,
 * with squares and products. What one person has is alike, so the person is what is drawn, not each single thing.
 */
export interface Clustered {
  people: number
  n: number
  y: number
  nn: number
  ny: number
  yy: number
}

/** The mean of all single things, y over n, with its variance by the ratio estimator; null where there is none. */
function ratio({ people, n, y, nn, ny, yy }: Clustered): { mean: number; variance: number } | null {
  if (people < 2 || n === 0) return null
  const mean = y / n
  const spread = Math.max(0, yy - 2 * mean * ny + mean ** 2 * nn)
  return { mean, variance: ((spread / n ** 2) * people) / (people - 1) }
}

/** Whether two such means differ: z and two-sided p; null where it cannot be tested. */
export function clusteredDifference(
  a: Clustered,
  b: Clustered,
): { own: number; other: number; z: number; p: number } | null {
  const [x, y] = [ratio(a), ratio(b)]
  if (!x || !y || !(x.variance + y.variance > 0)) return null
  const z = (x.mean - y.mean) / Math.sqrt(x.variance + y.variance)
  return { own: x.mean, other: y.mean, z, p: twoSidedP(z) }
}

export function addClustered(list: readonly Clustered[]): Clustered {
  const sum = (name: keyof Clustered) => list.reduce((total, each) => total + each[name], 0)
  return { people: sum('people'), n: sum('n'), y: sum('y'), nn: sum('nn'), ny: sum('ny'), yy: sum('yy') }
}
