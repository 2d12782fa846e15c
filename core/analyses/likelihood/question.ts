import type { EventPick } from '../../questions/parts.js'
import type { Among } from '../people.js'

/** What is looked at although it may know what it could not know: all that is told by an event, or by a profile property. */
export type Kept = { event: string } | { property: string }

export const likelihoodForms = ['quality', 'people', 'features'] as const
export type LikelihoodForm = (typeof likelihoodForms)[number]

/** "How likely is each person to do X in the next 14 days, from their last 28 days?" */
export interface LikelihoodQuestion {
  kind: 'likelihood'
  goal: EventPick
  /** in so many days of 24 hours */
  days: number
  /** what was done in so many days of 24 hours before tells; left out: USUAL_BACK */
  back?: number | undefined
  /** people who had done it before count as well */
  again?: true | undefined
  /** only people who did anything in the days that are looked at */
  lately?: true | undefined
  keep?: Kept[] | undefined
  /** a model that was trained is asked again until somebody has it trained anew; left out: for a day */
  retrain?: 'by hand' | undefined
  among?: Among | undefined
  show: {
    form: LikelihoodForm
    /** where people are parted, as shares from the likeliest on in whole percent, ascending; left out: the likeliest fifth */
    cuts?: number[] | undefined
  }
}

export const USUAL_BACK = 28
export const MOST_DAYS = 180
export const USUAL_CUTS: readonly number[] = [20]
export const MOST_CUTS = 2

export const backOf = ({ back }: Pick<LikelihoodQuestion, 'back'>): number => back ?? USUAL_BACK
export const cutsOf = ({ show }: Pick<LikelihoodQuestion, 'show'>): readonly number[] => show.cuts ?? USUAL_CUTS

export function usualLikelihood(event = ''): LikelihoodQuestion {
  return { kind: 'likelihood', goal: { event: { names: [event] } }, days: 14, show: { form: 'quality' } }
}
