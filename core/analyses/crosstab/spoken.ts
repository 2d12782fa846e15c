import { soundOf, type SpokenKind } from '../kind.js'
import type { CrosstabMark } from './marks.js'
import type { CrosstabQuestion } from './question.js'
import { crosstabSentence } from './sentence.js'
import { cellWords, exactCell } from './words.js'

export const spokenCrosstab: SpokenKind<CrosstabQuestion, CrosstabMark> = {
  kind: 'crosstab',
  name: 'Crosstab',
  sentence: crosstabSentence,
  readAsOf: () => 'when each event happened, so that one person can stand in two groups, and groups overlap',
  marks: {
    kinds: ['cell'],
    words: cellWords,
    exact: exactCell,
    places: () => [{ key: 'all', label: 'Is counted in any row', value: { kind: 'cell', row: [] } }],
    timed: ({ bucket }) => bucket !== undefined,
    plain: (study) => study,
  },
  splits: ({ rows, column }) => [
    ...rows.map(({ by }, index) => ({ by, path: ['rows', index, 'by'] })),
    ...(column ? [{ by: column.by, path: ['column', 'by'] }] : []),
  ],
  rest: {
    parts: ['series', 'rows', 'column'],
    without(question, wrong) {
      const { column, ...laid } = question
      const [series, rows] = [soundOf(wrong, 'series', question.series), soundOf(wrong, 'rows', question.rows)]
      if (series.length === 0 || rows.length === 0) return null
      return { ...laid, series, rows, ...(column && !wrong.has('column') ? { column } : {}) }
    },
  },
}
