import type { z } from 'zod'
import type { Fault } from './faults.js'

/**
 * Reads a definition that may be partly wrong: what cannot be read is left out, or replaced by the usual one, and told
 * of with its place, while the rest stays.
 * @param usual a definition that is right as it stands; gives the parts that are missing or hopeless
 */
export function parseLeniently<T extends object>(
  schema: z.ZodType<T>,
  input: unknown,
  usual: T,
): { question: T; faults: Fault[] } {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    return { question: usual, faults: [{ path: [], code: 'unreadable', want: 'it is not an object' }] }
  const faults: Fault[] = []
  let candidate = JSON.parse(JSON.stringify(input)) as Record<string, unknown>
  // Each round mends one place; a place that cannot be mended by leaving it out is widened to its parent.
  for (let round = 0; round < 40; round++) {
    const parsed = schema.safeParse(candidate)
    if (parsed.success) return { question: parsed.data, faults }
    const issue = deepest(parsed.error.issues)
    const path = issue.path.map((key) => (typeof key === 'symbol' ? String(key) : key))
    if (issue.code === 'unrecognized_keys') {
      for (const key of issue.keys) {
        faults.push({ path: [...path, key], code: 'invalid', got: key, want: 'this setting is not known' })
        remove(candidate, [...path, key])
      }
      continue
    }
    const known = faults.find((fault) => samePlace(fault.path, path))
    if (!known) faults.push({ path, code: 'invalid', want: issue.message })
    candidate = mend(candidate, path, usual as Record<string, unknown>, known ? 1 : 0)
  }
  return { question: usual, faults }
}

/** Of a union's faults, those of the branch that got furthest say most. */
export function deepest(issues: readonly z.core.$ZodIssue[]): z.core.$ZodIssue {
  const issue = issues[0]
  if (issue.code !== 'invalid_union' || issue.errors.length === 0) return issue
  const inner = issue.errors.map((branch) => deepest(branch)).sort((a, b) => b.path.length - a.path.length)[0]
  return inner && inner.path.length > 0 ? { ...inner, path: [...issue.path, ...inner.path] } : issue
}

function samePlace(a: readonly (string | number)[], b: readonly (string | number)[]): boolean {
  return a.length === b.length && a.every((key, i) => key === b[i])
}

export function remove(target: unknown, path: readonly (string | number)[]): void {
  let holder = target as Record<string | number, unknown>
  for (const key of path.slice(0, -1)) holder = holder?.[key] as Record<string | number, unknown>
  const last = path.at(-1)!
  if (Array.isArray(holder)) holder.splice(Number(last), 1)
  else if (holder && typeof holder === 'object') delete holder[last]
}

export function mend(
  candidate: Record<string, unknown>,
  path: (string | number)[],
  usual: Record<string, unknown>,
  widen: number,
): Record<string, unknown> {
  const place = path.slice(0, Math.max(1, path.length - widen))
  if (place.length === 0) return usual
  if (place.length === 1) {
    const key = place[0]
    if (key in usual && candidate[key] !== usual[key]) return { ...candidate, [key]: usual[key] }
    const rest = { ...candidate }
    delete rest[key]
    return key in usual ? { ...usual } : rest
  }
  const existed = valueAt(candidate, place) !== undefined
  remove(candidate, existed ? place : place.slice(0, -1))
  return candidate
}

export function valueAt(target: unknown, path: readonly (string | number)[]): unknown {
  return path.reduce<unknown>((value, key) => (value as Record<string | number, unknown> | undefined)?.[key], target)
}
