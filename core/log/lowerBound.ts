/** The first index whose value is at least `least`, in an ascending array. */
export function lowerBound(values: Uint32Array, least: number): number {
  let low = 0
  let high = values.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (values[middle] < least) low = middle + 1
    else high = middle
  }
  return low
}
