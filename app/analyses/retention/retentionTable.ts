import type { RetentionResult, RetentionRow } from '../../../core/analyses/retention/finish.js'
import type { RetentionQuestion } from '../../../core/analyses/retention/question.js'
import { measureName } from '../../../core/analyses/retention/sentence.js'
import { periodWords } from '../../../core/analyses/retention/words.js'
import { capital } from '../../../core/words/format.js'
import { groupWords, splitsHead, type Words } from '../../../core/words/words.js'

/**
 * A row for each cohort, and all cohorts together over the cells that are complete; of each group too. Periods that are
 * not over for all of a cohort have their figures in columns of their own, so that nobody adds them up.
 */
export function retentionTable(
  question: RetentionQuestion,
  result: RetentionResult,
  words: Words,
): (string | number | null)[][] {
  const { all, groups, cohorts, periods, rest } = result
  const by = question.breakdowns
  const names = periods.map((period) => capital(periodWords(question, period)))
  const head = [
    ...(by ? [splitsHead(by, words)] : []),
    `Started, ${question.every}`,
    'People',
    ...names.map((name) => `${name}: ${measureName(question, words).replace(', %', '')}`),
    ...names.map((name) => `${name}: came back`),
    ...names.map((name) => `${name}: state`),
  ]
  const rowsOf = (row: RetentionRow) => {
    const group = by ? [row.key ? groupWords(row.key, rest) : 'All together'] : []
    return [
      ...cohorts.map(({ key }, c) => [
        ...[...group, key, row.started[c]],
        ...row.cells[c].map(({ value }) => value),
        ...row.cells[c].map(({ returned, state }) => (state === 'ahead' ? null : returned)),
        ...row.cells[c].map(({ state }) =>
          state === 'complete' ? 'complete' : state === 'open' ? 'still open' : 'not begun',
        ),
      ]),
      [
        ...[...group, 'all complete cohorts', row.people],
        ...row.line.map(({ value }) => value),
        ...row.line.map(({ returned }) => returned),
        ...row.line.map(({ cohorts: many, people }) => `${many} cohorts of ${people} people`),
      ],
    ]
  }
  return [head, ...[...groups, all].flatMap(rowsOf)]
}
