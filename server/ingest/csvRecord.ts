import { Temporal } from 'temporal-polyfill'
import type { ColumnRole, CsvPlan } from './importPlan.js'

/** Turns the cells of a CSV line into the object that a program would have sent. */
export function csvRecordReader(plan: CsvPlan): (cells: string[]) => { value: unknown } | { reason: string } {
  const inZone = zoneReader(plan.zone)
  const decimalComma = plan.delimiter !== ','
  return (cells) => {
    const value: Record<string, unknown> = plan.event ? { event: plan.event } : {}
    const properties: Record<string, unknown> = {}
    for (let i = 0; i < plan.columns.length; i++) {
      const column = plan.columns[i]
      const cell = cells[i].trim()
      if (cell === '' || column.role === 'ignore') continue
      if (column.role === 'property') {
        const read = readCell(cell, column.type, decimalComma)
        if (read === undefined)
          return { reason: `column “${plan.header[i]}”: “${cell.slice(0, 60)}” is not a ${column.type}` }
        properties[column.name] = read
      } else if (column.role === 'time') {
        value.time = readTime(cell, column.format, inZone)
      } else value[column.role] = cell
    }
    value.properties = properties
    return { value }
  }
}

type PropertyType = Extract<ColumnRole, { role: 'property' }>['type']

/** undefined = the cell is not of the type */
export function readCell(cell: string, type: PropertyType, decimalComma: boolean): unknown {
  switch (type) {
    case 'text':
      return cell
    case 'number': {
      const text = decimalComma && !cell.includes('.') ? cell.replace(',', '.') : cell
      return /^[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/.test(text) ? Number(text) : undefined
    }
    case 'boolean':
      if (/^(true|yes|1)$/i.test(cell)) return true
      return /^(false|no|0)$/i.test(cell) ? false : undefined
    case 'date':
      return /^\d{4}-\d{2}-\d{2}([T ].+)?$/.test(cell) ? cell.replace(' ', 'T') : undefined
    case 'list':
      return cell.split(/[|;]/).flatMap((part) => part.trim() || [])
  }
}

type TimeFormat = Extract<ColumnRole, { role: 'time' }>['format']
const WRITTEN = /^(\d{1,2})[./-](\d{1,2})[./-](\d{4})(?:[ T]+(\d{1,2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?)?$/

/** A time as epoch ms or ISO text; what cannot be read is handed on as it is, for the check to refuse in words. */
export function readTime(cell: string, format: TimeFormat, inZone: (local: string) => number): string | number {
  switch (format) {
    case 'iso': {
      const local = /^(\d{4}-\d{2}-\d{2})(?:[ T](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?))?$/.exec(cell)
      return local ? orText(inZone(`${local[1]}T${local[2] ?? '00:00'}`), cell) : cell
    }
    case 'epoch ms':
      return orText(Number(cell), cell)
    case 'epoch s':
      return orText(Number(cell) * 1000, cell)
    case 'day first':
    case 'month first': {
      const match = WRITTEN.exec(cell)
      if (!match) return cell
      const [, a, b, year, hour = '00', minute = '00', second = '00'] = match
      const [day, month] = format === 'day first' ? [a, b] : [b, a]
      const two = (text: string) => text.padStart(2, '0')
      return orText(inZone(`${year}-${two(month)}-${two(day)}T${two(hour)}:${minute}:${second}`), cell)
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
