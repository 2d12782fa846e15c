import type { CrosstabResult } from '../../../core/analyses/crosstab/finish.js'
import type { CrosstabQuestion } from '../../../core/analyses/crosstab/question.js'
import type { NestedKey, ValueKey } from '../../../core/questions/parts.js'
import type { EditorProps } from '../view.js'
import { SplitEditor } from '../../editors/SplitEditor.js'
import { TrendEditor } from '../trend/TrendEditor.js'

/** The editor of a token: rows and columns are its own; measures, events and time are those of a trend. */
export function CrosstabEditor(props: EditorProps<CrosstabQuestion, CrosstabResult>) {
  const { token, question, result, edit, close } = props
  const [name, place] = token.split(/ (?=\d+$)/)
  const index = Number(place ?? 0)
  const events = question.series.map(({ event }) => event)
  if (name === 'row')
    return (
      <SplitEditor
        key={index}
        events={events}
        value={question.rows[index]}
        first
        needed={index === 0 && question.rows.length === 1}
        found={foundRows(result, index)}
        onChange={(split, how) => {
          const rows = split
            ? [...question.rows.slice(0, index), split, ...question.rows.slice(index + 1)]
            : question.rows.toSpliced(index, 1)
          // What is locked or folded goes by the rows as they were.
          edit({ ...question, rows, show: plainShow(question) }, how)
        }}
        onDone={close}
      />
    )
  if (name === 'column')
    return (
      <SplitEditor
        events={events}
        value={question.column}
        first
        found={(result?.columns ?? []).flatMap(({ key }) => (key ? valueOf(key) : []))}
        onChange={(split, how) => {
          const { column: _before, ...rest } = question
          const next = { ...rest, show: plainShow(question) }
          edit(split ? { ...next, column: split } : next, how)
        }}
        onDone={close}
      />
    )
  const { rows, column, show, series, every, range } = question
  return (
    <TrendEditor
      token={token}
      question={{ kind: 'trend', series, every, range, show: { form: 'lines', as: 'number' } }}
      result={null}
      edit={(trend, how) => {
        const { among } = question
        edit(
          {
            ...{ kind: 'crosstab', series: trend.series, every: trend.every, range: trend.range, rows },
            ...(column ? { column } : {}),
            ...(among ? { among } : {}),
            show: trend.series.length === series.length ? show : plainShow(question),
          },
          how,
        )
      }}
      close={close}
    />
  )
}

/** How it is shown, without what goes by rows and columns that may be gone. */
function plainShow({ show: { cells, beside } }: CrosstabQuestion): CrosstabQuestion['show'] {
  return { cells, beside }
}

const valueOf = (key: NestedKey): ValueKey[] => ('rest' in key ? [] : [key])

/** The values of the rows of one depth, as they are in the result. */
function foundRows(result: CrosstabResult | null, depth: number): ValueKey[] {
  const keys = (result?.rows ?? []).flatMap(({ path }) => (path.length === depth + 1 ? valueOf(path[depth]) : []))
  return [...new Map(keys.map((key) => [JSON.stringify(key), key])).values()]
}
