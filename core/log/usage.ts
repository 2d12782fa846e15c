import { STEP, type Steps } from '../steps.js'
import type { Column, EventLog } from './log.js'

/** How much of something arrived. */
export interface Usage {
  events: number
  /** in the 30 × 24 h up to now */
  recent: number
  /** epoch ms; null where nothing arrived */
  firstMs: number | null
  lastMs: number | null
  /** events in each of the last weeks (7 × 24 h) up to now, oldest first */
  weeks: number[]
}

export interface TypeUsage extends Usage {
  /** by source code; 0 = no source */
  sources: Map<number, number>
}

export const USAGE_WEEKS = 8
const WEEK_MS = 7 * 86_400_000
const MONTH_MS = 30 * 86_400_000

export function noUsage(): Usage {
  return { events: 0, recent: 0, firstMs: null, lastMs: null, weeks: new Array<number>(USAGE_WEEKS).fill(0) }
}

function note(usage: Usage, at: number, now: number): void {
  usage.events++
  if (at > now - MONTH_MS) usage.recent++
  if (usage.firstMs === null || at < usage.firstMs) usage.firstMs = at
  if (usage.lastMs === null || at > usage.lastMs) usage.lastMs = at
  const week = USAGE_WEEKS - 1 - Math.floor((now - at) / WEEK_MS)
  if (week >= 0) usage.weeks[week]++
}

/** Usage of each event type, by code, of events up to now. */
export function* usageOfTypes(logs: readonly EventLog[], types: number, now: number): Steps<TypeUsage[]> {
  const usage: TypeUsage[] = Array.from({ length: types }, () => ({ ...noUsage(), sources: new Map() }))
  for (const log of logs)
    yield* eachRow(log, (row) => {
      const at = log.time[row]
      if (at > now) return
      const ofType = usage[log.type[row]]
      note(ofType, at, now)
      ofType.sources.set(log.source[row], (ofType.sources.get(log.source[row]) ?? 0) + 1)
    })
  return usage
}

/** Usage of each property by event type and property code. */
export function* usageOfProperties(logs: readonly EventLog[], types: number, now: number): Steps<Map<number, Usage>[]> {
  const usage = Array.from({ length: types }, () => new Map<number, Usage>())
  for (const log of logs) {
    const out = hiddenRows(log)
    for (let type = 0; type < types; type++) {
      const rows = log.rowsOfType[type]
      for (const [code, column] of log.columns[type] ?? []) {
        let ofProperty = usage[type].get(code)
        if (!ofProperty) usage[type].set(code, (ofProperty = noUsage()))
        const has = valueTest(column)
        yield
        for (let slot = 0; slot < rows.length; slot++) {
          if (slot % STEP === STEP - 1) yield
          const row = rows[slot]
          if (has(slot) && log.time[row] <= now && !(out && out[row])) note(ofProperty, log.time[row], now)
        }
      }
    }
  }
  return usage
}

/** Whether a slot of a column holds a value. */
export function valueTest({ codes, numbers, dates }: Column): (slot: number) => boolean {
  if (codes && !numbers && !dates) return (slot) => codes[slot] > 0
  if (numbers && !codes && !dates) return (slot) => numbers[slot] === numbers[slot]
  return (slot) =>
    (codes !== null && codes[slot] > 0) ||
    (numbers !== null && numbers[slot] === numbers[slot]) ||
    (dates !== null && dates[slot] === dates[slot])
}

function* eachRow(log: EventLog, visit: (row: number) => void): Steps<void> {
  for (let index = 0, seen = 0; index < log.people; index++) {
    if (log.hidden?.[index]) continue
    seen += log.offsets[index + 1] - log.offsets[index]
    if (seen > STEP) {
      seen = 0
      yield
    }
    for (let row = log.offsets[index]; row < log.offsets[index + 1]; row++) visit(row)
  }
}

/** 1 for rows of people who stand in a newer block; null where there are none. */
export function hiddenRows(log: EventLog): Uint8Array | null {
  const { hidden } = log
  if (!hidden) return null
  const had = outOf.get(hidden)
  if (had) return had
  const out = new Uint8Array(log.length)
  hidden.forEach((is, index) => is && out.fill(1, log.offsets[index], log.offsets[index + 1]))
  outOf.set(hidden, out)
  return out
}

/** Made once for who is hidden: the values of each property are counted with it. */
const outOf = new WeakMap<Uint8Array, Uint8Array>()
