/** Numbers in no order, as pieces: a hundred parts are joined without copying them a hundred times. */
export type Pieces = Float64Array[]

export function joinedPieces(pieces: Pieces): Float64Array {
  const all = new Float64Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    all.set(piece, at)
    at += piece.length
  }
  return all
}

export function joinedWhole(pieces: readonly Uint32Array[]): Uint32Array {
  const all = new Uint32Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    all.set(piece, at)
    at += piece.length
  }
  return all
}

export const sortedPieces = (pieces: Pieces): Float64Array => joinedPieces(pieces).sort()

/** Numbers of which it is not known how many there will be. */
export class Growing {
  private values = new Float64Array(FIRST)
  private length = 0

  push(value: number): void {
    if (this.length === this.values.length) {
      const wider = new Float64Array(this.length * 2)
      wider.set(this.values)
      this.values = wider
    }
    this.values[this.length++] = value
  }

  done(): Float64Array {
    return this.values.slice(0, this.length)
  }
}

/** The same of whole numbers below 2³²: half the memory. */
export class GrowingWhole {
  private values = new Uint32Array(FIRST)
  private length = 0

  push(value: number): void {
    if (this.length === this.values.length) {
      const wider = new Uint32Array(this.length * 2)
      wider.set(this.values)
      this.values = wider
    }
    this.values[this.length++] = value
  }

  done(): Uint32Array {
    return this.values.slice(0, this.length)
  }
}

/** Room for so many at first. */
const FIRST = 1024
