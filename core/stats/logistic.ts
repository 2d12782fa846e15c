/** Rows of numbers of which most are 0: of row i, those from `starts[i]` up to, not including, `starts[i + 1]`. */
export interface SparseRows {
  starts: Uint32Array
  column: Uint16Array
  value: Float64Array
}

/** What rows say of the weights that a model has now. Joins by adding. */
export interface Slope {
  rows: number
  loss: number
  /** by column, the intercept last */
  gradient: Float64Array
  /** by row × size + column, as far as the diagonal */
  curve: Float64Array
}

export function noSlope(size: number): Slope {
  return { rows: 0, loss: 0, gradient: new Float64Array(size), curve: new Float64Array(size * size) }
}

/** Natural logarithm of 1 + eˣ, however large x is. */
const softplus = (x: number) => (x > 0 ? x + Math.log1p(Math.exp(-x)) : Math.log1p(Math.exp(x)))
export const logistic = (x: number) => (x >= 0 ? 1 / (1 + Math.exp(-x)) : 1 - 1 / (1 + Math.exp(x)))

/** Logarithm of the odds of a chance; what is as good as sure, or out of the question, has some as well. */
export function oddsOf(chance: number): number {
  const inside = Math.min(1 - 1e-6, Math.max(1e-6, chance))
  return Math.log(inside / (1 - inside))
}

/** The log loss of a row. */
export const lossOf = (sum: number, did: number): number => softplus(sum) - did * sum

/** Weights times a row, and the intercept, which stands last among the weights. */
export function sumOf({ starts, column, value }: SparseRows, row: number, weights: Float64Array): number {
  let sum = weights[weights.length - 1]
  for (let at = starts[row]; at < starts[row + 1]; at++) sum += weights[column[at]] * value[at]
  return sum
}

/** Adds what a row says. */
export function addRow(slope: Slope, rows: SparseRows, row: number, did: number, weights: Float64Array): void {
  const { starts, column, value } = rows
  const { gradient, curve } = slope
  const size = weights.length
  const sum = sumOf(rows, row, weights)
  const chance = logistic(sum)
  const error = chance - did
  const bend = chance * (1 - chance)
  slope.rows++
  slope.loss += lossOf(sum, did)
  const [from, to] = [starts[row], starts[row + 1]]
  const last = (size - 1) * size
  // Columns rise within a row, so that what is added stands below the diagonal.
  for (let a = from; a < to; a++) {
    const one = column[a]
    const x = value[a]
    gradient[one] += error * x
    const bent = bend * x
    const line = one * size
    for (let b = from; b <= a; b++) curve[line + column[b]] += bent * value[b]
    curve[last + one] += bent
  }
  gradient[size - 1] += error
  curve[last + size - 1] += bend
}

/** The slope of the mean log loss + λ ÷ 2 · Σ w², the intercept free: its largest part, its value, and Newton's step. */
export function stepOf(
  { rows, loss, gradient, curve }: Slope,
  weights: Float64Array,
  lambda: number,
): { value: number; largest: number; step: Float64Array } {
  const size = weights.length
  const slope = new Float64Array(size)
  const bent = new Float64Array(size * size)
  let [largest, squares] = [0, 0]
  for (let i = 0; i < size; i++) {
    const isFree = i === size - 1
    slope[i] = gradient[i] / rows + (isFree ? 0 : lambda * weights[i])
    largest = Math.max(largest, Math.abs(slope[i]))
    if (!isFree) squares += weights[i] * weights[i]
    for (let j = 0; j <= i; j++) bent[i * size + j] = curve[i * size + j] / rows
    if (!isFree) bent[i * size + i] += lambda
  }
  return { value: loss / rows + (lambda / 2) * squares, largest, step: solved(bent, slope) }
}

/** Solves A x = b for a symmetric A that is above 0, given below the diagonal, by Cholesky. */
function solved(matrix: Float64Array, right: Float64Array): Float64Array {
  const n = right.length
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * n + j]
      for (let k = 0; k < j; k++) sum -= matrix[i * n + k] * matrix[j * n + k]
      // A curve that is flat to the last digit moves nowhere.
      matrix[i * n + j] = i === j ? Math.sqrt(Math.max(sum, 1e-300)) : sum / matrix[j * n + j]
    }
  const x = Float64Array.from(right)
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= matrix[i * n + k] * x[k]
    x[i] /= matrix[i * n + i]
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= matrix[k * n + i] * x[k]
    x[i] /= matrix[i * n + i]
  }
  return x
}
