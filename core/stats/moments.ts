import { twoSidedP, Z95 } from './proportion.js'
import type { Differing, Spread } from './welch.js'

/** Sums over people of two figures of each, x and y. They join by adding. */
export interface Moments {
  count: number
  x: number
  y: number
  xx: number
  yy: number
  xy: number
}

export const noMoments = (): Moments => ({ count: 0, x: 0, y: 0, xx: 0, yy: 0, xy: 0 })

export const joined = (a: Moments, b: Moments): Moments => ({
  ...{ count: a.count + b.count, x: a.x + b.x, y: a.y + b.y },
  ...{ xx: a.xx + b.xx, yy: a.yy + b.yy, xy: a.xy + b.xy },
})

/** By n − 1; 0 where there are fewer than two. */
const spreadOf = (count: number, a: number, b: number, ab: number) =>
  count < 2 ? 0 : (ab - (a * b) / count) / (count - 1)

const variances = ({ count, x, y, xx, yy, xy }: Moments) => ({
  x: Math.max(0, spreadOf(count, x, x, xx)),
  y: Math.max(0, spreadOf(count, y, y, yy)),
  xy: spreadOf(count, x, y, xy),
})

/** Of y alone. */
export function meanOf(moments: Moments): Spread {
  const { count, y } = moments
  return { count, mean: count > 0 ? y / count : 0, variance: variances(moments).y }
}

/**
 * The sum of x ÷ the sum of y, with the variance of that quotient by the linear approximation: of each person's x and y,
 * (s_x² − 2 R s_xy + R² s_y²) ÷ (n · mean(y)²).
 * @returns null where y adds up to 0, or there are fewer than two people
 */
export function ratioOf(moments: Moments): { ratio: number; variance: number } | null {
  const { count, x, y } = moments
  if (y === 0 || count < 2) return null
  const ratio = x / y
  const own = variances(moments)
  const spread = own.x - 2 * ratio * own.xy + ratio ** 2 * own.y
  return { ratio, variance: Math.max(0, spread) / (count * (y / count) ** 2) }
}

/** Two ratios by the normal approximation; null where one is a gap or nothing varies. */
export function ratiosDiffer(a: Moments, b: Moments): Differing | null {
  const [own, other] = [ratioOf(a), ratioOf(b)]
  if (!own || !other) return null
  const variance = own.variance + other.variance
  if (!(variance > 0)) return null
  const difference = own.ratio - other.ratio
  const half = Z95 * Math.sqrt(variance)
  return {
    ...{ difference, variance, interval: { low: difference - half, high: difference + half } },
    p: twoSidedP(difference / Math.sqrt(variance)),
  }
}

/** Figures y of several groups with the part taken away that the same figure x of before foretold. */
export interface LessNoise {
  /** so much of x is taken away */
  theta: number
  /** of each group, adjusted */
  groups: Spread[]
  /** the part of the variance of y that it took away, over all groups together */
  saved: number
}

/**
 * Less noise from the past: θ = cov(x, y) ÷ var(x) over all people together, and y − θ (x − mean of all x) in place of y.
 * It moves no difference on average, for who is in which group says nothing about the past.
 */
export function lessNoise(groups: readonly Moments[]): LessNoise {
  const all = groups.reduce(joined, noMoments())
  const whole = variances(all)
  const theta = whole.x > 0 ? whole.xy / whole.x : 0
  const mean = all.count > 0 ? all.x / all.count : 0
  const adjusted = (own: ReturnType<typeof variances>) => Math.max(0, own.y - 2 * theta * own.xy + theta ** 2 * own.x)
  return {
    theta,
    groups: groups.map((group) => ({
      count: group.count,
      mean: group.count > 0 ? group.y / group.count - theta * (group.x / group.count - mean) : 0,
      variance: adjusted(variances(group)),
    })),
    saved: whole.y > 0 ? 1 - adjusted(whole) / whole.y : 0,
  }
}
