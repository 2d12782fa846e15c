import { sharedFloat64, type ProfileColumn } from '../log/log.js'
import { propertiesIn } from '../questions/named.js'
import type { Schema } from '../log/schema.js'
import type { InnerRecipe } from './definitions.js'
import { inputsOf } from './refs.js'

export type ChanceRecipe = Extract<InnerRecipe, { kind: 'chance' }>

/** How likely people are to do something, as of now: by pieces of people, each with a chance from 0 to 1. */
export interface ScoredPeople {
  people: readonly ArrayLike<number>[]
  scores: readonly ArrayLike<number>[]
  /** by person: their place from the likeliest on; −1 = they are not scored */
  order: Int32Array
  /** the first place of each tenth, and that behind the last: 11 numbers */
  tenths: readonly number[]
}

/** The recipes that need people scored, among all that a definition reads, directly or by what it is made from. */
export function chancesIn(definition: unknown, schema: Schema): ChanceRecipe[] {
  const found = new Map<string, ChanceRecipe>()
  const seen = new Set<number>()
  const visit = (of: 'event' | 'person', name: string) => {
    const code = schema.madeCode(of, name)
    if (code === undefined || seen.has(code)) return
    seen.add(code)
    const { recipe } = schema.made[code]
    if (recipe.kind === 'chance') found.set(scoreKey(recipe), recipe)
    else
      for (const ref of inputsOf(recipe, schema.made[code].of))
        if (ref.of !== 'source') {
          visit(ref.of, ref.name)
          // A formula's names may be of the person.
          visit('person', ref.name)
        }
  }
  for (const ref of propertiesIn(definition)) if (ref.of !== 'source') visit(ref.of, ref.name)
  return [...found.values()]
}

/** What people are scored by. */
export const scoreKey = ({ study }: ChanceRecipe): string => JSON.stringify(study)

/**
 * A chance in percent, or the tenth a person stands in, 1 being the likeliest; no value for those not asked about.
 * @param size one more than the largest person number
 */
export function scoreColumn(part: ChanceRecipe['part'], scored: ScoredPeople | null, size: number): ProfileColumn {
  const numbers = sharedFloat64(size).fill(NaN)
  if (!scored) return { codes: null, numbers, dates: null, past: null }
  const { people, scores, order, tenths } = scored
  people.forEach((piece, at) => {
    for (let i = 0; i < piece.length; i++) {
      const person = piece[i]
      if (person >= size) continue
      if (part === 'score') numbers[person] = scores[at][i] * 100
      else {
        const place = order[person] ?? -1
        if (place >= 0) numbers[person] = tenths.findLastIndex((first, tenth) => tenth < 10 && place >= first) + 1
      }
    }
  })
  return { codes: null, numbers, dates: null, past: null }
}
