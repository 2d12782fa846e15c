import { MOST_DEPTH } from '../questions/vocabulary.js'
import type { Fault } from '../questions/faults.js'
import type { Rule } from './rule.js'

/** A saved segment: one that follows its rule, or a list that keeps its members. */
export type SavedSegment = LiveSegment | FrozenSegment
export interface LiveSegment {
  id: string
  name: string
  rule: Rule
}
export interface FrozenSegment {
  id: string
  name: string
  /** when the list was made, epoch ms */
  frozenMs: number
}

export function isFrozen(segment: SavedSegment): segment is FrozenSegment {
  return 'frozenMs' in segment
}

/** The saved segments that a definition of any form names, itself and not through others, with their places. */
export function segmentsNamed(definition: unknown): { segment: string; path: (string | number)[] }[] {
  const found: { segment: string; path: (string | number)[] }[] = []
  const walk = (node: unknown, path: (string | number)[]) => {
    if (typeof node !== 'object' || node === null) return
    const { segment } = node as { segment?: unknown }
    if (typeof segment === 'string' && !Array.isArray(node)) found.push({ segment, path: [...path, 'segment'] })
    for (const [key, value] of Object.entries(node)) walk(value, [...path, Array.isArray(node) ? Number(key) : key])
  }
  walk(definition, [])
  return found
}

/**
 * Finds every segment that a definition needs, those that others need included. One that is not there, a circle, and
 * studies within studies too deep are faults at the place in the definition that leads to them.
 * @param own id of the segment whose rule the definition is, where it is saved: it must not need itself
 * @param nameOf what a segment is or was called, for faults
 */
export function resolveSegments(
  definition: unknown,
  lookup: (id: string) => SavedSegment | undefined,
  nameOf: (id: string) => string | undefined = (id) => lookup(id)?.name,
  own?: string,
): { used: Map<string, SavedSegment>; faults: Fault[] } {
  const used = new Map<string, SavedSegment>()
  const faults: Fault[] = []
  if (studiesDeep(definition) > MOST_DEPTH) faults.push({ path: ['among'], code: 'too_deep', want: String(MOST_DEPTH) })
  const done = new Set<string>()
  const visit = (node: unknown, trail: string[], place: (string | number)[] | null) => {
    for (const { segment: id, path } of segmentsNamed(node)) {
      const at = place ?? path
      if (trail.includes(id)) {
        const round = [...trail.slice(trail.indexOf(id)), id].map((each) => nameOf(each) ?? each)
        faults.push({ path: at, code: 'circle', got: round.join(' → ') })
        continue
      }
      if (done.has(id)) continue
      const segment = lookup(id)
      if (!segment) {
        faults.push({ path: at, code: 'unknown_segment', got: nameOf(id) ?? id })
        continue
      }
      used.set(id, segment)
      if (!isFrozen(segment)) visit(segment.rule, [...trail, id], at)
      done.add(id)
    }
  }
  visit(definition, own === undefined ? [] : [own], null)
  return { used, faults }
}

/** How many studies stand one inside the other: 1 for a study among everybody. */
export function studiesDeep(definition: unknown): number {
  if (typeof definition !== 'object' || definition === null) return 0
  const deepest = Math.max(0, ...Object.values(definition).map(studiesDeep))
  const { kind } = definition as { kind?: unknown }
  // Conditions and marks have kinds as well, and no time of their own.
  return 'range' in definition && typeof kind === 'string' ? deepest + 1 : deepest
}
