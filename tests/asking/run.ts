import { ask } from '../../core/ask/ask.js'
import { bikes } from './bikes.js'
import { shop } from './shop.js'
import { teams } from './teams.js'
import type { catalogOf } from './catalog.js'
import { missing, type Asked } from './shapes.js'

/** What is wrong with the first reading of a question; null where it is what it must be. */
export function wrong({ text, is }: Asked, vocabulary: ReturnType<typeof catalogOf>): string | null {
  const [first] = ask(text, vocabulary)
  if (!first) return 'no reading'
  return missing(is, first.question ?? { rule: first.rule })
}

export const tables = { bikes, shop, teams }
