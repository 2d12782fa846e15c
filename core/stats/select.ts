/** Fewer values than this are put in order by swapping; of more, most are never moved. */
const FEW = 512
const BINS = 1024

/**
 * The value at a rank, between two by linear interpolation, without sorting everything. Of many values those that may
 * be the one are narrowed down by counting how many lie in each of equal parts of their span; what is left is selected by
 * C. A. R. Hoare's way, with the middle of three as pivot. The array is put into another order.
 * @param values at least one, all finite
 * @param rank 0 = the least, up to `values.length − 1`
 */
export function rankedValues(values: Float64Array, rank: number): number {
  const low = Math.floor(rank)
  const { left, place, beyond } = narrowed(values, low)
  const below = select(left, place)
  if (rank === low) return below
  // Whatever stands after the chosen place is not smaller: the next rank is the least of it.
  let above = beyond
  for (let i = place + 1; i < left.length; i++) if (left[i] < above) above = left[i]
  return below + (rank - low) * (above - below)
}

/** Few values, of which the one at `place` is that at place k of all; and the least of all that are larger than those. */
function narrowed(values: Float64Array, k: number): { left: Float64Array; place: number; beyond: number } {
  let left = values
  let place = k
  let beyond = Infinity
  while (left.length > FEW) {
    let least = Infinity
    let most = -Infinity
    for (let i = 0; i < left.length; i++) {
      const value = left[i]
      if (value < least) least = value
      if (value > most) most = value
    }
    const scale = BINS / (most - least)
    // All the same, or a span that no number can hold: swapping copes with both.
    if (!(scale > 0 && scale < Infinity)) break
    const counts = new Uint32Array(BINS + 1)
    for (let i = 0; i < left.length; i++) counts[((left[i] - least) * scale) | 0]++
    let bin = 0
    while (place >= counts[bin]) place -= counts[bin++]
    if (counts[bin] === left.length) break
    const inBin = new Float64Array(counts[bin])
    let n = 0
    for (let i = 0; i < left.length; i++) {
      const value = left[i]
      const its = ((value - least) * scale) | 0
      if (its === bin) inBin[n++] = value
      else if (its > bin && value < beyond) beyond = value
    }
    left = inBin
  }
  return { left, place, beyond }
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
