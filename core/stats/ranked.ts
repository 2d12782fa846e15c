/** The place of the first of ascending numbers that is not less. */
export function firstNotLess(sorted: Float64Array, x: number): number {
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (sorted[middle] < x) low = middle + 1
    else high = middle
  }
  return low
}

/** The place of the first of ascending numbers that is more. */
export function firstMore(sorted: Float64Array, x: number): number {
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (sorted[middle] <= x) low = middle + 1
    else high = middle
  }
  return low
}

/**
 * The places of scores, the highest first. Numbers are sorted by themselves, which is many times faster than by a
 * comparison, and only equal ones are compared.
 * @param tie says which of two equal ones comes first
 */
export function highestFirst(scores: Float64Array, tie: (a: number, b: number) => number): Uint32Array {
  const count = scores.length
  const sorted = Float64Array.from(scores, (score) => -score).sort()
  const order = new Uint32Array(count)
  const taken = new Uint32Array(count)
  for (let i = 0; i < count; i++) {
    const at = firstNotLess(sorted, -scores[i])
    order[at + taken[at]++] = i
  }
  for (let at = 0; at < count; at += Math.max(1, taken[at]))
    if (taken[at] > 1) order.subarray(at, at + taken[at]).sort(tie)
  return order
}
