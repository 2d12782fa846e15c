import { sidesKey } from '../../segments/side.js'
import type { TrendPlan } from '../trend/shape.js'
import type { Fault } from '../../questions/faults.js'
import type { QueryContext } from '../analysis.js'
import { nextTrend, planTrend, type TrendPart } from '../trend/plan.js'
import { figureTrend, partsRef, type OverlapQuestion } from './question.js'

export interface OverlapPlan {
  /** by person: the part they are in, as the code of the breakdown by parts; 0 = in none */
  codes: Uint8Array | Uint16Array | Uint32Array
  /** by code: which segments the part lies in, as bits */
  maskOfCode: Uint32Array
  sides: number
  among: Uint8Array | null
  /** epoch ms: who has no event by then is not counted */
  now: number
  /** null where no figure is asked */
  trend: TrendPlan | null
}

/** Joins by adding. */
export interface OverlapPart {
  /** people by which segments they are in, as bits; entry 0 = in none */
  people: Float64Array
  trend: TrendPart | null
}

export function planOverlap(question: OverlapQuestion, context: QueryContext, faults: Fault[]): OverlapPlan {
  const { sides } = question
  const column = context.sides?.get(sidesKey(partsRef(sides)))
  const asked = figureTrend(question)
  const found: Fault[] = []
  const trend = asked && planTrend(asked, context, found)
  // The figure's faults stand where the figure does.
  for (const fault of found)
    faults.push(fault.path[0] === 'series' ? { ...fault, path: ['figure', ...fault.path.slice(2)] } : fault)
  return {
    codes: column?.codes ?? new Uint8Array(0),
    maskOfCode: Uint32Array.from(column?.dictionary.values ?? [], (mask) => Number(mask ?? 0)),
    ...{ sides: sides.length, among: context.among, now: context.now, trend },
  }
}

export function nextOverlap(
  { trend: part }: OverlapPart,
  plan: OverlapPlan,
  question: OverlapQuestion,
  context: QueryContext,
): OverlapPlan | null {
  if (!part || !plan.trend) return null
  const trend = nextTrend(part, plan.trend, figureTrend(question)!, context)
  return trend && { ...plan, trend }
}
