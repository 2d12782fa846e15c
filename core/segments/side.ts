import type { Side, SidesRef } from '../questions/split.js'
import { EVERYBODY, type Rule } from './rule.js'

export function sideRule(side: Side): Rule {
  if ('segment' in side) return { kind: 'segment', segment: side.segment, ...(side.not ? { not: true as const } : {}) }
  return 'rule' in side ? side.rule : EVERYBODY
}

/** The sides that are shown: of one segment by itself its members, and those who are not. */
export function shownSides({ sides, parts }: SidesRef): Side[] {
  const [only] = sides
  if (parts || sides.length > 1 || !('segment' in only)) return sides
  const { not, ...members } = only
  return [only, not ? members : { ...members, not: true }]
}

/** What a side is called. @param nameOf what a segment is called, by id */
export function sideName(side: Side, nameOf: (id: string) => string): string {
  if ('everybody' in side) return 'Everybody'
  if ('name' in side) return side.name
  return side.not ? `Not in ${nameOf(side.segment)}` : nameOf(side.segment)
}

/** How a breakdown by segments is found among those worked out for a query. */
export function sidesKey({ sides, parts }: SidesRef): string {
  return JSON.stringify(parts ? { parts: sides } : sides)
}
