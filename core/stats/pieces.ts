/** Numbers in no order, as pieces: a hundred parts are joined without copying them a hundred times. */
export type Pieces = Float64Array[]

export function sortedPieces(pieces: Pieces): Float64Array {
  const all = new Float64Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    all.set(piece, at)
    at += piece.length
  }
  return all.sort()
}
