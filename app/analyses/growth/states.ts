import { lastFull } from '../../../core/analyses/growth/lastFull.js'
import type { GrowthResult, GrowthStep } from '../../../core/analyses/growth/finish.js'
import { growthStates, type GrowthQuestion, type GrowthState } from '../../../core/analyses/growth/question.js'
import type { GrowthMark } from '../../../core/analyses/growth/marks.js'
import type { Words } from '../../../core/words/words.js'
import type { BarSeries } from '../../charts/barsConfig.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'

export const STATE_NAMES: Record<GrowthState, string> = {
  new: 'New',
  retained: 'Retained',
  revived: 'Revived',
  lapsed: 'Lapsed',
  idle: 'Idle',
}

/** Places in the palette: kept as water, gains beside it, losses as brick, those away as grey. */
export const STATE_PAINT: Record<GrowthState, BarSeries['paint']> = {
  retained: 0,
  new: 1,
  revived: 2,
  lapsed: 3,
  idle: 7,
}

/** The unit that an interval's key is said by. */
export function keyUnit({ interval }: GrowthQuestion): 'day' | 'week' | 'month' {
  return 'unit' in interval ? interval.unit : 'day'
}

/** `Week of 14 Sep`, `From 14 Sep`. */
export function stepTitle(question: GrowthQuestion, { key, open }: GrowthStep, words: Words): string {
  const title =
    'unit' in question.interval
      ? bucketTitle(key, question.interval.unit, words)
      : `From ${bucketLabel(key, 'day', words)}`
  return open ? `${title}, not over yet` : title
}

/** The interval that flows lead to: the chosen one, else the last that is over. */
export function chosenStep(question: GrowthQuestion, result: GrowthResult): GrowthStep | null {
  const found = result.steps.find(({ key }) => key === question.show.at)
  const step = found ?? lastFull(result)
  return step?.flows ? step : (result.steps.findLast(({ flows, open }) => flows && !open) ?? null)
}

export function markOf(step: GrowthStep, states: GrowthState[], from?: GrowthState | 'unseen'): GrowthMark {
  return { kind: 'state', states, interval: step.key, ...(from ? { from } : {}) }
}

/** What somebody may have been in the interval before. */
export const FROM = [...growthStates, 'unseen'] as const
export const FROM_NAMES: Record<(typeof FROM)[number], string> = { ...STATE_NAMES, unseen: 'Never seen before' }

/** The states of whoever did it in the interval. */
export const ACTIVE: GrowthState[] = ['new', 'retained', 'revived']

/** The place of the interval that groups are told of: the chosen one, else the last that is over, else the last. */
export function shownStep({ show }: GrowthQuestion, { steps }: GrowthResult): number {
  const chosen = steps.findIndex(({ key }) => key === show.at)
  if (chosen >= 0) return chosen
  const full = steps.findLastIndex(({ open }) => !open)
  return full >= 0 ? full : steps.length - 1
}

/** Places of the groups: where one state is looked at, most people in it first; everything else last. */
export function rankedGroups({ show }: GrowthQuestion, { groups }: GrowthResult, at: number): number[] {
  const places = groups.map((_, place) => place)
  if (show.form !== 'one') return places
  const state = show.state ?? 'lapsed'
  const isRest = (place: number) => Number('rest' in groups[place].key)
  const people = (place: number) => groups[place].steps[at].people[state]
  return places.sort((a, b) => isRest(a) - isRest(b) || people(b) - people(a) || a - b)
}
