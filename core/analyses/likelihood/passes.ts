import type { EventLog, PersonRange } from '../../log/log.js'
import type { QueryContext } from '../analysis.js'
import {
  apart,
  featuresOf,
  matrix,
  measured,
  mergeWeighed,
  placesOf,
  spread,
  TOLD,
  weigh,
  type ApartPart,
  type MatrixPart,
  type SpreadPart,
  type WeighPart,
} from './columns.js'
import { featureName, type Feature } from './features.js'
import { beginFit, goOn, mergeSteps, step, type StepPart } from './fit.js'
import { gather, mergeGathered, type GatheredPart } from './gather.js'
import type { Counts, KeptModel, Out } from './model.js'
import type { Fit, LikelihoodPlan } from './plan.js'
import type { LikelihoodQuestion } from './question.js'
import { place, score, type PlacePart, type ScorePart } from './score.js'
import { judge, tell, type JudgePart, type TellPart } from './tell.js'

export type LikelihoodPart =
  | GatheredPart
  | WeighPart
  | SpreadPart
  | ApartPart
  | MatrixPart
  | StepPart
  | TellPart
  | JudgePart
  | ScorePart
  | PlacePart

/** Fewer who did it, or who did not, are too few to learn from. */
export const LEAST_EACH = 100
/** What alone tells it better than this is likely to know what came after. */
const LEAK = 0.98
/** Features are tried alone in so many groups. */
const GROUPS = 48

/** The pieces of work of a pass; null = it goes over people. */
export function piecesOf(plan: LikelihoodPlan): number | null {
  switch (plan.pass) {
    case 'gather':
      return null
    case 'weigh':
    case 'spread':
    case 'matrix':
    case 'step':
      return plan.sides.before.length
    case 'apart':
      return Math.max(1, Math.min(GROUPS, plan.places.size))
    case 'tell':
      return plan.sides.before.length
    case 'score':
      return plan.sides.now.length
    case 'judge':
    case 'place':
    case 'read':
      return 1
  }
}

export function scanLikelihood(log: EventLog, people: PersonRange, plan: LikelihoodPlan): LikelihoodPart {
  const piece = people.from
  switch (plan.pass) {
    case 'gather':
      return gather(log, people, plan)
    case 'weigh':
      return weigh(log, piece, plan)
    case 'spread':
      return spread(log, piece, plan)
    case 'apart':
      return apart(log, piece, piecesOf(plan)!, plan)
    case 'matrix':
      return matrix(log, piece, plan)
    case 'step':
      return step(piece, plan)
    case 'tell':
      return tell(log, piece, plan)
    case 'judge':
      return judge(plan)
    case 'score':
      return score(log, piece, plan)
    case 'place':
    case 'read':
      return place(plan)
  }
}

export function mergeLikelihood(a: LikelihoodPart, b: LikelihoodPart): LikelihoodPart {
  if (a.pass === 'gather' && b.pass === 'gather') return mergeGathered(a, b)
  if (a.pass === 'weigh' && b.pass === 'weigh') return mergeWeighed(a, b)
  if (a.pass === 'spread' && b.pass === 'spread')
    return {
      pass: 'spread',
      sums: a.sums.map((sum, column) => sum + b.sums[column]),
      squares: a.squares.map((sum, column) => sum + b.squares[column]),
    }
  if (a.pass === 'apart' && b.pass === 'apart') return { pass: 'apart', aucs: [...a.aucs, ...b.aucs] }
  if (a.pass === 'matrix' && b.pass === 'matrix') return { pass: 'matrix', rows: [...a.rows, ...b.rows] }
  if (a.pass === 'step' && b.pass === 'step') return mergeSteps(a, b)
  if (a.pass === 'tell' && b.pass === 'tell') return { pass: 'tell', pieces: [...a.pieces, ...b.pieces] }
  if (a.pass === 'score' && b.pass === 'score') return { pass: 'score', scores: [...a.scores, ...b.scores] }
  throw new RangeError(`a part of ${a.pass} does not join one of ${b.pass}`)
}

export function nextLikelihood(
  part: LikelihoodPart,
  plan: LikelihoodPlan,
  question: LikelihoodQuestion,
  context: QueryContext,
): LikelihoodPlan | null {
  const { schema } = context
  const { moments, backDays, names, ids, late, kept } = plan
  const base = { moments, backDays, names, ids, late, kept }
  if (part.pass === 'gather') {
    const sides = { before: part.before, now: part.now, folds: [] }
    if (kept) {
      const places = placesOf(kept.features, names, schema)
      if (part.before.length === 0) return { ...base, pass: 'score', sides, model: kept, since: null, places }
      const folds = part.before.map(({ people }) => new Uint8Array(people.length).fill(TOLD))
      return { ...base, pass: 'tell', sides: { ...sides, folds }, model: kept, places }
    }
    if (part.before.length === 0) return null
    return { ...base, pass: 'weigh', sides, properties: schema.profile.map((_, code) => code) }
  }
  if (part.pass === 'weigh' && plan.pass === 'weigh') {
    const { counts } = part
    if (isTooFew(counts)) return null
    const features = featuresOf(part, plan, schema)
    const sides = { ...plan.sides, folds: part.folds }
    return { ...base, pass: 'spread', sides, counts, features, places: placesOf(features, names, schema) }
  }
  if (part.pass === 'spread' && plan.pass === 'spread') {
    const features = measured(plan.features, part, plan.counts.trained)
    const { sides, counts } = plan
    return { ...base, pass: 'apart', sides, counts, features, places: placesOf(features, names, schema) }
  }
  if (part.pass === 'apart' && plan.pass === 'apart') {
    const { sides, counts } = plan
    const out = outOf(part, plan.features, question, context, plan)
    const leaks = new Set(out.leaks.map(({ feature }) => feature))
    const features = plan.features.filter((feature) => !leaks.has(feature))
    return { ...base, pass: 'matrix', sides, counts, features, places: placesOf(features, names, schema), out }
  }
  if (part.pass === 'matrix' && plan.pass === 'matrix') {
    const { sides, counts, features, places, out } = plan
    return {
      ...base,
      pass: 'step',
      sides,
      counts,
      features,
      places,
      out,
      rows: part.rows,
      fit: beginFit(features.length),
    }
  }
  if (part.pass === 'step' && plan.pass === 'step') {
    const fit = goOn(plan.fit, part)
    if (!fit.done) return { ...plan, fit }
    const { sides, places } = plan
    return { ...base, pass: 'tell', sides, places, model: modelOf(plan, fit.done) }
  }
  if (part.pass === 'tell' && plan.pass === 'tell') return { ...plan, pass: 'judge', pieces: part.pieces }
  if (part.pass === 'judge' && plan.pass === 'judge') {
    const { sides, model, places } = plan
    if (kept) return { ...base, pass: 'score', sides, places, model, since: part.told }
    return { ...base, pass: 'score', sides, places, model: { ...model, told: part.told }, since: null }
  }
  if (part.pass === 'score' && plan.pass === 'score')
    return { ...plan, pass: 'place', scores: part.scores, placed: null }
  // Only to read people from: the picture needs nobody's place.
  if (part.pass === 'place' && plan.pass === 'place' && context.wanted)
    return { ...plan, pass: 'read', placed: { order: part.order, people: part.people } }
  return null
}

export const isTooFew = ({ trained, trainedDid }: Counts): boolean =>
  trainedDid < LEAST_EACH || trained - trainedDid < LEAST_EACH

function outOf(
  { aucs }: ApartPart,
  features: readonly Feature[],
  { keep = [] }: LikelihoodQuestion,
  { schema }: QueryContext,
  { sides, late }: LikelihoodPlan & { pass: 'spread' | 'apart' },
): Out {
  const kept = new Set(keep.map((each) => JSON.stringify(each)))
  return {
    leaks: aucs
      .filter(({ auc }) => auc > LEAK)
      .map(({ column, auc }) => ({ feature: features[column], auc }))
      .filter(({ feature }) => !kept.has(JSON.stringify(featureName(feature))))
      .sort((a, b) => b.auc - a.auc),
    late: [...late].flatMap(([code, people]) => {
      const many = sides.before.reduce((n, rows) => n + rows.people.filter((person) => people[person] === 1).length, 0)
      // Dates are not looked at anyway.
      return many > 0 && !schema.profile[code].dated ? [{ property: schema.profile[code].name, people: many }] : []
    }),
  }
}

function modelOf(
  plan: Extract<LikelihoodPlan, { pass: 'step' }>,
  { weights, lambda }: NonNullable<Fit['done']>,
): KeptModel {
  const { features, moments, counts, out } = plan
  return {
    cutOff: moments.cutOff!,
    trainedAt: moments.now,
    counts,
    features: features.map((feature, column) => ({ ...feature, weight: weights[column] })),
    intercept: weights[features.length],
    ...{ lambda, out },
    told: {
      ...{ people: 0, did: 0, auc: null, byLast: null, brier: 0, brierOfRate: 0 },
      ...{ tenths: [], caught: [], groups: [] },
    },
  }
}
