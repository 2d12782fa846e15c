import { rankedValues } from './select.js'

/** Numbers, each with the cell it belongs to, in pieces. */
export interface CellNumbers {
  cells: readonly Uint32Array[]
  numbers: readonly Float64Array[]
  /** the least and the largest of each piece, where it has any number: found where it was made, beside others' */
  extents: readonly Extent[]
}

/** Infinity and −Infinity where there is no number. */
export interface Extent {
  least: number
  most: number
}

export function extentOf(numbers: Float64Array): Extent {
  let least = Infinity
  let most = -Infinity
  for (let i = 0; i < numbers.length; i++) {
    if (numbers[i] < least) least = numbers[i]
    if (numbers[i] > most) most = numbers[i]
  }
  return { least, most }
}

/** How many counters are kept at most, and how many parts the span of all numbers is cut into at most and at least. */
const MOST_COUNTERS = 1 << 22
const MOST_BINS = 1024
const FEWEST_BINS = 16

/**
 * Percentiles of many cells at once, and of runs of cells together, by linear interpolation between the closest ranks. How
 * many numbers of each cell lie in each part of the span tells in which part a rank stands; only the numbers there are
 * collected and put in order.
 * @param count how many cells there are; the last of each `width` stands for all of its run
 * @param q 0 to 1
 * @returns by cell; NaN where it has no number
 */
export function rankedCells(input: CellNumbers, count: number, width: number, q: number): Float64Array {
  const { cells, numbers } = input
  const figures = new Float64Array(count).fill(NaN)
  const least = Math.min(...input.extents.map((span) => span.least))
  const most = Math.max(...input.extents.map((span) => span.most))
  if (least > most) return figures
  const bins = Math.max(FEWEST_BINS, Math.min(MOST_BINS, 2 ** Math.floor(Math.log2(MOST_COUNTERS / count))))
  // Where all are the same, or the span is more than a number can hold, one part has them all.
  const finite = bins / (most - least)
  const scale = finite > 0 && finite < Infinity ? finite : 0
  const stride = bins + 1
  const counts = new Uint32Array(count * stride)
  cells.forEach((piece, p) => {
    const values = numbers[p]
    for (let i = 0; i < piece.length; i++) counts[piece[i] * stride + (((values[i] - least) * scale) | 0)]++
  })

  // By counter: 1 = its numbers are collected for their cell, 2 = for the run.
  const wanted = new Uint8Array(counts.length)
  const lists: Float64Array[] = []
  const filled = new Uint32Array(count)
  /** by cell: the place of its rank among the numbers collected for it */
  const ranks = new Float64Array(count)
  const choose = (cell: number, of: Uint32Array, mark: (bin: number) => void) => {
    let total = 0
    for (let bin = 0; bin < stride; bin++) total += of[bin]
    if (total === 0) return
    const rank = q * (total - 1)
    let before = 0
    let collected = 0
    let skipped = 0
    for (let bin = 0; bin < stride && before <= Math.ceil(rank); bin++) {
      if (of[bin] === 0) continue
      if (before + of[bin] > Math.floor(rank)) {
        mark(bin)
        collected += of[bin]
      } else skipped += of[bin]
      before += of[bin]
    }
    lists[cell] = new Float64Array(collected)
    ranks[cell] = rank - skipped
  }
  const run = new Uint32Array(stride)
  for (let first = 0; first < count; first += width) {
    run.fill(0)
    const last = first + width - 1
    for (let cell = first; cell <= last; cell++) {
      const own = counts.subarray(cell * stride, (cell + 1) * stride)
      for (let bin = 0; bin < stride; bin++) run[bin] += own[bin]
      if (cell < last) choose(cell, own, (bin) => (wanted[cell * stride + bin] |= 1))
    }
    choose(last, run, (bin) => {
      for (let cell = first; cell <= last; cell++) wanted[cell * stride + bin] |= 2
    })
  }

  cells.forEach((piece, p) => {
    const values = numbers[p]
    for (let i = 0; i < piece.length; i++) {
      const cell = piece[i]
      const want = wanted[cell * stride + (((values[i] - least) * scale) | 0)]
      if (want === 0) continue
      if ((want & 1) !== 0) lists[cell][filled[cell]++] = values[i]
      if ((want & 2) !== 0) {
        const whole = cell - (cell % width) + width - 1
        lists[whole][filled[whole]++] = values[i]
      }
    }
  })
  lists.forEach((list, cell) => (figures[cell] = rankedValues(list, ranks[cell])))
  return figures
}
