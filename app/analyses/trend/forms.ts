import { canStack } from '../../charts/canStack.js'
import { isWeek } from '../../../core/questions/groupedBy.js'
import type { Range } from '../../../core/time/range.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { trendForms, type TrendForm, type TrendQuestion } from '../../../core/analyses/trend/question.js'
import { visibleLines } from '../../../core/analyses/trend/shown.js'
import type { Bucket } from '../../../core/time/buckets.js'

/** Groups that a ring can show without becoming a riddle. */
const MOST_SLICES = 8

/** The forms that go with what is asked. */
export function formsFor(question: TrendQuestion, result: TrendResult): TrendForm[] {
  const lines = visibleLines(result)
  // The hours of the week are many: as lines they would say nothing.
  if (isWeek(question.breakdowns ?? [])) return lines.length === 1 ? ['week', 'ranked'] : ['ranked']
  const many = lines.length * Math.max(1, result.keys.length)
  return trendForms.filter((form) => {
    switch (form) {
      case 'stacked':
        return canStack(question) && many > 1
      case 'bars':
        return canStack(question) || many === 1
      case 'week':
        return false
      case 'side by side':
      case 'ranked':
        return many > 1
      case 'ring':
        return canStack(question) && lines.length === 1 && many > 1 && many <= MOST_SLICES
      default:
        return true
    }
  })
}

/** The local days from one bucket to another, both included; null where the buckets are hours of one day. */
export function zoomRange(buckets: readonly Bucket[], first: number, last: number): Range | null {
  if (first >= last || !buckets[first] || !buckets[last]) return null
  const from = buckets[first].key.slice(0, 10)
  const next = buckets[last + 1]?.key.slice(0, 10)
  const to = next === undefined ? undefined : dayBefore(next, buckets[last].key.slice(0, 10))
  if (to === undefined) return { from }
  return from <= to ? { from, to } : null
}

function dayBefore(day: string, least: string): string {
  const before = new Date(Date.parse(`${day}T00:00:00Z`) - 86_400_000).toISOString().slice(0, 10)
  return before < least ? least : before
}
