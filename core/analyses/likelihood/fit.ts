import { addRow, lossOf, noSlope, stepOf, sumOf, type Slope, type SparseRows } from '../../stats/logistic.js'
import { FOLDS, TOLD } from './columns.js'
import type { Descent, Fit, LikelihoodPlan } from './plan.js'

/** From the strongest to the weakest: 10² … 10⁻³ in half decades. */
export const LAMBDAS = Array.from({ length: 11 }, (_, i) => 10 ** (2 - i / 2))
/** No weight would change what is foretold by more than what nobody sees. */
const FLAT = 1e-8
/** So many steps lead to the bottom from anywhere; more do not come nearer. */
const MOST_STEPS = 60

export const beginFit = (size: number): Fit => ({
  descents: Array.from({ length: FOLDS }, (_, fold) => descent(fold, LAMBDAS[0], new Float64Array(size + 1))),
  held: new Float64Array(LAMBDAS.length),
  at: new Array<number>(FOLDS).fill(0),
  done: null,
})

const descent = (fold: number | null, lambda: number, weights: Float64Array): Descent => ({
  ...{ fold, lambda, weights, from: null, steps: 0 },
})

/** By descent: its slope where it is now, and the log loss of those held out. Joins by adding, in order. */
export interface StepPart {
  pass: 'step'
  slopes: Slope[]
  held: Float64Array
}

export function step(piece: number, plan: Extract<LikelihoodPlan, { pass: 'step' }>): StepPart {
  const { fit, sides } = plan
  const rows: SparseRows = plan.rows[piece]
  const folds = sides.folds[piece]
  const { did } = sides.before[piece]
  const slopes = fit.descents.map(({ weights }) => noSlope(weights.length))
  const held = new Float64Array(slopes.length)
  for (let row = 0; row < folds.length; row++) {
    const own = folds[row]
    if (own === TOLD) continue
    for (let i = 0; i < slopes.length; i++) {
      const { fold, weights } = fit.descents[i]
      if (fold === own) held[i] += lossOf(sumOf(rows, row, weights), did[row])
      else addRow(slopes[i], rows, row, did[row], weights)
    }
  }
  return { pass: 'step', slopes, held }
}

export function mergeSteps(a: StepPart, b: StepPart): StepPart {
  a.slopes.forEach((slope, i) => {
    const other = b.slopes[i]
    slope.rows += other.rows
    slope.loss += other.loss
    for (let k = 0; k < slope.gradient.length; k++) slope.gradient[k] += other.gradient[k]
    for (let k = 0; k < slope.curve.length; k++) slope.curve[k] += other.curve[k]
    a.held[i] += b.held[i]
  })
  return a
}

/** Goes on from what a pass found. */
export function goOn(fit: Fit, { slopes, held }: StepPart): Fit {
  const losses = Float64Array.from(fit.held)
  const at = [...fit.at]
  let done: Fit['done'] = null
  const descents = fit.descents.flatMap((each, i): Descent[] => {
    const { largest, value, step: down } = stepOf(slopes[i], each.weights, each.lambda)
    if (largest >= FLAT && each.steps < MOST_STEPS) return [moved(each, value, down)]
    if (each.fold === null) {
      done = { weights: each.weights, lambda: each.lambda }
      return []
    }
    losses[at[each.fold]] += held[i]
    const next = ++at[each.fold]
    // The bottom of a weaker hold is near that of the one before.
    return next < LAMBDAS.length ? [descent(each.fold, LAMBDAS[next], each.weights)] : []
  })
  if (descents.length === 0 && !done) {
    // Of equal ones the stronger, which stands first.
    const best = losses.reduce((least, loss, place) => (loss < losses[least] ? place : least), 0)
    const size = fit.descents[0].weights.length
    return { descents: [descent(null, LAMBDAS[best], new Float64Array(size))], held: losses, at, done: null }
  }
  return { descents, held: losses, at, done }
}

function moved(each: Descent, value: number, down: Float64Array): Descent {
  const { from, weights, steps } = each
  if (from && value > from.value + 1e-12 * Math.abs(from.value)) {
    const half = weights.map((weight, k) => (weight + from.weights[k]) / 2)
    return { ...each, weights: half, steps: steps + 1 }
  }
  return { ...each, weights: weights.map((weight, k) => weight - down[k]), from: { weights, value }, steps: steps + 1 }
}
