import type { Mending } from '../../core/made/definitions.js'
import type { CostRow, CostsBy } from '../../core/costs/costs.js'
import { costsKey, dayNumber, dayText, lastDayOf, MOST_COSTS, periodOf } from '../../core/costs/costs.js'
import type { Db } from './database.js'
import { bumpDefinitions } from './definitions.js'

/** A table of costs as the page lists it. */
export interface CostsSummary {
  by: CostsBy
  rows: number
  /** local days, both included */
  from: string
  to: string
  total: number
}

/** What was paid, by value and day, for each property that touches are told apart by. */
export function costStore(db: Db) {
  const rowsOf = db.prepare<[string], CostRow>(
    'SELECT day, days, value, amount FROM costs WHERE property = ? ORDER BY day, value',
  )
  const keys = db.prepare<[], { property: string }>('SELECT DISTINCT property FROM costs ORDER BY property')
  const put = db.prepare('INSERT INTO costs (property, value, day, days, amount) VALUES (?, ?, ?, ?, ?)')
  const drop = db.prepare('DELETE FROM costs WHERE property = ? AND value = ? AND day = ?')
  const clear = db.prepare('DELETE FROM costs WHERE property = ?')

  const rows = (by: CostsBy): CostRow[] => rowsOf.all(costsKey(by))

  /** Those that reach into the days that others are about. */
  function replacedBy(by: CostsBy, next: readonly CostRow[]): CostRow[] {
    const period = periodOf(next)
    return period ? rows(by).filter((row) => row.day <= period.to && lastDayOf(row) >= period.from) : []
  }

  /** What of a row of seven days lies outside the days that are replaced, day by day. */
  function keptOf(row: CostRow, { from, to }: { from: string; to: string }): CostRow[] {
    const first = dayNumber(row.day)
    return Array.from({ length: row.days }, (_, i) => dayText(first + i))
      .filter((day) => day < from || day > to)
      .map((day) => ({ ...row, day, days: 1 as const, amount: row.amount / row.days }))
  }

  /** One property under all the names that were merged: whatever was brought in for any of them. */
  function rowsUnder(by: CostsBy, mergedProperties: Mending['mergedProperties']): CostRow[] {
    if (!('name' in by)) return rows(by)
    const own = mergedProperties.filter(({ of }) => of === by.of)
    const name = own.find(({ from }) => from === by.name)?.into ?? by.name
    const names = [name, ...own.filter(({ into }) => into === name).map(({ from }) => from)]
    return names.flatMap((each) => rows({ ...by, name: each }))
  }

  return {
    rows,
    /** The latest rows of a value or day that holds a text, and how many there are. */
    latest(by: CostsBy, text: string, most: number): { rows: CostRow[]; found: number } {
      const sought = text.trim().toLowerCase()
      const found = rows(by).filter(({ value, day }) => value.toLowerCase().includes(sought) || day.includes(sought))
      return { rows: found.reverse().slice(0, most), found: found.length }
    },
    rowsUnder,
    replacedBy,
    list(): CostsSummary[] {
      return keys.all().map(({ property }) => {
        const own = rowsOf.all(property)
        const [of, name] = JSON.parse(property) as [string, string | undefined]
        const by = (name === undefined ? { of } : { of, name }) as CostsBy
        return { by, rows: own.length, ...periodOf(own)!, total: own.reduce((sum, { amount }) => sum + amount, 0) }
      })
    },
    /**
     * Puts rows in the place of what there is for the days they reach over.
     * @returns all there was before; null where there would be too many, and nothing is changed
     */
    replace(by: CostsBy, next: readonly CostRow[]): CostRow[] | null {
      return db
        .transaction(() => {
          const before = rows(by)
          const key = costsKey(by)
          const period = periodOf(next)
          if (!period) return before
          const going = replacedBy(by, next)
          const coming = [...going.flatMap((row) => keptOf(row, period)), ...next]
          if (before.length - going.length + coming.length > MOST_COSTS) return null
          for (const { value, day } of going) drop.run(key, value, day)
          for (const { value, day, days, amount } of coming) put.run(key, value, day, days, amount)
          bumpDefinitions(db)
          return before
        })
        .immediate()
    },
    /** Makes the table of a property just these rows. */
    set(by: CostsBy, all: readonly CostRow[]): void {
      db.transaction(() => {
        const key = costsKey(by)
        clear.run(key)
        for (const { value, day, days, amount } of all) put.run(key, value, day, days, amount)
        bumpDefinitions(db)
      }).immediate()
    },
    /**
     * One row with another amount; one that was taken out comes back.
     * @param amount null = the row goes
     * @returns whether it was done: not where nothing is to go, or other rows of the value hold its days
     */
    correct(by: CostsBy, row: CostRow, amount: number | null): boolean {
      return db
        .transaction(() => {
          const key = costsKey(by)
          const { changes } = drop.run(key, row.value, row.day)
          if (amount === null && changes === 0) return false
          if (amount !== null) {
            if (changes === 0 && replacedBy(by, [row]).some(({ value }) => value === row.value)) return false
            put.run(key, row.value, row.day, row.days, amount)
          }
          bumpDefinitions(db)
          return true
        })
        .immediate()
    },
  }
}
