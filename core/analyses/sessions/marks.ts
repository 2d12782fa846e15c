import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'
import { LENGTHS } from './question.js'

/** Which sessions people are read from. */
export const sessionsMark = z.strictObject({
  kind: z.literal('session'),
  /** key of the bucket it begins in; left out: any */
  bucket: z.string().max(40).optional(),
  /** the range of its length, by its place */
  length: z.int().min(0).max(LENGTHS.length).optional(),
  /** lasts more than so many minutes */
  over: z.int().min(0).max(1440).optional(),
  /** has one event only */
  single: z.literal(true).optional(),
  /** its first event, and its last one */
  entry: z.string().min(1).max(200).optional(),
  exit: z.string().min(1).max(200).optional(),
  /** of the time it is compared with */
  before: z.literal(true).optional(),
  group: groupKeySchema.optional(),
})
export type SessionsMark = z.infer<typeof sessionsMark>
