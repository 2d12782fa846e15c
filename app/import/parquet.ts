import { own } from '../../core/names.js'
import { decompress } from 'fzstd'
import { parquetMetadataAsync, parquetReadObjects, parquetSchema, type AsyncBuffer, type Compressors } from 'hyparquet'
import { decompressBrotli } from 'hyparquet-compressors/src/brotli.js'
import { gunzip } from 'hyparquet-compressors/src/gzip.js'
import { decompressLz4, decompressLz4Raw } from 'hyparquet-compressors/src/lz4.js'

/** All ways of packing, in plain JavaScript; snappy is the reader's own. */
const compressors: Compressors = {
  GZIP: (input, length) => gunzip(input, new Uint8Array(length)),
  BROTLI: decompressBrotli,
  ZSTD: (input) => decompress(input),
  LZ4: decompressLz4,
  LZ4_RAW: decompressLz4Raw,
}

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
  return { header, rows: rows.map((row) => header.map((name) => plain(own(row, name)))) }
}
