import { own } from '../../core/names.js'
/** Which way an arrow key goes, as [down, right]; undefined for other keys. */
export function arrowMove(key: string): readonly [number, number] | undefined {
  return own(MOVES, key)
}

const MOVES: Record<string, readonly [number, number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
}
