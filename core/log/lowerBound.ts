/** The first index from `low` up to `high` whose value is at least `least`, in an ascending array. */
export function lowerBound(values: Uint32Array, least: number, low = 0, high = values.length): number {
  while (low < high) {
    const middle = (low + high) >> 1
    if (values[middle] < least) low = middle + 1
    else high = middle
  }
  return low
}
