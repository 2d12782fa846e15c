import { stringify } from 'csv-stringify/sync'
import { fileWriter, ParquetWriter, schemaFromColumnData, type ColumnSource } from 'hyparquet-writer'
import { safeCell } from '../../core/words/safeCell.js'
import type { ExportCell, ExportTable } from './tables.js'

export const exportFormats = ['csv', 'jsonl', 'parquet'] as const
export type ExportFormat = (typeof exportFormats)[number]

/** A table as CSV: a line of names, then a line a row; what a spreadsheet would take for a formula is made harmless. */
export function* csvPages({ columns, pages }: ExportTable): Generator<string> {
  yield stringify([columns.map(({ name }) => safeCell(name))])
  for (const rows of pages)
    yield stringify(rows.map((row) => row.map((cell) => (typeof cell === 'boolean' ? String(cell) : safeCell(cell)))))
}

/** A table as JSON Lines: an object a row, without its empty cells. */
export function* jsonPages({ columns, pages }: ExportTable): Generator<string> {
  for (const rows of pages)
    yield rows
      .map((row) => {
        const fields = row.flatMap((cell, i) => (cell === null || cell === '' ? [] : [[columns[i].name, cell]]))
        return `${JSON.stringify(Object.fromEntries(fields))}\n`
      })
      .join('')
}

const ROW_GROUP = 20_000
const TYPES = { text: 'STRING', number: 'DOUBLE', boolean: 'BOOLEAN' } as const

/** Writes a table to a Parquet file, a row group at a time. */
export async function writeParquet(filename: string, { columns, pages }: ExportTable): Promise<void> {
  const sources = (rows: ExportCell[][]): ColumnSource[] =>
    columns.map(({ name, kind }, i) => ({
      ...{ name, type: TYPES[kind], nullable: true },
      data: rows.map((row) => row[i]),
    }))
  const writer = new ParquetWriter({
    writer: fileWriter(filename),
    schema: schemaFromColumnData({ columnData: sources([]) }),
  })
  let waiting: ExportCell[][] = []
  const flush = async () => {
    if (waiting.length > 0) await writer.write({ columnData: sources(waiting) })
    waiting = []
  }
  for (const rows of pages) {
    waiting.push(...rows)
    if (waiting.length >= ROW_GROUP) await flush()
  }
  await flush()
  await writer.finish()
}
