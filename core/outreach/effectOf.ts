import type { EffectQuestion } from '../analyses/effect/question.js'
import { dayOf } from '../time/range.js'
import type { Message } from './message.js'

/** The study of what a message brings, from the day it was started on. */
export function effectOfMessage(message: Message, startedMs: number, zone: string): EffectQuestion {
  const { name, variants, holdOut, split, goal, within } = message
  return {
    ...{ kind: 'effect', message: name, variants: variants.map((variant) => variant.name) },
    ...(holdOut === 0 ? { nobodyAlone: true as const } : {}),
    ...(split.kind === 'adaptive' && variants.length > 1 ? { moving: true as const } : {}),
    ...{ goal, within, range: { from: dayOf(startedMs, zone).toString() }, show: { form: 'effect' } },
  }
}
