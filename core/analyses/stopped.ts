import type { Arrivals } from '../log/arrivals.js'
import { countedBy } from '../questions/countedBy.js'
import { eventsIn } from '../questions/named.js'
import type { StudyDefinition } from '../questions/study.js'
import { bucketsOf } from '../time/buckets.js'
import { dayOf, spanOf, startOfHour, type Calendar } from '../time/range.js'

/** Since when nothing has arrived: of an event that a question asks about, or of anything. */
export interface Stopped {
  /** epoch ms of the last */
  sinceMs: number
  /** null = nothing of any kind */
  event: string | null
}

/** How seldom so long a silence would be if the event went on to come as often as before. */
const UNLIKELY = 0.001

/** When events arrived: of one by its name, or of all (null). */
export interface Listener {
  /** whether any came at or after a moment, epoch ms */
  since(event: string | null, ms: number): boolean
  lately(event: string | null): Arrivals | null
}

/**
 * Whether what a question asks about has stopped to arrive: for a whole bucket of its own up to now or the end of its
 * time, and for longer than it ever did lately. Of a single event also so long that, if it went on to come as often, at
 * random, it would be silent so long once in a thousand times.
 */
export function stoppedIn(
  question: StudyDefinition,
  now: number,
  calendar: Calendar,
  { since, lately }: Listener,
): Stopped | null {
  const lastBucket = lastWhole(question, now, calendar)
  if (lastBucket === null) return null
  if (!since(null, lastBucket)) {
    const all = lately(null)
    return all && now - all.lastMs > all.longestMs ? { sinceMs: all.lastMs, event: null } : null
  }
  const { names } = eventsIn({ ...question, among: undefined, breakdowns: undefined })
  const found = names.flatMap((event): Stopped[] => {
    const own = since(event, lastBucket) ? null : lately(event)
    const all = own && lately(null)
    if (!own || !all) return []
    const silence = all.lastMs - own.lastMs
    // Of less than a handful nobody knows how often they come.
    const expected = own.spanMs > 0 && own.events >= 5 ? ((own.events - 1) * silence) / own.spanMs : 0
    return silence > 2 * own.longestMs && Math.exp(-expected) < UNLIKELY ? [{ sinceMs: own.lastMs, event }] : []
  })
  return found.sort((a, b) => a.sinceMs - b.sinceMs)[0] ?? null
}

/** The start of the last bucket that is over and lies in the time asked about whole; null where none does. */
function lastWhole(question: StudyDefinition, now: number, calendar: Calendar): number | null {
  if (!question.range) return null
  const { from, until } = spanOf(question.range, now, calendar)
  if (until <= from) return null
  // Two years before the end of the time hold its last whole bucket, whatever its unit.
  const day = (ms: number) => dayOf(ms, calendar.zone).toString()
  const near = Math.max(from, until - LONGEST_UNITS_MS)
  const buckets = bucketsOf(
    spanOf({ from: day(near), to: day(until - 1) }, now, calendar),
    countedBy(question) ?? 'day',
    now,
    calendar,
  )
  return buckets.findLast(({ start, end, open }) => !open && start >= from && end <= until)?.start ?? null
}
const LONGEST_UNITS_MS = 2 * 366 * 86_400_000

/**
 * The same question about the time before it stopped, to be asked as of that moment; null where that is none of its time.
 * What it stands beside is left out: the two would not be of one length.
 */
export function beforeItStopped<Q extends StudyDefinition>(
  question: Q,
  sinceMs: number,
  now: number,
  calendar: Calendar,
): Q | null {
  const { compare: _beside, ...plain } = question as Q & { compare?: unknown }
  const { range } = question
  const { zone } = calendar
  if (!range) return null
  if (!('last' in range)) {
    const day = dayOf(sinceMs, zone).toString()
    if (day < range.from) return null
    return { ...plain, range: { from: range.from, to: range.to && range.to < day ? range.to : day } } as unknown as Q
  }
  const { unit, last } = range
  const gone =
    unit === 'hour'
      ? Math.round((startOfHour(now, zone) - startOfHour(sinceMs, zone)) / 3_600_000)
      : bucketsOf(
          spanOf({ from: dayOf(sinceMs, zone).toString(), to: dayOf(now, zone).toString() }, now, calendar),
          unit,
          now,
          calendar,
        ).length - 1
  return last > gone ? ({ ...plain, range: { last: last - gone, unit } } as unknown as Q) : null
}
