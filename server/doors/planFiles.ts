import { parse } from 'csv-parse/sync'
import { stringify } from 'csv-stringify/sync'
import { planFromJsonSchema } from '../../core/plan/jsonSchema.js'
import type { PlanEvent } from '../../core/plan/plan.js'
import { PLAN_COLUMNS, planFromRows, planToRows, type ReadPlan } from '../../core/plan/planRows.js'
import { plainCell, safeCell } from '../../core/words/safeCell.js'

/** A tracking plan from a file's text: JSON Schema, or CSV with commas, semicolons or tabs. */
export function readPlanFile(text: string): ReadPlan {
  const content = text.replace(/^\uFEFF/, '')
  if (/^\s*[{[]/.test(content)) {
    try {
      return planFromJsonSchema(JSON.parse(content))
    } catch (error) {
      return { events: [], problems: [{ line: 1, reason: `it is not JSON: ${(error as Error).message}` }] }
    }
  }
  const first = content.split('\n', 1)[0] ?? ''
  const delimiter = [',', ';', '\t'].reduce((a, b) => (first.split(b).length > first.split(a).length ? b : a))
  try {
    const rows = parse(content, { delimiter, relax_column_count: true, skip_empty_lines: false }) as string[][]
    return planFromRows(rows.map((row) => row.map(plainCell)))
  } catch (error) {
    return { events: [], problems: [{ line: 1, reason: `it is not CSV: ${(error as Error).message}` }] }
  }
}

export function planCsv(events: readonly PlanEvent[]): string {
  return stringify([[...PLAN_COLUMNS], ...planToRows(events)].map((row) => row.map(safeCell)))
}
