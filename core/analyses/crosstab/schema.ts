import { seriesSchema } from '../trend/schema.js'
import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { nestedKeySchema } from '../../questions/parts.js'
import { splitSchema } from '../../questions/split.js'
import { units } from '../../time/range.js'
import { MOST_SERIES } from '../trend/question.js'
import { cellForms, besideForms, type CrosstabQuestion, MOST_ROW_LEVELS, usualCrosstab } from './question.js'

export const crosstabSchema: z.ZodType<CrosstabQuestion> = z.strictObject({
  kind: z.literal('crosstab'),
  series: z.array(seriesSchema).min(1, 'at least one measure').max(MOST_SERIES, `at most ${MOST_SERIES} measures`),
  every: z.enum(units).default('week'),
  range: rangeSchema,
  rows: z
    .array(splitSchema)
    .min(1, 'at least one property for the rows')
    .max(MOST_ROW_LEVELS, 'at most three properties for the rows'),
  column: splitSchema.optional(),
  among: amongSchema.optional(),
  show: z
    .strictObject({
      cells: z.enum(cellForms),
      beside: z.enum(besideForms),
      sort: z.strictObject({ by: z.string().max(500), up: z.literal(true).optional() }).optional(),
      locked: z.array(nestedKeySchema).max(MOST_ROW_LEVELS).optional(),
      folded: z.array(z.string().max(1500)).max(200).optional(),
    })
    .default({ cells: 'bars', beside: 'trend' }),
})

export function parseCrosstab(input: unknown): { question: CrosstabQuestion; faults: Fault[] } {
  return parseLeniently(crosstabSchema, input, usualCrosstab('…'))
}
