import { MOST_DAYS, usualLikelihood, type LikelihoodQuestion } from '../analyses/likelihood/question.js'
import type { EventPick } from '../questions/parts.js'
import type { SaidOfChance } from './said.js'

/** A study of who is likely to do what was named last, or null where nothing was. */
export function buildLikelihood(asked: SaidOfChance, picks: readonly EventPick[]): LikelihoodQuestion | null {
  const goal = picks.filter(({ event }) => 'names' in event).at(-1)
  if (!goal) return null
  const usual = usualLikelihood('')
  return {
    ...{ ...usual, goal, days: Math.min(MOST_DAYS, Math.max(1, asked.days ?? usual.days)) },
    ...(asked.again ? { again: true as const } : {}),
  }
}
