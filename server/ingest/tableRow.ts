import { Temporal } from 'temporal-polyfill'
import type { ColumnRole, TablePlan, TimeFormat } from './importPlan.js'

/** What a row of a table came to: events or people as a program would send them, or why nothing. */
export type RowItems = { values: unknown[] } | { reason: string }

/**
 * Turns the cells of a row into what a program would have sent: one event, one person's profile, or, for a table of
 * things, an event for each date that is filled. Cells are texts (CSV) or typed values (JSON, Parquet).
 */
export function tableRowReader(plan: TablePlan): (cells: readonly unknown[]) => RowItems {
  const inZone = zoneReader(plan.zone)
  const decimalComma = plan.format === 'csv' && plan.delimiter !== ','
  return (cells) => {
    const fields: Record<string, unknown> = {}
    const named = new Map<string, unknown>()
    const happened: { event: string; time: number | string }[] = []
    for (let i = 0; i < plan.columns.length; i++) {
      const column = plan.columns[i]
      const cell = plainCell(cells[i])
      if (cell === null || column.role === 'ignore') continue
      if (column.role === 'property') {
        const read = readCell(cell, column.type, decimalComma)
        if (read === undefined)
          return { reason: `column “${plan.header[i]}”: “${String(cell).slice(0, 60)}” is not a ${column.type}` }
        named.set(column.name, column.type === 'date' ? withOffset(read as string, inZone) : read)
      } else if (column.role === 'time') fields.time = readTime(cell, column.format, inZone)
      else if (column.role === 'happened')
        happened.push({ event: column.event.trim(), time: readTime(cell, column.format, inZone) })
      else fields[column.role] = String(cell)
    }
    const properties = Object.fromEntries(named)
    switch (plan.rows) {
      case 'events':
        return { values: [{ ...(plan.event ? { event: plan.event } : {}), ...fields, properties }] }
      case 'people': {
        const { person, time } = fields
        return { values: [{ person, ...(time === undefined ? {} : { time }), properties }] }
      }
      case 'things': {
        const { id, ...who } = fields
        if (id === undefined) return { reason: `the id of the ${plan.thing} is missing` }
        if (happened.length === 0) return { reason: 'none of its dates is filled' }
        return {
          values: happened.map(({ event, time }) => ({
            ...who,
            id: `${plan.thing}:${String(id)}:${event}`,
            ...{ event, time, properties: { ...properties, [`${plan.thing}_id`]: String(id) } },
          })),
        }
      }
    }
  }
}

/** A local date-time gets its offset, without which it would be a text; a whole day stays one. */
function withOffset(date: string, inZone: (local: string) => number): string {
  if (date.length === 10 || /(Z|[+-]\d{2}:?\d{2})$/.test(date)) return date
  const ms = inZone(date)
  return Number.isNaN(ms) ? date : new Date(ms).toISOString()
}

type Plain = string | number | boolean | readonly string[]

/** A cell as something an event can carry; null for an empty one. Dates become ISO text, nested values JSON. */
export function plainCell(cell: unknown): Plain | null {
  switch (typeof cell) {
    case 'string': {
      const text = cell.trim()
      return text === '' ? null : text
    }
    case 'number':
      return Number.isFinite(cell) ? cell : null
    case 'boolean':
      return cell
    case 'bigint':
      return cell <= Number.MAX_SAFE_INTEGER && cell >= Number.MIN_SAFE_INTEGER ? Number(cell) : String(cell)
    case 'object': {
      if (cell === null) return null
      if (cell instanceof Date) return Number.isNaN(cell.getTime()) ? null : cell.toISOString()
      if (cell instanceof Uint8Array) return cell.length > 0 ? Buffer.from(cell).toString('utf8') : null
      if (Array.isArray(cell) && cell.every((each) => typeof each === 'string')) return cell.length > 0 ? cell : null
      return JSON.stringify(cell, (_key, value: unknown) => (typeof value === 'bigint' ? String(value) : value))
    }
    default:
      return null
  }
}

type PropertyType = Extract<ColumnRole, { role: 'property' }>['type']

/** undefined = the cell is not of the type */
export function readCell(cell: Plain, type: PropertyType, decimalComma: boolean): unknown {
  switch (type) {
    case 'text':
      return Array.isArray(cell) ? cell.join(', ') : String(cell)
    case 'number': {
      if (typeof cell === 'number') return cell
      const text =
        decimalComma && typeof cell === 'string' && !cell.includes('.') ? cell.replace(',', '.') : String(cell)
      return /^[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/.test(text) ? Number(text) : undefined
    }
    case 'boolean':
      if (typeof cell === 'boolean') return cell
      if (/^(true|yes|1)$/i.test(String(cell))) return true
      return /^(false|no|0)$/i.test(String(cell)) ? false : undefined
    case 'date':
      return /^\d{4}-\d{2}-\d{2}([T ].+)?$/.test(String(cell)) ? String(cell).replace(' ', 'T') : undefined
    case 'list':
      return Array.isArray(cell)
        ? cell
        : String(cell)
            .split(/[|;]/)
            .flatMap((part) => part.trim() || [])
  }
}

const WRITTEN = /^(\d{1,2})[./-](\d{1,2})[./-](\d{4})(?:[ T]+(\d{1,2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?)?$/

/** A time as epoch ms or ISO text; what cannot be read is handed on as it is, for the check to refuse in words. */
export function readTime(cell: Plain, format: TimeFormat, inZone: (local: string) => number): string | number {
  const text = String(cell)
  switch (format) {
    case 'iso': {
      const local = /^(\d{4}-\d{2}-\d{2})(?:[ T](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?))?$/.exec(text)
      return local ? orText(inZone(`${local[1]}T${local[2] ?? '00:00'}`), text) : text
    }
    case 'epoch ms':
      return orText(Number(text), text)
    case 'epoch s':
      return orText(Number(text) * 1000, text)
    case 'day first':
    case 'month first': {
      const match = WRITTEN.exec(text)
      if (!match) return text
      const [, a, b, year, hour = '00', minute = '00', second = '00'] = match
      const [day, month] = format === 'day first' ? [a, b] : [b, a]
      const two = (part: string) => part.padStart(2, '0')
      return orText(inZone(`${year}-${two(month)}-${two(day)}T${two(hour)}:${minute}:${second}`), text)
    }
  }
}

function orText(ms: number, text: string): number | string {
  return Number.isFinite(ms) ? ms : text
}

/** Reads local times of a zone. The offset is worked out once for each hour that occurs. NaN for what is no time. */
export function zoneReader(zone: string): (local: string) => number {
  const offsets = new Map<string, number>()
  return (local) => {
    const utc = Date.parse(`${local}Z`)
    if (Number.isNaN(utc)) return NaN
    const hour = local.slice(0, 13)
    let offset = offsets.get(hour)
    if (offset === undefined) {
      try {
        const start = Temporal.PlainDateTime.from(`${hour}:00`)
        offset = start.toZonedDateTime('UTC').epochMilliseconds - start.toZonedDateTime(zone).epochMilliseconds
      } catch {
        return NaN
      }
      if (offsets.size > 100_000) offsets.clear()
      offsets.set(hour, offset)
    }
    return utc - offset
  }
}

/** An object as cells under a header of dotted names: `{a: {b: 1}}` has the column `a.b`. */
export function cellsOf(value: unknown, header: readonly string[]): unknown[] {
  const flat = flatten(value)
  return header.map((name) => flat.get(name))
}

/** The fields of an object by dotted names, three levels deep; what lies deeper stays as it is. */
export function flatten(value: unknown): Map<string, unknown> {
  const found = new Map<string, unknown>()
  const visit = (node: unknown, prefix: string, depth: number) => {
    if (typeof node !== 'object' || node === null || Array.isArray(node) || depth > 3) found.set(prefix, node)
    else for (const [key, inner] of Object.entries(node)) visit(inner, prefix ? `${prefix}.${key}` : key, depth + 1)
  }
  if (typeof value === 'object' && value !== null && !Array.isArray(value)) visit(value, '', 1)
  return found
}
