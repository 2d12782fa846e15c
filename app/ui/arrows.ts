import { own } from '../../core/names.js'
/** Which way an arrow key goes, as [down, right]; undefined for other keys. */
export function arrowMove(key: string): readonly [number, number] | undefined {
  return own(MOVES, key)
}

/** As `arrowMove`, and Home and End to the first and the last: of what has an end on each side. */
export function chartMove(key: string): readonly [number, number] | undefined {
  if (key === 'Home') return [0, -Infinity]
  return key === 'End' ? [0, Infinity] : arrowMove(key)
}

const MOVES: Record<string, readonly [number, number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
}
