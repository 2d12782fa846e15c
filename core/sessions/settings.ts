import { z } from 'zod'

/** How a workspace cuts people's time into sessions (how numbers are counted, 14). */
export interface SessionCuts {
  /** a gap of more than this between two events begins a new session; exactly as long does not */
  timeoutMs: number
  /** other time-outs after events of these sources; null = of no source */
  bySource?: { source: string | null; timeoutMs: number }[] | undefined
  /** events that begin a session, whatever the gap */
  starts?: string[] | undefined
  /** events that end one: the next event begins a new one */
  ends?: string[] | undefined
  /** an event of another source than the one before begins a new session */
  onSource?: true | undefined
}

export const USUAL_CUTS: SessionCuts = { timeoutMs: 30 * 60_000 }

/** A session goes on over a gap of a day at most. */
export const MOST_MINUTES = 1440
const minutes = z
  .int('whole minutes')
  .min(1, 'at least 1 minute: with less every event would be a session of its own')
  .max(MOST_MINUTES, `at most ${MOST_MINUTES} minutes, which are a day`)
export const sessionMinutes = minutes.default(USUAL_CUTS.timeoutMs / 60_000)

const events = z.array(z.string().min(1).max(200)).min(1).max(20).optional()

/** What a workspace sets beside the one time-out for all; times in minutes. */
export const cutsSchema = z
  .strictObject({
    bySource: z
      .array(z.strictObject({ source: z.string().max(200).nullable(), minutes }))
      .min(1)
      .max(50)
      .optional(),
    starts: events,
    ends: events,
    onSource: z.literal(true).optional(),
  })
  .superRefine(({ bySource }, context) => {
    bySource?.forEach(({ source }, index) => {
      if (bySource.findIndex((each) => each.source === source) < index)
        context.addIssue({
          code: 'custom',
          message: `${source === null ? 'no source' : `“${source}”`} has a time-out of its own already`,
          path: ['bySource', index],
        })
    })
  })
export type CutSettings = z.infer<typeof cutsSchema>

/** @param all minutes of the time-out for all */
export function cutsOf(all: number, { bySource, ...rest }: CutSettings): SessionCuts {
  return {
    timeoutMs: all * 60_000,
    ...(bySource
      ? { bySource: bySource.map(({ source, minutes: own }) => ({ source, timeoutMs: own * 60_000 })) }
      : {}),
    ...rest,
  }
}
