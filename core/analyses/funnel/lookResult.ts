import { featureId } from './featureId.js'
import type { FunnelPlan, LookPlan } from './shape.js'
import type { Schema } from '../../log/schema.js'
import { differenceInterval } from '../../stats/difference.js'
import { benjaminiHochberg, twoProportions, type Interval } from '../../stats/proportion.js'
import { MOST_VALUES, type LookTally } from './look.js'
import { showOf, type Feature, type FunnelQuestion } from './question.js'

/** What the lost did afterwards. */
export interface AfterResult {
  form: 'after'
  step: number
  /** lost there for good */
  people: number
  nothing: number
  /** by people, the most first */
  events: { event: string; people: number; way: WayTo | null }[]
}

/** The commonest way from the last step to an event, that event included. */
export interface WayTo {
  events: string[]
  /** it began with others still */
  cut: boolean
  people: number
}

/** What goes with getting through. */
export interface ApartResult {
  form: 'apart'
  through: number
  lost: number
  features: ApartFeature[]
  /** left out because it goes along with a step, or by hand; an event takes its values with it */
  leftOut: { feature: Feature; why: { step: number } | 'by hand' }[]
  /** how many had too few people to be told */
  few: number
}

export interface ApartFeature {
  feature: Feature
  /** how many of those who got through did it, and of those lost */
  through: number
  lost: number
  /** absolute phi coefficient of the 2×2 table of people, with its sign */
  phi: number
  /** null = a gap: a cell is 0 */
  odds: number | null
  /** of the share of those who got through less that of the lost */
  interval: Interval | null
  /** adjusted by Benjamini–Hochberg over all that are told */
  p: number
}

/** What lies between the start and the end. */
export interface BetweenResult {
  form: 'between'
  /** who got through */
  people: number
  /** in the order in which they usually come */
  events: { event: string; people: number; place: number }[]
  sequences: { events: string[]; people: number }[]
}

export type LookResult = AfterResult | ApartResult | BetweenResult

/** Fewer people than this are not told of. */
export const LEAST_PEOPLE = 10
const MOST_ROWS = 60

export function finishLook(
  tally: LookTally,
  look: LookPlan,
  plan: FunnelPlan,
  question: FunnelQuestion,
  schema: Schema,
): LookResult {
  const nameOf = (type: number) => schema.types[type].name
  if (tally.form === 'after') {
    const best = new Map<number, WayTo>()
    for (const [key, people] of tally.ways) {
      const cut = key.startsWith('…')
      const types = (cut ? key.slice(2) : key).split(',').map(Number)
      const had = best.get(types.at(-1)!)
      if (!had || people > had.people) best.set(types.at(-1)!, { events: types.map(nameOf), cut, people })
    }
    const events = [...tally.did.entries()]
      .filter(([, people]) => people > 0)
      .map(([type, people]) => ({ event: nameOf(type), people, way: best.get(type) ?? null }))
      .sort((a, b) => b.people - a.people || (a.event < b.event ? -1 : 1))
    const { people, nothing } = tally
    return { form: 'after', step: look.form === 'after' ? look.step : 0, people, nothing, events }
  }
  if (tally.form === 'between') {
    const events = [...tally.did.entries()]
      .filter(([, people]) => people > 0)
      .map(([type, people]) => ({ event: nameOf(type), people, place: tally.place[type] / people }))
      .sort((a, b) => b.people - a.people)
      .slice(0, 20)
      .sort((a, b) => a.place - b.place)
    const sequences = [...tally.ways]
      .map(([key, people]) => ({
        events: key === '' ? [] : key.split(',').map((type) => nameOf(Number(type))),
        people,
      }))
      .sort((a, b) => b.people - a.people || (a.events.join() < b.events.join() ? -1 : 1))
      .slice(0, 20)
    return { form: 'between', people: tally.people, events, sequences }
  }
  return apartOf(tally, look as LookPlan & { form: 'apart' }, plan, question, nameOf)
}

function apartOf(
  { people, features, counts }: LookTally & { form: 'apart' },
  look: LookPlan & { form: 'apart' },
  plan: FunnelPlan,
  question: FunnelQuestion,
  nameOf: (type: number) => string,
): ApartResult {
  const depths = people.length
  const through = people[depths - 1]
  const lost = people.reduce((sum, x) => sum + x, 0) - through
  const show = showOf(question)
  const asked = show.form === 'apart' ? show : { form: 'apart' as const }
  const without = new Set((asked.without ?? []).map(featureId))
  const brought = new Set((asked.with ?? []).map(featureId))
  const columnOf = new Map(look.columns.map((column) => [column.base, column]))
  const bases = [...columnOf.keys()].sort((a, b) => a - b)
  const featureOf = (id: number): Feature | null => {
    if (id < look.counts.length) return { event: nameOf(id) }
    let low = 0
    let high = bases.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (bases[middle] <= id) low = middle
      else high = middle - 1
    }
    const column = columnOf.get(bases[low])!
    const value = column.values[id - column.base]
    if (value === null || typeof value === 'object') return null
    return { event: nameOf(look.counts[column.type]), property: column.name, value: value as string | boolean }
  }
  const leftOut: ApartResult['leftOut'] = []
  const gone = new Set<string>()
  const told: Omit<ApartFeature, 'p'>[] = []
  const ps: number[] = []
  let few = 0
  features.forEach((id, i) => {
    const own = counts.subarray(i * depths, (i + 1) * depths)
    const feature = featureOf(id)
    if (!feature) return
    const did = { through: own[depths - 1], all: own.reduce((sum, x) => sum + x, 0) }
    if (did.all < LEAST_PEOPLE) {
      few++
      return
    }
    const key = featureId(feature)
    // Events come before their values: what an event is left out for holds for them as well.
    if (feature.property !== undefined && gone.has(feature.event)) return
    const leave = (why: ApartResult['leftOut'][number]['why']) => {
      leftOut.push({ feature, why })
      if (feature.property === undefined) gone.add(feature.event)
    }
    if (without.has(key)) {
      leave('by hand')
      return
    }
    const step = brought.has(key) ? null : alongWith(own, people)
    if (step !== null) {
      leave({ step: plan.required[step] })
      return
    }
    const [a, b] = [did.through, did.all - did.through]
    const [c, d] = [through - a, lost - b]
    const size = Math.sqrt((a + b) * (c + d) * (a + c) * (b + d))
    const test = twoProportions({ part: a, whole: through }, { part: b, whole: lost })
    told.push({
      ...{ feature, through: a, lost: b, phi: size > 0 ? (a * d - b * c) / size : 0 },
      odds: a > 0 && b > 0 && c > 0 && d > 0 ? (a * d) / (b * c) : null,
      interval: differenceInterval({ part: a, whole: through }, { part: b, whole: lost }),
    })
    ps.push(test?.p ?? 1)
  })
  const adjusted = benjaminiHochberg(ps)
  const ranked = told
    .map((row, i) => ({ ...row, p: adjusted[i] }))
    .sort((x, y) => Math.abs(y.phi) - Math.abs(x.phi) || (featureId(x.feature) < featureId(y.feature) ? -1 : 1))
  return { form: 'apart', through, lost, features: ranked.slice(0, MOST_ROWS), leftOut, few }
}

/**
 * Whether a feature only says that a later step was filled: nearly all who filled it have it, and nearly nobody else.
 * @returns the place of the step among the required ones; null where it does not
 */
function alongWith(own: Float64Array, people: Float64Array): number | null {
  for (let step = 1; step < people.length; step++) {
    const sum = (values: Float64Array, from: number, to: number) =>
      values.subarray(from, to).reduce((total, x) => total + x, 0)
    const [reached, others] = [sum(people, step, people.length), sum(people, 0, step)]
    if (reached === 0 || others === 0) continue
    if (sum(own, step, own.length) / reached >= 0.95 && sum(own, 0, step) / others <= 0.05) return step
  }
  return null
}

/** How many different values a property may have to be looked through, for those who read the result. */
export const VALUES_LOOKED_AT = MOST_VALUES
