import { z } from 'zod'
import { pickSchema, timeLimitSchema, type EventPick } from '../questions/parts.js'
import { isLocalDay } from '../time/range.js'
import { MOST_PARTS } from './characters.js'
import type { Channel } from './destination.js'
import { timeOfDaySchema } from './sync.js'

export const MOST_VARIANTS = 5
const MOST_WAIT_HOURS = 720

const localMoment = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$/, 'Write a day and a time, as 2026-10-08T09:00.')
  .refine((text) => isLocalDay(text.slice(0, 10)), 'a day that the calendar has')

/** When people come into it. `at` is a local time. */
export type Trigger =
  /** all who are in the segment at a moment; left out: when it is started */
  | { kind: 'once'; at?: string | undefined }
  /** who is in the segment at a time of day */
  | { kind: 'daily'; at: string }
  /** who is in the segment, looked at again and again */
  | { kind: 'comes in' }
  | { kind: 'event'; event: EventPick }

const triggerSchema: z.ZodType<Trigger> = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('once'), at: localMoment.optional() }),
  z.object({ kind: z.literal('daily'), at: timeOfDaySchema }),
  z.object({ kind: z.literal('comes in') }),
  z.object({ kind: z.literal('event'), event: pickSchema }),
])

export const variantSchema = z.object({
  name: z.string().trim().min(1, 'Give the variant a name.').max(60),
  /** of push the heading, of mail the subject; text messages have none */
  title: z.string().max(300).default(''),
  text: z.string().max(20_000).default(''),
  link: z.union([z.literal(''), z.url('Write a whole address, as https://example.org/offer.')]).default(''),
  /** address of a picture, of push */
  picture: z.union([z.literal(''), z.url('Write a whole address, as https://example.org/bike.png.')]).default(''),
})
export type Variant = z.infer<typeof variantSchema>

/** How the variants share what the hold-out leaves. */
export type Split = { kind: 'fixed'; weights: number[] } | { kind: 'adaptive' }

/** Who is told what, when, and what for. */
export const messageSchema = z
  .object({
    name: z.string().trim().min(1, 'Give it a name.').max(100),
    tags: z.array(z.string().trim().min(1).max(40)).max(10).default([]),
    owner: z.string().trim().max(100).default(''),
    /** '' = everybody, where an event is what they come in by */
    segment: z.string().default(''),
    /** '' = nobody is left out */
    notAmong: z.string().default(''),
    trigger: triggerSchema,
    /** hours from coming in to sending */
    wait: z.number().min(0).max(MOST_WAIT_HOURS, `at most ${MOST_WAIT_HOURS} hours`).default(0),
    /** whoever does this while waiting is not sent it */
    unless: pickSchema.optional(),
    /** days after which somebody may come in again; left out: each person once */
    again: z.int().min(1).max(365).optional(),
    destination: z.string().default(''),
    variants: z.array(variantSchema).min(1).max(MOST_VARIANTS),
    split: z
      .discriminatedUnion('kind', [
        z.object({ kind: z.literal('fixed'), weights: z.array(z.number().min(0).max(1000)).max(MOST_VARIANTS) }),
        z.object({ kind: z.literal('adaptive') }),
      ])
      .default({ kind: 'fixed', weights: [] }),
    /** percent of those who come in that are left alone */
    holdOut: z.number().min(0).max(90, 'at most 90 %').default(10),
    /** hours of the day in which it is sent, from (included) to (not included), of the person’s zone or the workspace’s */
    hours: z
      .object({
        from: z.int().min(0).max(23),
        to: z.int().min(1).max(24),
        /** profile property that holds a time zone */
        zone: z.string().max(200).optional(),
      })
      .refine(({ from, to }) => from < to, 'The first hour must come before the last.')
      .optional(),
    /** at most so many messages of all kinds in so many days */
    cap: z.object({ most: z.int().min(1).max(100), days: z.int().min(1).max(365) }).optional(),
    goal: pickSchema,
    within: timeLimitSchema,
    /** of one that is sent, in the workspace’s currency */
    cost: z.number().min(0).max(1_000_000).optional(),
  })
  .superRefine(({ variants, split }, issues) => {
    const names = variants.map(({ name }) => name.toLowerCase())
    const twice = names.findIndex((name, i) => names.indexOf(name) !== i || name === LEFT_ALONE)
    if (twice >= 0)
      issues.addIssue({
        code: 'custom',
        path: ['variants', twice, 'name'],
        message: 'Each variant needs a name of its own.',
      })
    if (split.kind === 'fixed' && split.weights.length > 0 && !split.weights.some((weight) => weight > 0))
      issues.addIssue({ code: 'custom', path: ['split'], message: 'At least one variant needs a share.' })
  })
export type Message = z.infer<typeof messageSchema>

/** What the hold-out is called, where variants have their names. */
export const LEFT_ALONE = 'left alone'

/** So long a text may be, for its channel. */
export const CHANNEL_LIMITS: Readonly<Record<Channel, { title: number; text: number }>> = {
  push: { title: 65, text: 240 },
  mail: { title: 150, text: 20_000 },
  text: { title: 0, text: MOST_PARTS },
}

/** The share of each variant of what the hold-out leaves; adds up to 1. */
export function fixedShares(split: Split, variants: number): number[] {
  const weights = Array.from({ length: variants }, (_, i) => (split.kind === 'fixed' ? (split.weights[i] ?? 0) : 1))
  const sum = weights.reduce((a, b) => a + b, 0)
  return sum > 0 ? weights.map((weight) => weight / sum) : weights.map(() => 1 / variants)
}
