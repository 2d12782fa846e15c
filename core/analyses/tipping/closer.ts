import { addArrays } from '../../groups/groups.js'
import { slotAt, type EventLog, type PersonRange } from '../../log/log.js'
import type { CloserPlan, TippingPlan } from './plan.js'
import { MOST_TIMES } from './question.js'
import { eachStarter } from './starters.js'

/** The people whose outcome is known by which of the best they reached, all of them and those of each kind. Joins by adding. */
export interface CloserPart {
  pass: 'closer'
  /** by a bit for each of the best: people, and of them those the outcome came for */
  people: Float64Array
  came: Float64Array
  /** by how often the best was done, 0 to MOST_TIMES and more: its masks */
  often: { people: Float64Array; came: Float64Array }
  /** by property, then value × number of masks + mask, then 0 = all, 1 = it came for them */
  kinds: { people: Float64Array; came: Float64Array }[]
}

export function scanCloser(log: EventLog, range: PersonRange, plan: TippingPlan, { top }: CloserPlan): CloserPart {
  const masks = 1 << top.length
  const tally = (size: number) => ({ people: new Float64Array(size), came: new Float64Array(size) })
  const all = tally(masks)
  const kinds = plan.properties.map(({ values }) => tally(values.length * masks))
  const often = tally((MOST_TIMES + 1) * masks)
  const reads = plan.properties.map(({ code }) => valueAtStart(log, code))
  eachStarter(log, range, plan, ({ isOpen, came, counts, person, at }) => {
    if (isOpen) return
    let mask = 0
    for (let i = 0; i < top.length; i++) if (counts[top[i].place] >= top[i].times) mask |= 1 << i
    all.people[mask]++
    if (came) all.came[mask]++
    const times = counts[top[0].place] * masks + mask
    often.people[times]++
    if (came) often.came[times]++
    for (let k = 0; k < kinds.length; k++) {
      const cell = reads[k](person, at) * masks + mask
      kinds[k].people[cell]++
      if (came) kinds[k].came[cell]++
    }
  })
  return { pass: 'closer', ...all, often, kinds }
}

export function mergeCloser(a: CloserPart, b: CloserPart): CloserPart {
  const both = (x: { people: Float64Array; came: Float64Array }, y: { people: Float64Array; came: Float64Array }) => ({
    people: addArrays(x.people, y.people),
    came: addArrays(x.came, y.came),
  })
  return {
    pass: 'closer',
    ...both(a, b),
    ...{ often: both(a.often, b.often), kinds: a.kinds.map((kind, k) => both(kind, b.kinds[k])) },
  }
}

/** Reads the code of a person's value of a property as it was at a moment; 0 = none. */
export function valueAtStart(log: EventLog, property: number): (person: number, at: number) => number {
  const column = log.profiles[property] as EventLog['profiles'][number] | undefined
  const codes = column?.codes
  if (!codes) return () => 0
  const { past } = column
  return past ? (person, at) => codes[slotAt(past, person, at)] : (person) => codes[person]
}
