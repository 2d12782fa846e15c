import { own } from '../../names.js'
import type { EventPick } from '../../questions/parts.js'
import type { TestEventLike } from '../reference.js'
import { modelId, type AttributionQuestion, type Model } from './question.js'

/** The slow and obvious reading of how credit is shared, for tests: one conversion after another, over lists of events. */
export interface ReferenceEvent extends TestEventLike {
  source?: string
}

export interface ReferenceConversion {
  person: string
  goal: number
  time: number
  worth: number
  /** oldest first */
  touches: { value: string; age: number }[]
}

const DAY = 86_400_000

export function referenceConversions(
  events: readonly ReferenceEvent[],
  question: AttributionQuestion,
  span: { from: number; until: number; now: number },
  sessionMs = 1_800_000,
): { conversions: ReferenceConversion[]; others: { person: string; goal: number; touches: string[] }[] } {
  const conversions: ReferenceConversion[] = []
  const others: { person: string; goal: number; touches: string[] }[] = []
  for (const person of new Set(events.map((event) => event.person))) {
    const all = events
      .map((event, arrival) => ({ ...event, arrival }))
      .filter((event) => event.person === person && event.time <= span.now)
      .sort((a, b) => a.time - b.time || a.arrival - b.arrival)
    let session = 0
    const sessions = all.map(({ time }, i) => (i > 0 && time - all[i - 1].time > sessionMs ? ++session : session))
    const touches = all.flatMap((event, i) => {
      const value = valueOf(event, question)
      return value === null ? [] : [{ value, time: event.time, session: sessions[i] }]
    })
    question.goals.forEach((goal, at) => {
      const hits = all.flatMap((event, i) => (is(event, goal) ? [i] : []))
      const inRange = (question.first ? hits.slice(0, 1) : hits).filter(
        (i) => all[i].time >= span.from && all[i].time < span.until,
      )
      inRange.forEach((i, nth) => {
        const { time } = all[i]
        const before = touches.filter((touch) =>
          question.lookBack.unit === 'day'
            ? touch.time <= time && time - touch.time <= question.lookBack.count * DAY
            : touch.time <= time && touch.session > sessions[i] - question.lookBack.count,
        )
        const number = typeof question.worth === 'object' && own(all[i].properties, nameOf(question.worth.sum))
        conversions.push({
          ...{ person, goal: at, time },
          worth:
            question.worth === undefined
              ? 1
              : question.worth === 'people'
                ? nth === 0
                  ? 1
                  : 0
                : typeof number === 'number'
                  ? number
                  : 0,
          touches: before.map((touch) => ({ value: touch.value, age: time - touch.time })),
        })
      })
      if (inRange.length === 0)
        others.push({
          ...{ person, goal: at },
          touches: touches.filter(({ time }) => time >= span.from && time < span.until).map(({ value }) => value),
        })
    })
  }
  return { conversions, others }
}

const nameOf = (ref: object) => (ref as { name: string }).name

/** The value that a touch has; null = it is none. */
function valueOf(event: ReferenceEvent, { by, touches, leftOut = [] }: AttributionQuestion): string | null {
  if (touches && !is(event, touches)) return null
  const value =
    by.of === 'event name' ? event.event : by.of === 'source' ? event.source : own(event.properties, nameOf(by))
  if (typeof value !== 'string') return null
  return leftOut.some((key) => 'value' in key && key.value === value) ? null : value
}

function is(event: ReferenceEvent, { event: choice }: EventPick): boolean {
  return 'activity' in choice || choice.names.includes(event.event)
}

/** How a model shares one conversion among the values of its touches, as parts of 1. */
export function referenceShares(
  { touches }: Pick<ReferenceConversion, 'touches'>,
  model: Model,
  { direct = [], halfLife = 7 }: Pick<AttributionQuestion, 'direct' | 'halfLife'>,
): ReadonlyMap<string, number> {
  const n = touches.length
  const shares = new Map<string, number>()
  const give = (at: number, part: number) =>
    void shares.set(touches[at].value, (shares.get(touches[at].value) ?? 0) + part)
  if (n === 0) return shares
  const three = (first: number, middle: number, last: number) => {
    if (n === 1) return give(0, 1)
    if (n === 2) {
      const whole = first + last
      give(0, whole === 0 ? 0.5 : first / whole)
      return give(1, whole === 0 ? 0.5 : last / whole)
    }
    touches.forEach((_, i) => give(i, i === 0 ? first : i === n - 1 ? last : middle / (n - 2)))
  }
  switch (modelId(model)) {
    case 'first':
      give(0, 1)
      break
    case 'last':
      give(n - 1, 1)
      break
    case 'last other': {
      const isDirect = ({ value }: { value: string }) => direct.some((key) => 'value' in key && key.value === value)
      const at = touches.map((touch) => !isDirect(touch)).lastIndexOf(true)
      give(at < 0 ? n - 1 : at, 1)
      break
    }
    case 'linear':
      touches.forEach((_, i) => give(i, 1 / n))
      break
    case 'decay': {
      const weights = touches.map(({ age }) => 2 ** (-age / DAY / halfLife))
      const sum = weights.reduce((a, b) => a + b, 0)
      weights.forEach((weight, i) => give(i, weight / sum))
      break
    }
    case 'participation':
      for (const { value } of touches) shares.set(value, 1)
      break
    case '40-20-40':
      three(0.4, 0.2, 0.4)
      break
    case '20-20-60':
      three(0.2, 0.2, 0.6)
      break
    case '60-20-20':
      three(0.6, 0.2, 0.2)
      break
    default:
      if (typeof model === 'object') three(model.own[0] / 100, model.own[1] / 100, model.own[2] / 100)
  }
  return shares
}
