import { usualPaths, type PathsQuestion } from '../analyses/paths/question.js'
import type { EventPick } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import type { Said } from './said.js'

/** How far ways between two events are followed where nobody said. */
const STEPS_BETWEEN = 5

/** A study of ways: from an event on, back from it, or between the first and the last that were named. */
export function buildPaths(said: Said, picks: readonly EventPick[], splits: readonly Split[]): PathsQuestion | null {
  const [start] = picks
  const end = picks.length > 1 ? picks.at(-1) : undefined
  const usual = usualPaths('…')
  const [split] = splits
  const more = {
    ...(said.window ? { window: said.window } : {}),
    ...(said.range ? { range: said.range } : {}),
    ...(split ? { breakdowns: [{ ...split, keep: said.keep ?? 2 }] } : {}),
  }
  if (end && (said.way === 'between' || said.way === 'forward'))
    return { ...usual, start, end, steps: STEPS_BETWEEN, ...more }
  return { ...usual, start, ...(said.way === 'backward' ? { backward: true as const } : {}), ...more }
}
