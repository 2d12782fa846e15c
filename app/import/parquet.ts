import { parquetMetadataAsync, parquetReadObjects, parquetSchema, type AsyncBuffer } from 'hyparquet'
import { compressors } from 'hyparquet-compressors'

const ROWS = 200

/** The columns of a Parquet file and its first rows, read in the browser: only the pieces that are needed. */
export async function readParquetStart(file: File): Promise<{ header: string[]; rows: unknown[][] }> {
  const buffer: AsyncBuffer = {
    byteLength: file.size,
    slice: (start, end) => file.slice(start, end).arrayBuffer(),
  }
  const metadata = await parquetMetadataAsync(buffer)
  const header = parquetSchema(metadata).children.map(({ element }) => element.name)
  const rowEnd = Math.min(ROWS, Number(metadata.num_rows))
  const rows = await parquetReadObjects({ file: buffer, metadata, compressors, rowStart: 0, rowEnd })
  const plain = (cell: unknown) => (typeof cell === 'bigint' ? Number(cell) : cell)
  return { header, rows: rows.map((row) => header.map((name) => plain(row[name]))) }
}
