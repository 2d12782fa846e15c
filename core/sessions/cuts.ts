import type { EventLog } from '../log/log.js'
import type { Schema } from '../log/schema.js'
import { USUAL_CUTS, type SessionCuts } from './settings.js'

/** How sessions are cut, with names as codes; can be sent to a worker. */
export interface CutPlan {
  timeoutMs: number
  /** by source, ms; null = one for all */
  bySource: Float64Array | null
  /** by event type: 1 = begins a session, 2 = ends one, 3 = both; null = none does */
  marks: Uint8Array | null
  onSource: boolean
}

/** What is not known cuts nothing. */
export function planCuts(cuts: SessionCuts | undefined, schema: Schema): CutPlan {
  const { timeoutMs, bySource, starts = [], ends = [], onSource } = cuts ?? USUAL_CUTS
  const sources = new Map(schema.sources.values.map((value, code) => [value as string | null, code]))
  const own = new Float64Array(schema.sources.values.length).fill(timeoutMs)
  for (const each of bySource ?? []) {
    const code = each.source === null ? 0 : sources.get(each.source)
    if (code !== undefined) own[code] = each.timeoutMs
  }
  const marks = new Uint8Array(schema.types.length)
  for (const name of starts) for (const type of schema.typesNamed(name) ?? []) marks[type] |= STARTS
  for (const name of ends) for (const type of schema.typesNamed(name) ?? []) marks[type] |= ENDS
  return {
    timeoutMs,
    bySource: bySource && bySource.length > 0 ? own : null,
    marks: marks.some((mark) => mark !== 0) ? marks : null,
    onSource: onSource === true,
  }
}

const STARTS = 1
const ENDS = 2

/**
 * Whether a session begins at a row that is not a person's first; of which the row before is the person's too. Events of
 * every type count, passive ones too.
 */
export function cutter(log: EventLog, plan: CutPlan): (row: number) => boolean {
  const { time, source, type } = log
  const { timeoutMs, bySource, marks, onSource } = plan
  if (!bySource && !marks && !onSource) return (row) => time[row] - time[row - 1] > timeoutMs
  return (row) => {
    const before = row - 1
    if (time[row] - time[before] > (bySource ? bySource[source[before]] : timeoutMs)) return true
    if (onSource && source[row] !== source[before]) return true
    // Types that turned up later than the plan was made mark nothing.
    return marks !== null && ((marks[type[row]] & STARTS) !== 0 || (marks[type[before]] & ENDS) !== 0)
  }
}

/** How long after a row its session is still going on, ms: whether anything may yet follow in it. */
export function timeoutAfter(log: EventLog, { timeoutMs, bySource, marks }: CutPlan): (row: number) => number {
  const { source, type } = log
  return (row) => {
    if (marks !== null && (marks[type[row]] & ENDS) !== 0) return -1
    return bySource ? bySource[source[row]] : timeoutMs
  }
}
