import { withDays, type HabitResult, type HabitRow } from '../../../core/analyses/habit/finish.js'
import type { HabitQuestion } from '../../../core/analyses/habit/question.js'
import { groupWords, splitsHead, type Words } from '../../../core/words/words.js'

/** A row for each period, and all periods together: active people, their average, and how many came on so many days. */
export function habitTable(question: HabitQuestion, result: HabitResult, words: Words): (string | number | null)[][] {
  const { all, groups, unit, most, periods, rest } = result
  const by = question.breakdowns
  const days = Array.from({ length: most }, (_, d) => d + 1)
  const head = [
    ...(by ? [splitsHead(by, words)] : []),
    ...['Period from', 'Active people', `Average ${unit}s`],
    ...days.map((d) => `Exactly ${d}`),
    ...days.map((d) => `At least ${d}`),
  ]
  const rowsOf = (row: HabitRow) => {
    const group = by ? [row.key ? groupWords(row.key, rest) : 'All together'] : []
    const line = (name: string, exactly: number[]) => {
      const active = withDays(exactly, 1, true)
      const sum = exactly.reduce((total, n, d) => total + n * (d + 1), 0)
      return [
        ...[...group, name, active, active > 0 ? sum / active : null],
        ...exactly,
        ...days.map((d) => withDays(exactly, d, true)),
      ]
    }
    return [...periods.map((key, p) => line(key, row.periods[p])), line('all periods', row.exactly)]
  }
  return [head, ...[...groups, all].flatMap(rowsOf)]
}
