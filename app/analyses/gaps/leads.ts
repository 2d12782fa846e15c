import { usualGaps, type GapsQuestion } from '../../../core/analyses/gaps/question.js'
import type { GapsFigures, GapsResult } from '../../../core/analyses/gaps/finish.js'
import { usualGrowth } from '../../../core/analyses/growth/question.js'
import { usualHabit } from '../../../core/analyses/habit/question.js'
import { usualRetention } from '../../../core/analyses/retention/question.js'
import { groupWords, splitsHead, type Words } from '../../../core/words/words.js'
import { withAmong } from '../../study/common.js'
import type { Cell, Leads, Look } from '../leads.js'

export const leads: Leads<GapsQuestion, GapsResult> = {
  start: ([first]) => usualGaps(first?.name ?? '…'),
  table: (question, result, words) => gapsTable(question, result, words),
  next: (question, result) => afterGaps(question, result),
}

/** The studies that the gaps suggest an interval for. */
function afterGaps(question: GapsQuestion, { suggested }: GapsResult): Look[] {
  const shared = { start: question.start, ...withAmong(question) }
  if (!suggested) return []
  const { unit, days } = suggested
  return [
    {
      label: `Do they come back, ${unit} by ${unit}?`,
      question: { ...usualRetention('…'), ...shared, every: unit, range: { last: 12, unit } },
    },
    {
      label: 'How many days do they turn up?',
      question: {
        ...usualHabit('…'),
        ...shared,
        ...(days <= 3 ? { period: 'week' as const, range: { last: 12, unit: 'week' as const } } : {}),
      },
    },
    {
      label: `Are we growing or leaking, every ${days} days?`,
      question: {
        ...usualGrowth('…'),
        ...shared,
        interval: { days },
        range: { last: Math.min(366, Math.max(28, 12 * days)), unit: 'day' },
      },
    },
  ]
}

/** A row for each length of gaps, of each group and of all together: how many there are, and people whose median it is. */
function gapsTable({ breakdowns }: GapsQuestion, result: GapsResult, words: Words): Cell[][] {
  const rows = ({ bins, once }: GapsFigures, group: Cell[]): Cell[][] => [
    ...bins.map(({ least, most, gaps, people }): Cell[] => [...group, least, most, gaps, people]),
    [...group, 'on one day only', null, null, once],
  ]
  return [
    [
      ...(breakdowns ? [splitsHead(breakdowns, words)] : []),
      ...['Days, least', 'Days, most', 'Gaps', 'People by their median'],
    ],
    ...result.groups.flatMap((row) => rows(row, [groupWords(row.key, result.rest)])),
    ...rows(result, breakdowns ? ['All together'] : []),
  ]
}
