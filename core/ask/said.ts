import type { LookBack, Model } from '../analyses/attribution/question.js'
import type { GrowthState } from '../analyses/growth/question.js'
import type { HabitPeriod } from '../analyses/habit/question.js'
import type { Question } from '../analyses/registry.js'
import type { SessionMeasure } from '../analyses/sessions/question.js'
import type { TrendMeasure } from '../analyses/trend/measures.js'
import type { TrendForm, TrendReading } from '../analyses/trend/question.js'
import type { TimeLimit } from '../questions/limits.js'
import type { Comparison } from '../time/comparison.js'
import type { Range, Unit } from '../time/range.js'

/** What the words say that no name is needed for. */
export interface Said {
  /** the local day on which it is asked */
  today: string
  kind: Question['kind'] | null
  measure: TrendMeasure | null
  days: number | null
  range: Range | null
  /** where it stands in the text */
  rangeAt: number | null
  every: Unit | null
  compare: Comparison | null
  as: TrendReading | null
  form: TrendForm | null
  smooth: number | null
  /** the unit of time that was said with it */
  smoothUnit: Unit | null
  /** counted or summed for each person */
  perPerson: boolean
  keep: number | null
  window: TimeLimit | null
  any: boolean
  /** of a retention: only people's first ever */
  first: boolean
  /** a period of a retention, or so many days of a habit, that is looked at by itself */
  at: number | null
  period: HabitPeriod | null
  state: GrowthState | null
  /** of paths */
  way: 'forward' | 'backward' | 'between' | null
  ofSessions: SaidOfSessions | null
  ofCredit: SaidOfCredit | null
  ofChance: SaidOfChance | null
  /** what is asked of is a part of people, or of what happened */
  shareOf: 'people' | 'events' | null
  /** the drawing of a funnel that was asked for */
  shown: 'time' | 'between' | null
  /** the later event was named first: "X within a day of Y" */
  turned: boolean
  /** by when somebody started */
  byStart: boolean
  /** values named beside each other are groups to compare */
  compares: boolean
  ranked: boolean
  /** as a figure, not over time */
  figure: boolean
  /** what is measured, by what sort of thing it is */
  sort: 'money' | 'duration' | null
  /** people active in so many days over those in so many more */
  ratio: { days: number; ofDays: number } | null
  why: boolean
  /** people themselves are asked for */
  listed: boolean
  /** what has to be said of the reading */
  notes: string[]
}

export const nothingSaid = (today: string): Said => ({
  today,
  ...{
    kind: null,
    measure: null,
    days: null,
    range: null,
    rangeAt: null,
    every: null,
    compare: null,
    as: null,
    form: null,
  },
  ...{ smooth: null, smoothUnit: null, keep: null, window: null, any: false, perPerson: false },
  ...{ first: false, at: null, period: null, state: null, way: null, ofSessions: null, ofCredit: null },
  ...{ ofChance: null, shareOf: null, shown: null, turned: false, byStart: false, compares: false, ranked: false },
  ...{ figure: false, sort: null, ratio: null, why: false, listed: false, notes: [] },
})

/** What is asked of what people are likely to do. */
export interface SaidOfChance {
  /** within so many days */
  days?: number
  again?: true
}

/** What is asked of what brought people. */
export interface SaidOfCredit {
  models: Model[]
  back?: LookBack
}

/** What is asked of sessions. */
export interface SaidOfSessions {
  measure?: SessionMeasure
  /** minutes that a session lasts over */
  over?: number
  ways?: true
  /** at which place of a session something is done, after how many minutes, how often; or where sessions end */
  depth?: 'place' | 'minutes' | 'often' | 'end'
  /** the event that is named begins the session, or ends it */
  from?: 'entry' | 'exit'
}
