import type { CompileContext } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import type { PersonIds } from '../../log/personIds.js'
import type { SparseRows } from '../../stats/logistic.js'
import type { Fault } from '../../questions/faults.js'
import { dayTable, type DayTable } from '../../time/dayTable.js'
import type { QueryContext } from '../analysis.js'
import type { Feature, FeaturePlaces } from './features.js'
import type { Fit } from './fit.js'
import type { Gathered } from './gather.js'
import { backOf, type LikelihoodQuestion } from './question.js'
import type { KeptModel } from './model.js'

/** What a first pass over people needs. */
export interface GatherPlan {
  pass: 'gather'
  goal: PickPlan
  again: boolean
  /** epoch ms; without a cut-off people are gathered as of now only */
  moments: { cutOff: number | null; until: number; now: number }
  backMs: number
  days: DayTable
  /** by event type: the place of the behaviour that it is, −1 = none */
  placeOf: Int16Array
  behaviours: number
  among: Uint8Array | null
}

/** What all passes know. */
export interface LikelihoodBase {
  moments: GatherPlan['moments']
  backDays: number
  /** by place of a behaviour */
  names: string[]
  ids: PersonIds
  /** by code of a profile property: whose first value came after the cut-off without a time of its own */
  late: ReadonlyMap<number, Uint8Array>
  /** a model that was trained before, which is asked again */
  kept: KeptModel | null
}

/** People as they were gathered, and of those before: which of five parts they are in, 255 = they are told of. */
export interface Sides {
  before: Gathered[]
  now: Gathered[]
  folds: Uint8Array[]
}

/** Passes over runs of the people gathered, over features, or of one piece of work. */
export type LikelihoodPlan = LikelihoodBase &
  (
    | GatherPlan
    | { pass: 'weigh'; sides: Sides; properties: number[] }
    | { pass: 'spread' | 'apart'; sides: Sides; counts: Counts; features: Feature[]; places: FeaturePlaces }
    | { pass: 'matrix'; sides: Sides; counts: Counts; features: Feature[]; places: FeaturePlaces; out: Out }
    | {
        pass: 'step'
        sides: Sides
        counts: Counts
        features: Feature[]
        places: FeaturePlaces
        out: Out
        rows: SparseRows[]
        fit: Fit
      }
    | { pass: 'tell'; sides: Sides; model: KeptModel; places: FeaturePlaces }
    | { pass: 'score'; sides: Sides; model: KeptModel; places: FeaturePlaces }
    | { pass: 'place' | 'read'; sides: Sides; model: KeptModel; scores: Float64Array[]; order: Float64Array | null }
  )

/** How many people there are to learn from, and to tell it of, and how many of them did it. */
export interface Counts {
  trained: number
  trainedDid: number
  told: number
  toldDid: number
}

/** What is not looked at, and why. */
export interface Out {
  /** tells it nearly alone: the larger of its area under the curve and what is left of 1 */
  leaks: { feature: Feature; auc: number }[]
  /** profile properties of which so many people's first value came after the cut-off */
  late: { property: string; people: number }[]
}

export const DAY = 86_400_000

export function planLikelihood(question: LikelihoodQuestion, context: QueryContext, faults: Fault[]): LikelihoodPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, schema, calendar, ids, late = new Map<number, Uint8Array>(), among } = context
  const backDays = backOf(question)
  const until = now
  const cutOff = now - question.days * DAY
  const kept = context.model?.(question) ?? null
  const places = new Map<string, number>()
  const placeOf = Int16Array.from(schema.types, ({ name }) => {
    const current = schema.currentName(name)
    if (!places.has(current)) places.set(current, places.size)
    return places.get(current)!
  })
  return {
    pass: 'gather',
    goal: planPick(question.goal, compile, ['goal']),
    again: question.again === true,
    moments: { cutOff: kept ? null : cutOff, until, now },
    ...{ backMs: backDays * DAY, backDays },
    days: dayTable(cutOff - backDays * DAY, now + 1, calendar),
    ...{ placeOf, behaviours: places.size, names: [...places.keys()], among },
    ids: ids ?? { text: new Uint16Array(0), starts: new Uint32Array(1) },
    // What is kept on purpose is looked at as if it had been known.
    late: new Map([...late].filter(([code]) => !keeps(question, schema.profile[code].name))),
    kept,
  }
}

const keeps = ({ keep }: LikelihoodQuestion, property: string) =>
  keep?.some((each) => 'property' in each && each.property === property) === true
