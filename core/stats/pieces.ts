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

export const sortedPieces = (pieces: Pieces): Float64Array => joinedPieces(pieces).sort()

/** Numbers of which it is not known how many there will be. */
export class Growing {
  private values = new Float64Array(64)
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
