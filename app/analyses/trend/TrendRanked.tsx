import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { compareWords } from '../../../core/words/words.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import type { Words } from '../../../core/words/words.js'
import { chartLines, formatValue, markOf } from '../../charts/trendSeries.js'
import { seriesVar } from '../../look/palette.js'

/** Each line's figure over the whole time as a bar, the largest first; a bar gives the people counted in it. */
export function TrendRanked(props: {
  result: TrendResult
  question: TrendQuestion
  words: Words
  selected: readonly TrendMark[]
  onSelect?: (mark: TrendMark, add: boolean) => void
}) {
  const { result, question, words, selected, onSelect } = props
  const lines = chartLines(result, question, words).toSorted(
    (a, b) => Number(a.rest) - Number(b.rest) || (b.total ?? -Infinity) - (a.total ?? -Infinity),
  )
  const isChosen = amongMarks(selected)
  const widthOf = (value: number | null, unit: string) => {
    const alike = lines.filter((line) => line.unit === unit)
    const most = Math.max(
      ...alike.flatMap(({ total, before }) => [Math.abs(total ?? 0), Math.abs(before?.total ?? 0)]),
      1e-9,
    )
    return `${(Math.abs(value ?? 0) / most) * 100}%`
  }
  return (
    <>
      {question.compare && <p className="hint">The upright lines: {compareWords(question.compare, words)}.</p>}
      <ul className="ranked">
        {lines.map((line) => {
          const mark = markOf(line)
          const inner = (
            <>
              <span className="ranked-name">{line.label}</span>
              <span className="ranked-bar">
                <i style={{ width: widthOf(line.total, line.unit), background: seriesVar(line.place, line.rest) }} />
                {line.before && <b style={{ left: widthOf(line.before.total, line.unit) }} />}
              </span>
              <span className="ranked-value">{formatValue(line.total, line, words)}</span>
            </>
          )
          return (
            <li key={line.id}>
              {onSelect && line.total ? (
                <button
                  type="button"
                  className={`ranked-row${isChosen(mark) ? ' chosen' : ''}`}
                  aria-pressed={isChosen(mark)}
                  onClick={(event) => onSelect(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
                >
                  {inner}
                </button>
              ) : (
                <span className="ranked-row">{inner}</span>
              )}
            </li>
          )
        })}
      </ul>
    </>
  )
}
