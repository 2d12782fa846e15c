import { z } from 'zod'
import { COMPARED_TO, type Comparison } from './comparison.js'
import { isLocalDay, units, type Range } from './range.js'

/** A local day, `2026-10-08`, that exists in the calendar. */
export const localDay = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}$/, 'a day as 2026-10-08')
  .refine(isLocalDay, 'a day that exists in the calendar')

export const rangeSchema: z.ZodType<Range> = z.union([
  z.strictObject({ last: z.int().min(1).max(1000), unit: z.enum(units) }),
  z
    .strictObject({ from: localDay, to: localDay.optional() })
    .refine((range) => !range.to || range.from <= range.to, 'the first day must not come after the last'),
])

export const comparisonSchema: z.ZodType<Comparison> = z.union([
  z.strictObject({ to: z.enum(COMPARED_TO) }),
  z
    .strictObject({ from: localDay, to: localDay })
    .refine((range) => range.from <= range.to, 'the first day must not come after the last'),
])
