import { z } from 'zod'
import { nestedKeySchema } from '../../questions/parts.js'

/** Where in its result people are counted: a cell, a row or a column. */
export const crosstabMark = z.strictObject({
  kind: z.literal('cell'),
  /** from the outermost row inwards; empty = all rows together */
  row: z.array(nestedKeySchema).max(3),
  /** left out = across all columns */
  column: nestedKeySchema.optional(),
  /** which measure; left out = the first */
  series: z.int().min(0).max(19).optional(),
  /** key of the bucket; left out = the whole range */
  bucket: z.string().max(40).optional(),
})
export type CrosstabMark = z.infer<typeof crosstabMark>
