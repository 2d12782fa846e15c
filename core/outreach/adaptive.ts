/** What is known of a variant: of those whose time is over, how many did what it is for. */
export interface Tried {
  did: number
  over: number
}

/** No variant goes below this part of what the variants have together. */
export const FLOOR = 0.05
const EXACT = 1e-7
const FIRST_STEPS = 512
const MOST_STEPS = 1 << 17

/**
 * The chance of each variant that its rate is the largest: rates of Beta(1 + did, 1 + over − did), independent of each
 * other. Integrated by Simpson's rule on a grid that is made finer until nothing moves by more than 10⁻⁷.
 * @returns chances that add up to 1
 */
export function chancesOfBest(variants: readonly Tried[]): number[] {
  if (variants.length <= 1) return variants.map(() => 1)
  const [from, to] = reach(variants)
  let before: number[] | null = null
  for (let steps = FIRST_STEPS; ; steps *= 2) {
    const chances = integrate(variants, from, to, steps)
    const moved = before ? Math.max(...chances.map((chance, i) => Math.abs(chance - before![i]))) : 1
    if (moved < EXACT || steps >= MOST_STEPS) return chances
    before = chances
  }
}

/** Where any of the densities is not as good as nothing: twelve deviations about each mean. */
function reach(variants: readonly Tried[]): [number, number] {
  let [from, to] = [1, 0]
  for (const { did, over } of variants) {
    const [a, b] = [1 + did, 1 + over - did]
    const mean = a / (a + b)
    const deviation = Math.sqrt((a * b) / ((a + b) ** 2 * (a + b + 1)))
    from = Math.min(from, mean - 12 * deviation)
    to = Math.max(to, mean + 12 * deviation)
  }
  return [Math.max(0, from), Math.min(1, to)]
}

function integrate(variants: readonly Tried[], from: number, to: number, steps: number): number[] {
  const width = (to - from) / steps
  // By variant, at every grid point: the density, and what lies below.
  const densities = variants.map((variant) => densityOn(variant, from, width / 2, steps * 2))
  const below = densities.map((density) => sumsOf(density, steps))
  const chances = densities.map((density, i) => {
    let sum = 0
    for (let at = 0; at <= steps; at++) {
      let others = 1
      for (let j = 0; j < below.length; j++) if (j !== i) others *= below[j][at]
      const weight = at === 0 || at === steps ? 1 : at % 2 === 1 ? 4 : 2
      sum += weight * density[2 * at] * others
    }
    return sum
  })
  const whole = chances.reduce((a, b) => a + b, 0)
  return chances.map((chance) => chance / whole)
}

/** The density at points half a step apart, its area 1. */
function densityOn({ did, over }: Tried, from: number, step: number, many: number): Float64Array {
  const [a, b] = [did, over - did]
  const mode = a + b === 0 ? 0.5 : a / (a + b)
  const top = logDensity(a, b, mode)
  const density = Float64Array.from({ length: many + 1 }, (_, i) => Math.exp(logDensity(a, b, from + i * step) - top))
  let area = 0
  for (let i = 0; i <= many; i++) area += density[i] * (i === 0 || i === many ? 1 : i % 2 === 1 ? 4 : 2)
  return density.map((value) => (value / area) * 3)
}

const logDensity = (a: number, b: number, x: number): number =>
  (a === 0 ? 0 : a * Math.log(Math.max(x, 0))) + (b === 0 ? 0 : b * Math.log(Math.max(1 - x, 0)))

/** What lies below each whole step, by Simpson's rule over the two halves of each; 1 at the end. */
function sumsOf(density: Float64Array, steps: number): Float64Array {
  const sums = new Float64Array(steps + 1)
  for (let i = 0; i < steps; i++)
    sums[i + 1] = sums[i] + (density[2 * i] + 4 * density[2 * i + 1] + density[2 * i + 2]) / 3
  return sums.map((sum) => sum / sums[steps])
}

/**
 * The parts of the variants: those below the floor are set to it and the others scaled in proportion, until none is below.
 * @param chances add up to 1
 */
export function floored(chances: readonly number[], floor = FLOOR): number[] {
  const held = new Set<number>()
  for (;;) {
    const free = 1 - held.size * floor
    const rest = chances.reduce((sum, chance, i) => (held.has(i) ? sum : sum + chance), 0)
    const shares = chances.map((chance, i) => (held.has(i) ? floor : rest > 0 ? (chance / rest) * free : 0))
    const low = shares.flatMap((share, i) => (!held.has(i) && share < floor ? [i] : []))
    if (low.length === 0) return shares
    for (const i of low) held.add(i)
  }
}
