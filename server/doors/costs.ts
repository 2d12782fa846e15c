import { parse } from 'csv-parse/sync'
import { stringify } from 'csv-stringify/sync'
import { periodOf, type CostRow, type CostsBy } from '../../core/costs/costs.js'
import { readCosts, type ReadCosts } from '../../core/costs/readCosts.js'
import { plainCell, safeCell } from '../../core/words/safeCell.js'
import type { Inside } from './inside.js'

/** What a table of costs would bring, before it is brought in. */
export interface CostsPreview extends ReadCosts {
  period: { from: string; to: string } | null
  total: number
  /** by value, the most first: whether any event has it */
  values: { value: string; rows: number; amount: number; known: boolean }[]
  /** CSV of the lines that are not taken, each with its number and the reason before its own cells */
  leftOut: string
  /** rows of before that would go, at least in part */
  replaced: number
}

/** So many of the commonest values are looked up together, and of the others so many one by one. */
const MOST_COMMON = 1000
const MOST_LOOKED = 50

/** Costs of what brings people: looked at, brought in, corrected. */
export function costsDoor({ stores, ask, toWrite }: Inside) {
  const { costs } = stores

  function read(text: string, by: CostsBy): ReadCosts {
    const content = text.replace(/^\uFEFF/, '')
    const first = content.split('\n', 1)[0] ?? ''
    const delimiter = [',', ';', '\t'].reduce((a, b) => (first.split(b).length > first.split(a).length ? b : a))
    try {
      const cells = parse(content, { delimiter, relax_column_count: true, skip_empty_lines: false }) as string[][]
      return readCosts(
        cells.map((row) => row.map(plainCell)),
        'name' in by ? [by.name] : [by.of],
      )
    } catch (error) {
      return { rows: [], problems: [{ line: 1, reason: `it is not CSV: ${(error as Error).message}`, cells: [first] }] }
    }
  }

  /** Looked up at once, so that only the others are looked for one by one. */
  async function commonValues(by: CostsBy): Promise<ReadonlySet<string>> {
    if (by.of === 'event name') return new Set(stores.catalog.types().map(({ name }) => name))
    const found = await ask<{ value: unknown }[]>({ kind: 'values', property: by, search: '', limit: MOST_COMMON })
    return new Set(found.map(({ value }) => String(value)))
  }

  async function isKnown(by: CostsBy, value: string): Promise<boolean> {
    if (by.of === 'event name') return false
    const found = await ask<{ value: unknown }[]>({ kind: 'values', property: by, search: value, limit: 50 })
    return found.some((each) => String(each.value) === value)
  }

  return {
    costs: {
      list: costs.list,
      rows: costs.rows,
      latest: costs.latest,
      async preview(text: string, by: CostsBy): Promise<CostsPreview> {
        const { rows, problems } = read(text, by)
        const values = new Map<string, { value: string; rows: number; amount: number; known: boolean }>()
        for (const { value, amount } of rows) {
          const own = values.get(value) ?? { value, rows: 0, amount: 0, known: true }
          values.set(value, { ...own, rows: own.rows + 1, amount: own.amount + amount })
        }
        const all = [...values.values()].sort((a, b) => b.amount - a.amount || (a.value < b.value ? -1 : 1))
        const common = await commonValues(by)
        const others = all.filter(({ value }) => !common.has(value)).slice(0, MOST_LOOKED)
        for (const each of others) each.known = await isKnown(by, each.value)
        return {
          ...{ rows, problems, values: all, period: periodOf(rows) },
          total: rows.reduce((sum, { amount }) => sum + amount, 0),
          leftOut: stringify(problems.map(({ line, reason, cells }) => [line, reason, ...cells.map(safeCell)])),
          replaced: costs.replacedBy(by, rows).length,
        }
      },
      /** Puts a table's rows in the place of those of its days. @returns how many came, and all there was before; null where the table would have too many */
      async bring(text: string, by: CostsBy): Promise<{ rows: number; before: CostRow[] } | null> {
        const { rows } = read(text, by)
        await toWrite()
        const before = costs.replace(by, rows)
        return before ? { rows: rows.length, before } : null
      },
      set: costs.set,
      correct: costs.correct,
    },
  }
}
