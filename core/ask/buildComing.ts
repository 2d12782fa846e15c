import type { Range } from '../time/range.js'
import { usualGaps } from '../analyses/gaps/question.js'
import { usualGrowth } from '../analyses/growth/question.js'
import { HABIT_UNITS, usualHabit } from '../analyses/habit/question.js'
import type { Question } from '../analyses/registry.js'
import { retentionUnits, usualRetention, type RetentionUnit } from '../analyses/retention/question.js'
import type { EventPick } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import { lastDayOfMonth } from './atoms.js'
import type { Said } from './said.js'

/**
 * A study about coming back.
 * @param picks  the events that were named, in order, each with its filter
 * @param splits what groups are asked for; what is of an event makes none where people are told of
 */
export function buildComing(said: Said, picks: readonly EventPick[], splits: readonly Split[]): Question | null {
  const start: EventPick = picks[0] ?? { event: { activity: true } }
  const named = said.kind === 'retention' ? splits : splits.filter(({ by }) => by.of === 'person')
  const groups = named.length > 0 ? { breakdowns: [...named] } : {}
  const within = said.range ? { range: said.range } : {}
  switch (said.kind) {
    case 'retention': {
      const every = retentionUnits.includes(said.every as RetentionUnit) ? (said.every as RetentionUnit) : 'week'
      const usual = usualRetention('…')
      return {
        ...{ ...usual, start, every, range: said.range ?? usualRange(every), ...groups },
        ...(picks[1] ? { back: picks[1] } : {}),
        ...(said.first ? { first: true as const } : {}),
        ...(said.at === null ? {} : { show: { form: 'over time' as const, at: said.at } }),
      }
    }
    case 'habit': {
      const period = said.period ?? 'month'
      const usual = usualHabit('…')
      const most = HABIT_UNITS[period].most
      const days = said.at !== null && said.at <= most ? said.at : null
      return {
        ...{ ...usual, start, period, ...(period === 'month' ? {} : { range: { last: 12, unit: 'week' as const } }) },
        ...{ ...within, ...groups },
        ...(days === null ? {} : { show: { form: 'over time' as const, days } }),
      }
    }
    case 'growth': {
      const monthly = said.every === 'month' || (said.every === null && said.range !== null && isWholeMonth(said.range))
      const interval = { unit: monthly ? ('month' as const) : ('week' as const) }
      const usual = usualGrowth('…')
      const range = said.range ?? (interval.unit === 'month' ? { last: 12, unit: 'month' as const } : usual.range)
      return {
        ...usual,
        start,
        interval,
        range,
        ...groups,
        ...(said.state ? { show: { form: 'one', state: said.state } } : {}),
      }
    }
    case 'gaps':
      return { ...usualGaps('…'), start, ...within, ...groups }
    default:
      return null
  }
}

function isWholeMonth(range: Range): boolean {
  return (
    'from' in range && range.to !== undefined && range.from.endsWith('-01') && lastDayOfMonth(range.from) === range.to
  )
}

function usualRange(every: RetentionUnit): Range {
  return { last: every === 'hour' ? 24 : every === 'day' ? 30 : every === 'month' ? 8 : 12, unit: every }
}
