import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { comparisonSchema, rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { pickSchema, propertySchema } from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import { units } from '../../time/range.js'
import { trendMeasures } from './measures.js'
import {
  trendForms,
  trendReadings,
  tableColumns,
  formulaUnits,
  type TrendQuestion,
  MOST_SERIES,
  MOST_FORMULAS,
  usualTrend,
} from './question.js'

export const shortName = z.string().trim().min(1, 'a short name of at least one character').max(40)

export const seriesSchema = pickSchema.extend({
  name: shortName.optional(),
  measure: z.enum(trendMeasures),
  of: propertySchema.optional(),
  days: z.int().min(1).max(366).optional(),
  hidden: z.literal(true).optional(),
})

export const trendSchema: z.ZodType<TrendQuestion> = z.strictObject({
  kind: z.literal('trend'),
  series: z.array(seriesSchema).min(1, 'at least one series').max(MOST_SERIES, `at most ${MOST_SERIES} series`),
  formulas: z
    .array(
      z.strictObject({
        name: shortName.optional(),
        formula: z.string().max(500),
        unit: z.enum(formulaUnits).default('number'),
      }),
    )
    .max(MOST_FORMULAS, `at most ${MOST_FORMULAS} formulas`)
    .optional(),
  every: z.enum(units),
  range: rangeSchema,
  breakdowns: breakdownsSchema.optional(),
  among: amongSchema.optional(),
  compare: comparisonSchema.optional(),
  smooth: z.int().min(2, 'at least 2').max(60, 'at most 60').optional(),
  show: z
    .strictObject({
      form: z.enum(trendForms),
      as: z.enum(trendReadings),
      log: z.literal(true).optional(),
      off: z.array(z.string().max(500)).max(100).optional(),
      heat: z.literal(true).optional(),
      pinned: z.array(z.string().max(500)).max(50).optional(),
      without: z.array(z.enum(tableColumns)).max(6).optional(),
      notes: z.union([z.literal('none'), z.strictObject({ tag: z.string().min(1).max(40) })]).optional(),
    })
    .default({ form: 'lines', as: 'number' }),
})

export function parseTrend(input: unknown): { question: TrendQuestion; faults: Fault[] } {
  return parseLeniently(trendSchema, input, usualTrend('…'))
}
