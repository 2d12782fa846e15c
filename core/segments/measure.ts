import { columnOf, isOfPerson } from '../filters/bind.js'
import type { Column, EventLog } from '../log/log.js'
import { QUARTER } from '../time/quarter.js'
import type { DayTable } from '../time/dayTable.js'
import type { EventCollector } from './events.js'
import type { DidPlan } from './plan.js'

/**
 * Works out what is counted of a person's collected events `first` up to, not including, `end`. Of one person it is
 * asked again and again with bounds that only rise. NaN = nothing to compare: the average, maximum and minimum of nothing.
 */
export interface Measurer {
  /** a person's events have been collected anew */
  begin(person: number): void
  value(first: number, end: number): number
}

export function bindMeasure(plan: DidPlan, found: EventCollector, log: EventLog, days: DayTable): Measurer {
  switch (plan.measure) {
    case 'times':
      return { begin: () => {}, value: (first, end) => end - first }
    case 'days':
    case 'weeks':
      return distinctDays(found, days, plan.measure === 'weeks')
    case 'values':
      return distinctValues(plan, found, log)
    default:
      return ofNumbers(plan, found, log)
  }
}

/** Days rise along the events, so those of a run are the difference of how many there were up to its ends. */
function distinctDays(found: EventCollector, { origin, day, week }: DayTable, byWeek: boolean): Measurer {
  let upTo = new Uint32Array(64)
  return {
    begin() {
      const { length, times } = found
      if (length > upTo.length) upTo = new Uint32Array(times.length)
      let many = 0
      let before = -1
      for (let i = 0; i < length; i++) {
        const own = day[((times[i] - origin) / QUARTER) | 0]
        const at = byWeek ? week[own] : own
        if (at !== before) many++
        before = at
        upTo[i] = many
      }
    },
    value: (first, end) => (end > first ? upTo[end - 1] - upTo[first] + 1 : 0),
  }
}

/** The columns of a property, by event type. */
function columnsOf(plan: DidPlan, log: EventLog): (Column | undefined)[] {
  return log.rowsOfType
    .map((_rows, type) => plan.value && columnOf(plan.value.column, log, type))
    .map((c) => c ?? undefined)
}

function placeOf(plan: DidPlan, found: EventCollector, i: number, person: number): number {
  const { column } = plan.value!
  return isOfPerson(column) ? person : column.of === 'source' ? found.rows[i] : found.slots[i]
}

/**
 * A run that begins where the one before began is gone on with; any other is gone over from its start. So a sum is
 * always added up in the order of the events, and the same whatever was asked before.
 */
function ofNumbers(plan: DidPlan, found: EventCollector, log: EventLog): Measurer {
  const columns = columnsOf(plan, log)
  const { measure } = plan
  let person = 0
  let began = -1
  let at = 0
  let many = 0
  let total = 0
  let least = Infinity
  let most = -Infinity
  return {
    begin(number) {
      person = number
      began = -1
    },
    value(first, end) {
      if (first !== began || end < at) {
        began = at = first
        many = total = 0
        least = Infinity
        most = -Infinity
      }
      for (; at < end; at++) {
        const numbers = columns[log.type[found.rows[at]]]?.numbers
        const x = numbers ? numbers[placeOf(plan, found, at, person)] : NaN
        if (x !== x) continue
        many++
        total += x
        if (x < least) least = x
        if (x > most) most = x
      }
      if (measure === 'sum') return total
      if (many === 0) return NaN
      return measure === 'average' ? total / many : measure === 'maximum' ? most : least
    },
  }
}

/** How many different values there are; of a list, its elements. */
function distinctValues(plan: DidPlan, found: EventCollector, log: EventLog): Measurer {
  const columns = columnsOf(plan, log)
  const { elements } = plan.value ?? { elements: new Map<number, number[]>() }
  const coded = new Set<number>()
  const numbers = new Set<number>()
  const dates = new Set<number>()
  let person = 0
  let began = -1
  let at = 0
  const add = (column: Column, place: number) => {
    const code = column.codes ? column.codes[place] : 0
    if (code > 0) {
      const several = elements.get(code)
      if (several) for (const each of several) coded.add(each)
      else coded.add(code)
      return
    }
    const number = column.numbers ? column.numbers[place] : NaN
    if (number === number) numbers.add(number)
    const date = column.dates ? column.dates[place] : NaN
    if (date === date) dates.add(date)
  }
  return {
    begin(number) {
      person = number
      began = -1
    },
    value(first, end) {
      if (first !== began || end < at) {
        began = at = first
        coded.clear()
        numbers.clear()
        dates.clear()
      }
      for (; at < end; at++) {
        const column = columns[log.type[found.rows[at]]]
        if (column) add(column, placeOf(plan, found, at, person))
      }
      return coded.size + numbers.size + dates.size
    },
  }
}
