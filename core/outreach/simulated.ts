import { z } from 'zod'
import type { Value } from '../log/values.js'
import type { Filter } from '../questions/parts.js'
import { unit } from '../stats/unit.js'

const percent = z.number().min(0).max(100)

/** What the simulated people behind a channel do with a message. Shares are percents. */
export const reactionsSchema = z.object({
  /** left off, nobody behind it does anything */
  react: z.boolean().default(true),
  delivered: percent.default(96),
  /** of those it was delivered to */
  opened: percent.default(30),
  /** of those who opened it */
  pressed: percent.default(25),
  /** of those it was delivered to */
  optOut: percent.default(0.5),
  /**
   * by the variant's place: of a hundred it was delivered to, so many more do what the message is for, beside all that
   * people do by themselves
   */
  effects: z.array(percent).max(5).default([5, 0, 2, 0, 0]),
  /** profile property by whose values effects differ; '' = by none */
  by: z.string().max(200).default(''),
  /** times the effect; 1 where a value is not named */
  times: z
    .array(z.object({ value: z.string().max(200), times: z.number().min(0).max(20) }))
    .max(20)
    .default([]),
  /** of those who did it because of the message, in each of the four weeks after: do it again */
  again: percent.default(30),
})
export type Reactions = z.infer<typeof reactionsSchema>
export const USUAL_REACTIONS: Reactions = reactionsSchema.parse({})

/** What simulated people know of a message that arrives. */
export interface Arriving {
  /** the same for each try */
  key: string
  /** when it was sent, epoch ms of the workspace’s clock */
  sentMs: number
  /** what it is for counts up to here */
  untilMs: number
  /** the variant’s place */
  place: number
  /** what the person’s value of `by` is */
  kind: string | null
  channel: 'push' | 'mail' | 'text'
}

export type ReactionKind = 'delivered' | 'opened' | 'pressed' | 'optedOut' | 'goal'
export interface Reaction {
  /** of its own for each reaction to a message */
  name: string
  kind: ReactionKind
  atMs: number
}

const [MINUTE, HOUR, WEEK] = [60_000, 3_600_000, 7 * 86_400_000]
const WEEKS = 4

/**
 * What somebody does with a message, and when. Chance is worked out from the key, so that the same message to the same
 * person is always answered the same way.
 */
export function reactionsTo(message: Arriving, model: Reactions): Reaction[] {
  const { key, sentMs, untilMs, place, kind, channel } = message
  const chance = (of: string) => unit(`${of}:${key}`)
  const holds = (of: string, share: number) => chance(of) * 100 < share
  const about = (of: string, ms: number) => -Math.log(1 - chance(of)) * ms
  if (!model.react || !holds('delivered', model.delivered)) return []
  const delivered = sentMs + 1 + Math.round(about('way', MINUTE / 2))
  const found: Reaction[] = [{ name: 'delivered', kind: 'delivered', atMs: delivered }]
  if (holds('opened', model.opened)) {
    const opened = delivered + 1000 + Math.round(about('to open', 2 * HOUR))
    const presses = holds('pressed', model.pressed)
    // Nobody sees whether a text message is opened, but for those who press what is in it.
    if (channel !== 'text') found.push({ name: 'opened', kind: 'opened', atMs: opened })
    if (presses)
      found.push({ name: 'pressed', kind: 'pressed', atMs: opened + 1000 + Math.round(about('press', MINUTE)) })
  }
  if (holds('opt out', model.optOut))
    found.push({ name: 'opted out', kind: 'optedOut', atMs: delivered + Math.round(about('to decline', HOUR)) })
  const times = model.times.find(({ value }) => value === kind)?.times ?? 1
  const left = untilMs - delivered
  if (left > 0 && holds('effect', (model.effects[place] ?? 0) * times)) {
    const did = delivered + 1 + Math.floor(chance('to act') * (left - 1))
    found.push({ name: 'goal', kind: 'goal', atMs: did })
    for (let week = 1; week <= WEEKS; week++)
      if (holds(`again ${week}`, model.again))
        found.push({
          name: `goal ${week}`,
          kind: 'goal',
          atMs: did + week * WEEK + Math.round(chance(`day ${week}`) * 2 * 24 * HOUR),
        })
  }
  return found.sort((a, b) => a.atMs - b.atMs)
}

/** Properties with which an event fulfils a condition as far as that can be read off it: those that must be a value. */
export function fittingProperties(where: Filter | undefined): Record<string, Value> {
  if (!where) return {}
  if ('all' in where) return Object.assign({}, ...where.all.map(fittingProperties)) as Record<string, Value>
  if ('any' in where) return fittingProperties(where.any[0])
  if (where.property.of !== 'event') return {}
  const { name } = where.property
  if (where.op === 'is' && where.values.length > 0) return { [name]: where.values[0] }
  if ('number' in where) {
    const beside = { '=': 0, '≤': 0, '≥': 0, '<': -1, '>': 1, '≠': 1 }
    return { [name]: where.number + beside[where.op] }
  }
  return {}
}
