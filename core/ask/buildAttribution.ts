import { usualAttribution, type AttributionQuestion } from '../analyses/attribution/question.js'
import type { EventPick, PropertyRef } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import type { Said, SaidOfCredit } from './said.js'

/**
 * A study of what brought people to what was named.
 * @param usualBy what touches are told apart by where nothing was said
 */
export function buildAttribution(
  said: Said,
  asked: SaidOfCredit,
  picks: readonly EventPick[],
  splits: readonly Split[],
  usualBy: PropertyRef,
): AttributionQuestion | null {
  const goals = picks.filter(({ event }) => 'names' in event).slice(0, 3)
  if (goals.length === 0) return null
  const refs = splits.flatMap(({ by }): PropertyRef[] =>
    by.of === 'event' || by.of === 'source' || by.of === 'person' ? [by] : [],
  )
  const by = refs.find(({ of }) => of !== 'person') ?? usualBy
  const group = refs.find((ref) => ref !== by && ref.of === 'person')
  const usual = usualAttribution('')
  return {
    ...{ ...usual, goals, by },
    ...(said.range ? { range: said.range } : {}),
    ...(asked.models.length > 0 ? { models: asked.models } : {}),
    ...(asked.back ? { lookBack: asked.back } : {}),
    ...(said.first ? { first: true as const } : {}),
    ...(group ? { breakdowns: [{ by: group, keep: said.keep ?? 10 }] } : {}),
  }
}
