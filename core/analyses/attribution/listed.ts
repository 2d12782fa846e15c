import type { EventLog, PersonRange } from '../../log/log.js'
import { Growing, type Pieces } from '../../stats/pieces.js'
import { groupId } from '../../questions/groupId.js'
import { STEP, type Steps } from '../../steps.js'
import type { AttributionMark, TouchKey } from './marks.js'
import type { AttributionPlan } from './plan.js'
import { modelOfMarks } from './listedWords.js'
import { isOfAll } from './question.js'
import { creditedTouches, testsOf, valueReader, worthReader } from './scan.js'
import { eachTouched } from './walk.js'

/** What is told of each conversion before its touches, number after number. */
const HEAD = [
  /** the workspace's number of the person, the arrival number of the event, and epoch ms of it */
  ...(['person', 'event', 'at'] as const),
  /** what it is worth, and how much of that is credited to what is asked about */
  ...(['worth', 'credit'] as const),
  'touches',
] as const
const WIDTH = HEAD.length
/** Of each touch: its value's place, epoch ms, and the share of what the conversion is worth. */
const TOUCH = 3

/** A conversion as a list tells of it. */
export interface ListedConversion {
  person: number
  /** arrival number of its event */
  event: number
  /** epoch ms */
  at: number
  worth: number
  /** what of it is credited to the values asked about, by the model; null = the model is worked out from all ways at once */
  credit: number | null
  /** oldest first, with what each earned; null where the model does not say */
  touches: { key: TouchKey; at: number; credit: number | null }[]
}

/** The conversions counted in any of the marks, each once, in order of people, each with all touches that are found for it. */
export function listConversions(
  log: EventLog,
  people: PersonRange,
  plan: AttributionPlan,
  marks: readonly AttributionMark[],
): Pieces {
  const tests = testsOf(log, plan, marks)
  const model = modelOfMarks(marks, plan.lead)
  const asked = new Set(
    marks.flatMap((mark) => (mark.kind === 'credit' && mark.value !== undefined ? [groupId(mark.value)] : [])),
  )
  const isAsked = plan.keyed.map((key) => asked.has(groupId(key)))
  const worthOf = worthReader(log, plan)
  const found = new Growing()
  // Of people it is the first conversion asked about that counts, whether the marks hold it or not.
  const last = plan.goals.map(() => -1)
  eachTouched(log, people, plan, valueReader(log, plan), {
    conversion(goal, row, touches, from, to) {
      const { person } = touches
      const worth = plan.people ? (last[goal] === person ? 0 : 1) : worthOf(row, person)
      last[goal] = person
      if (!tests.some((each) => each.goal === goal && each.test(row, touches, from, to))) return
      const at = log.time[row]
      const shares = creditedTouches(plan, model, at, touches, from, to)
      let credit = 0
      if (asked.size === 0) credit = 1
      else for (let i = from; i < to; i++) if (isAsked[touches.values[i]]) credit += shares[i - from]
      found.push(person)
      found.push(log.arrival[row])
      found.push(at)
      found.push(worth)
      found.push(credit * worth)
      found.push(to - from)
      for (let i = from; i < to; i++) {
        found.push(touches.values[i])
        found.push(touches.times[i])
        found.push(shares[i - from] * worth)
      }
    },
  })
  return [found.done()]
}

/** Where each conversion begins, of how many people they are, and all that is credited. */
export interface ConversionList {
  list: Float64Array
  starts: Uint32Array
  people: number
  worth: number
  credit: number | null
  /** by the place of a value */
  keyed: readonly TouchKey[]
}

export function* conversionList(
  list: Float64Array,
  plan: AttributionPlan,
  marks: readonly AttributionMark[],
): Steps<ConversionList> {
  const starts: number[] = []
  let [people, worth, credit] = [0, 0, 0]
  for (let at = 0, before = -1; at < list.length;) {
    if (list[at] !== before) people++
    before = list[at]
    worth += list[at + 3]
    credit += list[at + 4]
    starts.push(at)
    at += WIDTH + list[at + 5] * TOUCH
    if (starts.length % STEP === 0) yield
  }
  const isShared = !isOfAll(modelOfMarks(marks, plan.lead))
  return {
    ...{ list, starts: Uint32Array.from(starts), people, worth },
    ...{ credit: isShared ? credit : null, keyed: plan.keyed },
  }
}

export function conversionAt({ list, starts, credit: all, keyed }: ConversionList, place: number): ListedConversion {
  const from = starts[place]
  const [person, event, at, worth, credit, many] = list.subarray(from, from + WIDTH)
  const touches = Array.from({ length: many }, (_, i) => {
    const [value, time, share] = list.subarray(from + WIDTH + i * TOUCH, from + WIDTH + (i + 1) * TOUCH)
    return { key: keyed[value], at: time, credit: all === null ? null : share }
  })
  return { person, event, at, worth, credit: all === null ? null : credit, touches }
}
