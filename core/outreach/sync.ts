import { z } from 'zod'
import type { Schedule } from './schedule.js'

export const timeOfDaySchema = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write a time of day, as 02:30.')

const scheduleSchema: z.ZodType<Schedule> = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('once') }),
  z.object({ kind: z.literal('hours'), every: z.int().min(1).max(168) }),
  z.object({ kind: z.literal('daily'), at: timeOfDaySchema }),
  z.object({ kind: z.literal('each change') }),
])

/** What is kept in step: a segment at a destination. */
export const syncSchema = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(100),
  purpose: z.string().trim().max(500).default(''),
  tags: z.array(z.string().trim().min(1).max(40)).max(10).default([]),
  owner: z.string().trim().max(100).default(''),
  segment: z.string().min(1, 'Choose the segment first.'),
  destination: z.string().min(1, 'Choose where its people go.'),
  /** profile properties that go along */
  properties: z.array(z.string().min(1).max(200)).max(20).default([]),
  schedule: scheduleSchema,
  /** only those who come in once it has been started */
  onlyNew: z.boolean().default(false),
  /** the last local day on which it is kept up; left out: no end */
  until: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}$/)
    .optional(),
})
export type Sync = z.infer<typeof syncSchema>

/** So often a person is tried before they are set aside. */
export const MOST_TRIES = 5
const FIRST_WAIT_MS = 5_000
const MOST_WAIT_MS = 3_600_000

/** How long after a failed try the next one is made: twice as long each time. */
export const waitMs = (tries: number): number => Math.min(MOST_WAIT_MS, FIRST_WAIT_MS * 2 ** (tries - 1))
