import type { CompileContext } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import type { PersonIds } from '../../log/personIds.js'
import type { SparseRows } from '../../stats/logistic.js'
import type { Fault } from '../../questions/faults.js'
import { dayTable, type DayTable } from '../../time/dayTable.js'
import type { QueryContext } from '../analysis.js'
import type { Feature, FeaturePlaces } from './features.js'
import { backOf, type LikelihoodQuestion } from './question.js'
import type { Counts, KeptModel, Out, Told, ToldPiece } from './model.js'

/** People as they were at a moment, a row each, and what they had done in the days before. */
export interface Gathered {
  /** by row: the workspace's number */
  people: Uint32Array
  /** by row: 1 = did it in the days after */
  did: Uint8Array
  /** by row: their first and their last event up to the moment, epoch ms */
  first: Float64Array
  last: Float64Array
  /** of a row, what was done stands from `starts[row]` up to, not including, `starts[row + 1]` */
  starts: Uint32Array
  /** the place of the behaviour, how often, the last time in epoch ms, on how many local days */
  place: Uint16Array
  count: Uint32Array
  latest: Float64Array
  days: Uint16Array
}

/** What a first pass over people needs. */
export interface GatherPlan {
  pass: 'gather'
  goal: PickPlan
  again: boolean
  /** only people who did anything in the days before */
  lately: boolean
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

/** Weights on their way to the bottom. */
export interface Descent {
  /** the fold that is held out; null = none is */
  fold: number | null
  lambda: number
  weights: Float64Array
  /** where it came from, and how high that was: a step that leads up is halved */
  from: { weights: Float64Array; value: number } | null
  steps: number
}

/** First every fold by every strength, then all by the best. */
export interface Fit {
  descents: Descent[]
  /** by strength: the log loss of all who were held out; adds up over the folds */
  held: Float64Array
  /** by fold: the place of the strength it is at; LAMBDAS.length = through */
  at: number[]
  done: { weights: Float64Array; lambda: number } | null
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
    | { pass: 'judge'; sides: Sides; model: KeptModel; places: FeaturePlaces; pieces: ToldPiece[] }
    | { pass: 'score'; sides: Sides; model: KeptModel; since: Told | null; places: FeaturePlaces }
    | {
        pass: 'place' | 'read'
        sides: Sides
        model: KeptModel
        since: Told | null
        scores: Float64Array[]
        /** by person: their place, −1 = they have none; and how many have one */
        placed: { order: Int32Array; people: number } | null
      }
  )

export const DAY = 86_400_000

export function planLikelihood(question: LikelihoodQuestion, context: QueryContext, faults: Fault[]): LikelihoodPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, schema, calendar, ids, late = new Map<number, Uint8Array>(), among } = context
  const backDays = backOf(question)
  const until = now
  const cutOff = now - question.days * DAY
  const kept = (context.model?.(question) ?? null) as KeptModel | null
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
    lately: question.lately === true,
    // One that was trained before is told of those whose time has passed since.
    moments: { cutOff: kept && kept.trainedAt > cutOff ? null : cutOff, until, now },
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
