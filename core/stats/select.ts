/**
 * Percentile by linear interpolation between the closest ranks, without sorting everything: C. A. R. Hoare's selection,
 * with the middle of three as pivot. The array is put into another order.
 * @param values at least one
 * @param q 0 to 1
 */
export function rankedValues(values: Float64Array, q: number): number {
  const rank = q * (values.length - 1)
  const low = Math.floor(rank)
  const below = select(values, low)
  if (rank === low) return below
  // Whatever stands after the chosen place is not smaller: the next rank is the least of it.
  let above = Infinity
  for (let i = low + 1; i < values.length; i++) if (values[i] < above) above = values[i]
  return below + (rank - low) * (above - below)
}

function select(values: Float64Array, k: number): number {
  let left = 0
  let right = values.length - 1
  while (left < right) {
    const pivot = middleOf(values[left], values[(left + right) >> 1], values[right])
    let i = left
    let j = right
    while (i <= j) {
      while (values[i] < pivot) i++
      while (values[j] > pivot) j--
      if (i > j) break
      const swapped = values[i]
      values[i++] = values[j]
      values[j--] = swapped
    }
    if (k <= j) right = j
    else if (k >= i) left = i
    else break
  }
  return values[k]
}

function middleOf(a: number, b: number, c: number): number {
  return Math.max(Math.min(a, b), Math.min(Math.max(a, b), c))
}
