import type { GroupKey } from '../../questions/parts.js'
import { compare, type Compared } from '../../stats/compared.js'
import { smallestGain } from '../../stats/power.js'
import { benjaminiHochberg, holm, wilson, type Interval } from '../../stats/proportion.js'
import type { QueryContext } from '../analysis.js'
import type { EffectPlan } from './plan.js'
import type { EffectQuestion } from './question.js'
import { FIGURES, figureIn, figuresOf, type EffectCounts, type EffectPart, type Figure } from './scan.js'

/** One variant, or those left alone: people, but for `later`, which counts entries. */
export interface EffectRow extends Record<Figure, number> {
  /** null = left alone */
  name: string | null
  /** people whose time is not over yet */
  open: number
  /** goal of counted, and its 95 % interval (Wilson); null where nobody is counted */
  rate: number | null
  interval: Interval | null
}

/** What variants bring against those left alone. */
export interface Effect extends Compared {
  /** the smallest gain that so many people would have shown, in points of 1; null where none could be */
  smallest: number | null
  /** too few to say anything: under 30 in either, or under 10 who did or did not */
  few: boolean
}

/** Of everybody, or of one group. */
export interface EffectFigures {
  /** by variant, in order; those left alone last, where anybody is to be */
  rows: EffectRow[]
  /** all variants together; null where nobody was left alone, or nobody is counted yet */
  effect: Effect | null
  /** of each variant, p adjusted by Holm; null for all where the split moves */
  effects: (Effect | null)[]
}

export interface EffectGroup extends EffectFigures {
  key: GroupKey
}

export interface EffectResult extends EffectFigures {
  kind: 'effect'
  /** by the day people came in: of each row, those whose time is over and those of them who did it */
  days: string[]
  byDay: { counted: number[]; goals: number[] }[]
  /** their effects' p is adjusted over all of them (Benjamini–Hochberg) */
  groups: EffectGroup[]
  rest: number
  /** people whose first entry is of a variant that was not named */
  unknown: number
}

/** So many people in each, and of them so many who did it and who did not, before anything is said. */
const LEAST = 30
const LEAST_EITHER = 10

export function finishEffect(
  part: EffectPart,
  plan: EffectPlan,
  question: EffectQuestion,
  _context: QueryContext,
): EffectResult {
  if (part.pass !== 'count') throw new RangeError('what it brought was not counted')
  const everybody = plan.keys.length
  const groups = plan.keys.map((key, group) => ({ key, ...figures(part, plan, question, group) }))
  const tested = groups.flatMap(({ effect }, i) => (typeof effect?.p === 'number' ? [i] : []))
  const ps = benjaminiHochberg(tested.map((i) => groups[i].effect!.p!))
  tested.forEach((group, i) => (groups[group].effect = { ...groups[group].effect!, p: ps[i] }))
  const many = plan.days.length
  const shown = question.nobodyAlone ? question.variants.length : plan.variants.length
  return {
    kind: 'effect',
    ...figures(part, plan, question, everybody),
    days: plan.days,
    byDay: Array.from({ length: shown }, (_, variant) => ({
      counted: [...part.counted.subarray(variant * many, (variant + 1) * many)],
      goals: [...part.goals.subarray(variant * many, (variant + 1) * many)],
    })),
    ...{ groups, rest: plan.rest, unknown: part.unknown },
  }
}

function figures(part: EffectCounts, plan: EffectPlan, question: EffectQuestion, group: number): EffectFigures {
  const rowOf = (variant: number): EffectRow => {
    const own = figuresOf(part, plan, group, variant)
    const all = Object.fromEntries(FIGURES.map((name) => [name, figureIn(own, name)])) as Record<Figure, number>
    return {
      ...{ name: plan.names[variant] ?? null, ...all, open: all.entered - all.counted },
      rate: all.counted > 0 ? all.goal / all.counted : null,
      interval: wilson(all.goal, all.counted),
    }
  }
  const variants = plan.names.map((_name, place) => rowOf(place))
  const alone = rowOf(plan.names.length)
  if (question.nobodyAlone) return { rows: variants, effect: null, effects: variants.map(() => null) }
  const sum = (figure: Figure) => variants.reduce((total, row) => total + row[figure], 0)
  const effect = effectOf(sum('goal'), sum('counted'), alone)
  const single = variants.map(({ goal, counted }) => (question.moving ? null : effectOf(goal, counted, alone)))
  const tested = single.flatMap((each, i) => (typeof each?.p === 'number' ? [i] : []))
  const ps = holm(tested.map((i) => single[i]!.p!))
  return {
    rows: [...variants, alone],
    effect,
    effects: single.map((each, i) => {
      const place = tested.indexOf(i)
      return each && place >= 0 ? { ...each, p: ps[place] } : each
    }),
  }
}

function effectOf(goal: number, counted: number, alone: EffectRow): Effect | null {
  const compared = compare({ part: goal, whole: counted }, { part: alone.goal, whole: alone.counted })
  if (!compared) return null
  const { own, other } = compared
  const isFew = [own, other].some(
    ({ part, whole }) => whole < LEAST || part < LEAST_EITHER || whole - part < LEAST_EITHER,
  )
  return { ...compared, smallest: smallestGain(other.part / other.whole, other.whole, own.whole), few: isFew }
}
