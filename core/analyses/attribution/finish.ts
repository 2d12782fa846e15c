import type { GroupKey } from '../../questions/parts.js'
import { joinedPieces } from '../../stats/pieces.js'
import { costsIn, type CostsIn } from '../../costs/costs.js'
import { rankedValues } from '../../stats/select.js'
import type { Bucket } from '../../time/buckets.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { drawnIntervals, removalEffects, scaled } from './chain.js'
import { shapleyValues } from './coalition.js'
import { COUNTED, FIGURES, type Credit } from './credit.js'
import type { TouchKey } from './marks.js'
import { PARTS, SIDE, type AttributionPart, type AttributionPlan, type GoalTally } from './plan.js'
import { ageAt, AGES, type AttributionQuestion } from './question.js'

/** Of a group, a bucket, or all together. */
export interface CreditSide {
  /** null = all together, or a bucket */
  key: GroupKey | null
  conversions: number
  /** what they are worth: their number, that of people, or what they carry */
  worth: number
  people: number
  /** of those without a touch */
  noneConversions: number
  none: number
  nonePeople: number
  /** by value, as the result's values stand */
  credit: Credit[]
}

/** A whole path of touches, runs of one value being one. */
export interface TouchWay {
  values: TouchKey[]
  conversions: number
  worth: number
  /** people who converted after it, and people who went it and did not convert */
  people: number
  others: number
}

export interface GoalCredit {
  all: CreditSide
  groups: CreditSide[]
  /** by bucket */
  over: CreditSide[]
  /** conversions by how many touches are found for them: 0 to 9, and more */
  touches: number[]
  /** conversions by the time from the first touch, as AGES has them, and its median, ms */
  ages: number[]
  median: number | null
  /** conversions that are the last touch before themselves */
  self: number
  /** by value: of people who more often begin a way with it than close one, or less often, how many, and that difference squared */
  leaning: { people: number; squares: number }[]
  /** by value, where they are asked for */
  removal: { value: number; low: number; high: number; effect: number }[] | null
  shapley: number[] | null
  /** the commonest paths; null where they are not asked for */
  ways: TouchWay[] | null
  /** how many paths more there are */
  otherWays: number
}

/** What was paid in the time asked about, in the workspace's currency. */
export interface CostOfValues {
  /** by value; null = nothing is recorded of it */
  amounts: (number | null)[]
  /** of values that brought nobody, the most first: of many only some, with how many there are */
  others: { value: string; amount: number }[]
  otherValues: number
  total: number
  /** local days for which nothing is recorded of any value, in runs: of many only the first */
  missing: CostsIn['missing']
  missingDays: number
  days: number
  /** rows of seven days that reach over the edge of the time */
  parts: number
}

export interface AttributionResult {
  kind: 'attribution'
  values: TouchKey[]
  /** by value: it is direct */
  direct: boolean[]
  /** how many values, and groups, stand in everything else */
  restValues: number
  rest: number
  buckets: Bucket[]
  goals: GoalCredit[]
  /** what was paid, where that is asked for */
  cost?: CostOfValues
  /** a real path of the data: values by their place, ms before the conversion */
  example: { goal: number; values: number[]; ages: number[] } | null
}

export const MOST_WAYS = 200

export function finishAttribution(
  part: AttributionPart,
  plan: AttributionPlan,
  question: AttributionQuestion,
  context: QueryContext,
): AttributionResult {
  if (part.pass !== 'count') throw new RangeError('the conversions were not counted')
  const goals = part.goals.map((tally) => goalOf(tally, plan))
  // Those that bring somebody, the most first; of many only the commonest were looked for, in their order.
  const counts = plan.keyed.map((_, place) => sumOf(goals, ({ all }) => all.credit[place].conversions))
  const places = plan.keyed.flatMap((_, place) =>
    counts[place] > 0 || sumOf(goals, (goal) => ofWays(goal, place)) > 0 ? [place] : [],
  )
  if (plan.guess) places.sort((a, b) => counts[b] - counts[a] || a - b)
  const picked = <T>(list: readonly T[]) => places.map((place) => list[place])
  const side = (own: CreditSide): CreditSide => ({ ...own, credit: picked(own.credit) })
  const { example } = part
  return {
    kind: 'attribution',
    values: picked(plan.keyed),
    direct: picked([...plan.direct].map((each) => each === 1)),
    ...{ restValues: plan.restValues, rest: plan.rest, buckets: plan.buckets },
    ...(question.costs && { cost: costOf(picked(plan.keyed), question, context) }),
    goals: goals.map((goal) => ({
      ...goal,
      ...{ all: side(goal.all), groups: goal.groups.map(side), over: goal.over.map(side) },
      leaning: picked(goal.leaning),
      removal: goal.removal && picked(goal.removal),
      shapley: goal.shapley && picked(goal.shapley),
    })),
    example: example && { ...example, values: example.values.map((place) => places.indexOf(place)) },
  }
}

/** Of many values that brought nobody, and of many gaps, so many are told. */
const MOST_OTHERS = 20

function costOf(keys: readonly TouchKey[], question: AttributionQuestion, context: QueryContext): CostOfValues {
  const { amounts, total, missing, parts, days } = costsIn(
    context.costs?.(question.by) ?? [],
    spanOf(question.range, context.now, context.calendar),
  )
  const names = keys.map((key) => ('value' in key && key.value !== null ? String(key.value) : null))
  const out = new Set(question.leftOut?.map((key) => ('value' in key ? String(key.value) : '')))
  // What touches leave out is left out of what they cost as well.
  const others = [...amounts].filter(([value]) => !names.includes(value) && !out.has(value))
  others.sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1))
  const leftOut = [...amounts].reduce((sum, [value, amount]) => (out.has(value) ? sum + amount : sum), 0)
  return {
    amounts: names.map((name) => (name === null ? null : (amounts.get(name) ?? null))),
    others: others.slice(0, MOST_OTHERS).map(([value, amount]) => ({ value, amount })),
    otherValues: others.length,
    total: total - leftOut,
    missing: missing.slice(0, MOST_OTHERS),
    missingDays: missing.reduce((sum, run) => sum + run.days, 0),
    ...{ days, parts },
  }
}

const sumOf = (goals: readonly GoalCredit[], of: (goal: GoalCredit) => number) =>
  goals.reduce((sum, goal) => sum + of(goal), 0)
const ofWays = ({ removal, shapley }: GoalCredit, place: number) =>
  (removal?.[place].value ?? 0) + (shapley?.[place] ?? 0)

function goalOf(tally: GoalTally, plan: AttributionPlan): GoalCredit {
  const values = plan.keyed.length
  const all = plan.keys.length
  const side = (at: number, key: GroupKey | null): CreditSide => {
    const line = Object.fromEntries(SIDE.map((name, i) => [name, tally.sides[at * SIDE.length + i]]))
    return {
      ...(line as Record<(typeof SIDE)[number], number>),
      key,
      credit: Array.from({ length: values }, (_, value) => creditAt(tally.credit, at * values + value)),
    }
  }
  const whole = side(all, null)
  const found = whole.worth - whole.none
  const ages = joinedPieces(tally.firstAges)
  const inAges = new Array<number>(AGES.length + 1).fill(0)
  for (const age of ages) inAges[ageAt(age)]++
  const effects = plan.removal ? removalEffects(tally.chain, values) : null
  const ways = [...tally.ways].filter(([, [conversions]]) => conversions > 0)
  ways.sort(([x, a], [y, b]) => b[0] - a[0] || (x < y ? -1 : 1))
  return {
    all: whole,
    groups: plan.keys.map((key, group) => side(group, key)),
    over: plan.buckets.map((_, bucket) => side(all + 1 + bucket, null)),
    touches: [...tally.touches],
    ages: inAges,
    median: ages.length > 0 ? rankedValues(ages, (ages.length - 1) / 2) : null,
    self: tally.self,
    leaning: Array.from({ length: values }, (_, value) => ({
      people: tally.leaning[value * 2],
      squares: tally.leaning[value * 2 + 1],
    })),
    removal: effects && withIntervals(effects, tally, values, found),
    shapley: plan.shapley
      ? [
          ...scaled(
            shapleyValues(tally.sets, values).map((value) => Math.max(0, value)),
            found,
          ),
        ]
      : null,
    ways: plan.ways
      ? ways.slice(0, MOST_WAYS).map(([key, [conversions, worth, people, others]]) => ({
          ...{ values: key.split(',').map((value) => plan.keyed[Number(value)]), conversions, worth, people, others },
        }))
      : null,
    otherWays: Math.max(0, ways.length - MOST_WAYS),
  }
}

function withIntervals(effects: Float64Array, { draws }: GoalTally, values: number, found: number) {
  const shares = scaled(effects, found)
  const intervals = drawnIntervals(draws, values, found)
  return [...effects].map((effect, value) => ({ effect, value: shares[value], ...intervals[value] }))
}

function creditAt(credit: Float64Array, at: number): Credit {
  return Object.fromEntries(
    FIGURES.map((name, i) => {
      const figure = credit[at * FIGURES.length + i]
      return [name, i < FIGURES.length - COUNTED ? figure / PARTS : figure]
    }),
  ) as Credit
}
