import type { EventLog, PersonRange } from '../../log/log.js'
import { addArrays } from '../../groups/groups.js'
import { mergeCloser, scanCloser, valueAtStart, type CloserPart } from './closer.js'
import type { TippingMark } from './marks.js'
import type { TippingPlan } from './plan.js'
import { doneKey, MOST_TIMES, type Done } from './question.js'
import { eachStarter, starters, type Starter } from './starters.js'

/** People by what they did early and what came of it. Joins by adding. */
export interface CountsPart {
  pass: 'counts'
  /** people whose outcome can be known, and of them those it came for */
  base: number
  came: number
  /** who started in the range, but for whom it is not over */
  open: number
  /** by place × WIDTH + count − 1: people who did it just so often, and of them those the outcome came for */
  people: Float64Array
  with: Float64Array
  /** whose first days are not over, and by place × WIDTH + count − 1 those of them who have done it just so often by now */
  left: number
  sofar: Float64Array
}

export type TippingPart = CountsPart | CloserPart

export function scanTipping(log: EventLog, people: PersonRange, plan: TippingPlan): TippingPart {
  return plan.closer ? scanCloser(log, people, plan, plan.closer) : scanCounts(log, people, plan)
}

function scanCounts(log: EventLog, people: PersonRange, plan: TippingPlan): CountsPart {
  const size = plan.behaviours.length * MOST_TIMES
  const sums = () => new Float64Array(size)
  const part: CountsPart = {
    ...{ pass: 'counts', base: 0, came: 0, open: 0, left: 0 },
    ...{ people: sums(), with: sums(), sofar: sums() },
  }
  const { people: all, with: reached, sofar } = part
  eachStarter(log, people, plan, ({ isOpen, hasLeft, came, counts, met, metCount }) => {
    if (isOpen) {
      part.open++
      if (!hasLeft) return
      part.left++
      for (let i = 0; i < metCount; i++) sofar[met[i] * MOST_TIMES + counts[met[i]] - 1]++
      return
    }
    part.base++
    if (came) part.came++
    for (let i = 0; i < metCount; i++) {
      const at = met[i] * MOST_TIMES + counts[met[i]] - 1
      all[at]++
      if (came) reached[at]++
    }
  })
  return part
}

export function mergeTipping(a: TippingPart, b: TippingPart): TippingPart {
  if (a.pass === 'closer' && b.pass === 'closer') return mergeCloser(a, b)
  if (a.pass !== 'counts' || b.pass !== 'counts')
    throw new RangeError(`a part of ${a.pass} does not join one of ${b.pass}`)
  return {
    ...{ pass: 'counts', base: a.base + b.base, came: a.came + b.came, open: a.open + b.open, left: a.left + b.left },
    ...{ people: addArrays(a.people, b.people), with: addArrays(a.with, b.with), sofar: addArrays(a.sofar, b.sofar) },
  }
}

/** Whether somebody is counted in a mark. */
function testOf(log: EventLog, plan: TippingPlan, mark: TippingMark): (starter: Starter) => boolean {
  const { event, also, of, left, outcome } = mark
  const placeOf = (done: Done) => plan.behaviours.findIndex((each) => doneKey(each) === doneKey(done))
  const place = event === undefined ? -1 : placeOf({ ...mark, event })
  const second = also ? placeOf(also) : -1
  const isReached = (counts: Uint8Array, at: number, many: Pick<TippingMark, 'times' | 'exactly' | 'not'>) => {
    const count = at < 0 ? 0 : counts[at]
    const holds = many.exactly !== undefined ? count === many.exactly : count >= (many.times ?? 1)
    return holds !== (many.not === true)
  }
  const holdsOf = of ? valueTest(log, plan, of) : null
  return (starter) => {
    const { isOpen, hasLeft, came, counts } = starter
    if (left ? !hasLeft : isOpen) return false
    if (outcome !== undefined && came !== (outcome === 'came')) return false
    if (holdsOf && !holdsOf(starter)) return false
    if (also && !isReached(counts, second, also)) return false
    return event === undefined || isReached(counts, place, mark)
  }
}

function valueTest(
  log: EventLog,
  { properties }: TippingPlan,
  { property, value }: NonNullable<TippingMark['of']>,
): (starter: Starter) => boolean {
  const known = properties.find(({ name }) => name === property.name)
  if (!known) return () => false
  const code = value === null ? 0 : known.values.indexOf(value)
  const read = valueAtStart(log, known.code)
  return ({ person, at }) => code >= 0 && read(person, at) === code
}

/** The people counted in any of the marks, ascending by the workspace's number. */
export function selectTipping(
  log: EventLog,
  people: PersonRange,
  plan: TippingPlan,
  marks: readonly TippingMark[],
): Uint32Array {
  const tests = marks.map((mark) => testOf(log, plan, mark))
  const found: number[] = []
  eachStarter(log, people, plan, (starter) => {
    if (tests.some((holds) => holds(starter))) found.push(starter.person)
  })
  return Uint32Array.from(found).sort()
}

/** The start of somebody who is counted in a mark. */
export function momentOfTipping(
  log: EventLog,
  index: number,
  plan: TippingPlan,
  marks: readonly TippingMark[],
): number | null {
  const starter = starters(log, plan)(index, log.person[index])
  return starter && marks.some((mark) => testOf(log, plan, mark)(starter)) ? starter.row : null
}
