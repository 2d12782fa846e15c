import { own } from '../names.js'
import { type z } from 'zod'

/** What is wrong with a definition, as data: where, what kind of fault, what was found. `faultWords` words it. */
export interface Fault {
  /** where in the definition, e.g. `['series', 0, 'where']` */
  path: (string | number)[]
  code:
    | 'unreadable'
    | 'invalid'
    | 'unknown_event'
    | 'unknown_property'
    | 'wrong_operator'
    | 'bad_pattern'
    | 'too_many_buckets'
    | 'too_deep'
    | 'no_property'
    | 'not_by_hour'
    | 'name_twice'
    | 'bad_formula'
    | 'unknown_segment'
    | 'circle'
    | 'no_event'
  /** what was found there, as the reader would know it */
  got?: string
  /** what would have been taken */
  want?: string
}

/**
 * Says a fault in words: what is wrong there, and what to do.
 */
export function faultWords(fault: Fault): string {
  const got = fault.got === undefined ? '' : `“${fault.got}”`
  switch (fault.code) {
    case 'unreadable':
      return `The definition in the address could not be read${fault.want ? ` (${fault.want})` : ''}. The usual question is shown instead.`
    case 'invalid':
      return `${placeWords(fault.path)}: ${fault.want ?? 'not a value that can be used here'}.`
    case 'unknown_event':
      return `No event ${got} has ever arrived.${fault.want ? ` Did you mean “${fault.want}”?` : ' Choose another event.'}`
    case 'unknown_property':
      return `No property ${got} is known.${fault.want ? ` Did you mean “${fault.want}”?` : ' Choose another property.'}`
    case 'wrong_operator':
      return `${got} does not go with this property: ${fault.want ?? 'choose another comparison'}.`
    case 'bad_pattern':
      return `The pattern ${got} is not a regular expression: ${fault.want ?? 'it cannot be read'}.`
    case 'too_many_buckets':
      return `That would be ${fault.got} points. Choose a longer unit or a shorter time (at most ${fault.want}).`
    case 'no_property':
      return `The ${fault.got} is of a property, and none is chosen. Choose one.`
    case 'not_by_hour':
      return `${got} counts whole days, so it cannot be asked for each hour. Ask for each day or longer.`
    case 'name_twice':
      return `Two series are called ${got}. Give each its own short name.`
    case 'bad_formula':
      return `Formula: ${fault.want ?? 'it cannot be read.'}`
    case 'unknown_segment':
      return `The segment ${got} is no longer there. Bring it back under People, Segments, or choose another.`
    case 'circle':
      return `The segments go round in a circle: ${fault.got}. Take one of them out of another’s rule.`
    case 'no_event':
      return `The ${fault.got} is of an event, and none is chosen. Choose one.`
    case 'too_deep':
      return `The people are chosen through more than ${fault.want} studies, one inside the other. Save one as its own study first.`
  }
}

/** What the parts of a definition are called where something is wrong with them. */
const PLACES: Record<string, string> = {
  kind: 'Kind of study',
  series: 'Event',
  steps: 'Step',
  start: 'Event',
  back: 'Return event',
  every: 'Each',
  range: 'Time',
  period: 'Days counted in',
  interval: 'Interval',
  breakdowns: 'For each',
  rows: 'Rows',
  column: 'Columns',
  formulas: 'Formula',
  compare: 'Compared with',
  smooth: 'Smoothed over',
  among: 'Among',
  window: 'Within',
  order: 'Order of the steps',
  first: 'First time ever',
  same: 'The same all the way',
  forbidden: 'Must not happen',
  readAt: 'Step at which groups are read',
  target: 'Target',
  count: 'What is counted',
  by: 'Calendar or clock',
  brackets: 'Brackets of days',
  upTo: 'How many periods',
  measure: 'Measure',
  cumulated: 'Added up so far',
  core: 'Threshold',
  sides: 'Segments',
  figure: 'Figure',
  show: 'Chart',
  rule: 'Rule',
  of: 'Condition',
  hold: 'Group',
}

function placeWords(path: readonly (string | number)[]): string {
  if (path.length === 0) return 'The definition'
  const [head, index] = path
  if (head === 'steps' && typeof index === 'number') return `Step ${index + 1}`
  if (head === 'series' && typeof index === 'number' && index > 0) return `Series ${index + 1}`
  return own(PLACES, String(head)) ?? `“${head}”`
}

/** The name nearest to a misspelt one, or undefined where none is near (edit distance up to a third of its length). */
export function nearest(name: string, known: readonly string[]): string | undefined {
  let best: string | undefined
  let least = Math.max(1, Math.floor(name.length / 3)) + 1
  for (const candidate of known) {
    if (Math.abs(candidate.length - name.length) >= least) continue
    const distance = editDistance(name.toLowerCase(), candidate.toLowerCase(), least)
    if (distance < least) {
      least = distance
      best = candidate
    }
  }
  return best
}

function editDistance(a: string, b: string, limit: number): number {
  let previous = Array.from({ length: b.length + 1 }, (_, i) => i)
  for (let i = 1; i <= a.length; i++) {
    const current = [i]
    for (let j = 1; j <= b.length; j++) {
      const swap = previous[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1)
      current[j] = Math.min(previous[j] + 1, current[j - 1] + 1, swap)
    }
    if (Math.min(...current) >= limit) return limit
    previous = current
  }
  return previous[b.length]
}

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
function deepest(issues: readonly z.core.$ZodIssue[]): z.core.$ZodIssue {
  const issue = issues[0]
  if (issue.code !== 'invalid_union' || issue.errors.length === 0) return issue
  const inner = issue.errors.map((branch) => deepest(branch)).sort((a, b) => b.path.length - a.path.length)[0]
  return inner && inner.path.length > 0 ? { ...inner, path: [...issue.path, ...inner.path] } : issue
}

function samePlace(a: readonly (string | number)[], b: readonly (string | number)[]): boolean {
  return a.length === b.length && a.every((key, i) => key === b[i])
}

function remove(target: unknown, path: readonly (string | number)[]): void {
  let holder = target as Record<string | number, unknown>
  for (const key of path.slice(0, -1)) holder = holder?.[key] as Record<string | number, unknown>
  const last = path.at(-1)!
  if (Array.isArray(holder)) holder.splice(Number(last), 1)
  else if (holder && typeof holder === 'object') delete holder[last]
}

function mend(
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

function valueAt(target: unknown, path: readonly (string | number)[]): unknown {
  return path.reduce<unknown>((value, key) => (value as Record<string | number, unknown> | undefined)?.[key], target)
}
