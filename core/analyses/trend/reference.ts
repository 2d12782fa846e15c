import type { TestEventLike } from '../reference.js'
import { percentileOf, type TrendMeasure } from './measures.js'

export interface ReferenceQuestion {
  measure: TrendMeasure
  /** the value of the measure's property */
  valueOf(event: TestEventLike): unknown
  matches(event: TestEventLike): boolean
  /** what counts as activity */
  isActive(event: TestEventLike): boolean
  sessionMs: number
  now: number
}

/**
 * One figure as the definition reads (how numbers are counted, 5): every event is looked at anew for it.
 * @param span     the bucket or range, cut to the range; [from, until)
 * @param window   the days that *people in the last days* looks at; [from, until)
 * @param inGroup  whether an event is of the group; the share's denominator does not ask
 * @returns null for a gap
 */
export function referenceFigure(
  events: readonly TestEventLike[],
  question: ReferenceQuestion,
  span: { from: number; until: number },
  window: { from: number; until: number },
  inGroup: (event: TestEventLike) => boolean,
): { figure: number | null; people: string[] } {
  const { measure, matches, valueOf } = question
  const within = ({ from, until }: { from: number; until: number }) =>
    events.filter((event) => event.time >= from && event.time < until && event.time <= question.now)
  const matching = (list: readonly TestEventLike[]) => list.filter((event) => matches(event) && inGroup(event))
  const found = matching(
    within(
      measure === 'people so far'
        ? { ...span, from: -Infinity }
        : measure === 'people in the last days'
          ? window
          : span,
    ),
  )
  const people = peopleOf(found)
  const numbers = found.map(valueOf).filter((value) => typeof value === 'number')
  const over = (a: number, b: number) => (b === 0 ? null : a / b)
  const sum = numbers.reduce((total, x) => total + x, 0)
  const q = percentileOf(measure)
  if (q !== null) return { figure: percentile(numbers, q), people }
  switch (measure) {
    case 'events':
      return { figure: found.length, people }
    case 'events per person':
      return { figure: over(found.length, people.length), people }
    case 'share of active people':
      return { figure: over(people.length, peopleOf(within(span).filter(question.isActive)).length), people }
    case 'sum':
      return { figure: sum, people }
    case 'average':
      return { figure: over(sum, numbers.length), people }
    case 'minimum':
      return { figure: numbers.length > 0 ? Math.min(...numbers) : null, people }
    case 'maximum':
      return { figure: numbers.length > 0 ? Math.max(...numbers) : null, people }
    case 'per person':
      return { figure: over(sum, peopleOf(found.filter((event) => typeof valueOf(event) === 'number')).length), people }
    case 'distinct values':
      return {
        figure: new Set(found.flatMap((event) => valueOf(event) ?? []).map((x) => JSON.stringify(x))).size,
        people,
      }
    case 'sessions': {
      const sessions = sessionsOf(events, question).filter(
        (session) => session[0].time >= span.from && session[0].time < span.until && matching(session).length > 0,
      )
      return { figure: sessions.length, people: peopleOf(sessions.map(([first]) => first)) }
    }
    default:
      return { figure: people.length, people }
  }
}

function peopleOf(events: readonly TestEventLike[]): string[] {
  return [...new Set(events.map(({ person }) => person))].sort()
}

function percentile(numbers: readonly number[], q: number): number | null {
  const sorted = [...numbers].sort((a, b) => a - b)
  if (sorted.length === 0) return null
  const rank = q * (sorted.length - 1)
  const [low, high] = [sorted[Math.floor(rank)], sorted[Math.ceil(rank)]]
  return low + (high - low) * (rank - Math.floor(rank))
}

function sessionsOf(events: readonly TestEventLike[], { now, sessionMs }: ReferenceQuestion): TestEventLike[][] {
  return [...new Set(events.map(({ person }) => person))].flatMap((person) => {
    const own = events.filter((event) => event.person === person && event.time <= now).sort((a, b) => a.time - b.time)
    const sessions: TestEventLike[][] = []
    own.forEach((event, index) => {
      if (index === 0 || event.time - own[index - 1].time > sessionMs) sessions.push([])
      sessions.at(-1)!.push(event)
    })
    return sessions
  })
}
