import { usualTipping, type TippingQuestion } from '../analyses/tipping/question.js'
import type { EventPick } from '../questions/parts.js'
import type { Said } from './said.js'

/**
 * A study of what done early goes with staying: of two that were named the first is where people begin, of one it is what
 * staying means.
 * @param begins where people begin, where nobody said
 */
export function buildTipping(said: Said, picks: readonly EventPick[], begins: string): TippingQuestion {
  const named = picks.filter(({ event }) => 'names' in event)
  const start = named.length > 1 ? named[0]! : { event: { names: [begins] } }
  const goal = named.at(-1) ?? { event: { activity: true as const } }
  return { ...usualTipping(begins), start, goal, ...(said.range ? { range: said.range } : {}) }
}
