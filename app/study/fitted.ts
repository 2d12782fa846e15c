import { Temporal } from 'temporal-polyfill'
import { countedBy } from '../../core/questions/countedBy.js'
import { eventsIn } from '../../core/questions/named.js'
import type { StudyDefinition } from '../../core/questions/study.js'
import { ENOUGH } from '../../core/stats/small.js'
import { UNIT_DAYS, units, type Range, type Unit } from '../../core/time/range.js'
import type { Near } from '../analyses/leads.js'

const DAY = 86_400_000
/** So many units are looked at, where the data goes back so far. */
const MANY: Record<Unit, number> = { hour: 48, day: 30, week: 12, month: 12, quarter: 12, year: 30 }
const COUNTED = ['every', 'period', 'interval'] as const

/**
 * A starting question, in the unit that holds enough events of what it asks about, and over a time in which there are
 * any: of a few people over many years nobody learns much week by week.
 * @param most the largest unit that the kind counts by
 */
export function fitted<Q extends StudyDefinition>(question: Q, { catalog, now, zone }: Near, most: Unit): Q {
  const { names } = eventsIn(question)
  const seen = catalog.events.filter(({ name, events }) => (names.length === 0 || names.includes(name)) && events > 0)
  if (seen.length === 0) return question
  const first = Math.min(...seen.map(({ firstMs }) => firstMs!))
  const last = Math.min(now, Math.max(...seen.map(({ lastMs }) => lastMs!)))
  const events = Math.max(...seen.map((each) => each.events))
  const perDay = events / Math.max(1, (last - first) / DAY)
  const { range } = question
  if (!range) return question
  const usual = countedBy(question) ?? ('last' in range ? range.unit : 'day')
  const unit =
    units.slice(units.indexOf(usual), units.indexOf(most) + 1).find((each) => perDay * UNIT_DAYS[each] >= ENOUGH) ??
    most
  const covered = 'last' in range ? range.last * UNIT_DAYS[range.unit] * DAY : Infinity
  // Where it goes on, and often enough, the usual time is as good as any.
  const goesOn = now - last < Math.max(covered / 4, 2 * UNIT_DAYS[unit] * DAY)
  if (unit === usual && goesOn) return question
  const many = unit === usual && 'last' in range ? range : { last: MANY[unit], unit }
  return { ...question, ...recounted(question, unit), range: goesOn ? many : upTo(last, first, many, zone) }
}

/** The question's own field for it, with another unit. */
function recounted(question: StudyDefinition, unit: Unit): object {
  const field = COUNTED.find((name) => name in question)
  if (!field) return {}
  return { [field]: field === 'interval' ? { unit } : unit }
}

/** The days of as many units as end with the last event. */
function upTo(lastMs: number, firstMs: number, { last, unit }: { last: number; unit: Unit }, zone: string): Range {
  const day = (ms: number) => Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate()
  const from = day(Math.max(firstMs, lastMs - last * UNIT_DAYS[unit] * DAY))
  return { from: from.toString(), to: day(lastMs).toString() }
}
