import { lazy, Suspense, useMemo } from 'react'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import { formatPercent } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'
import { chartLines, formatValue, markOf } from '../../charts/trendSeries.js'
import { seriesVar } from '../../look/palette.js'
import { Mounted } from '../../ui/Mounted.js'

const RingChart = lazy(() => import('../../charts/RingChart.js'))

/** The groups' shares of their sum over the whole time. */
export function TrendRing(props: {
  result: TrendResult
  question: TrendQuestion
  words: Words
  selected: readonly TrendMark[]
  onSelect?: (mark: TrendMark, add: boolean) => void
}) {
  const { result, question, words, selected, onSelect } = props
  const lines = useMemo(() => chartLines(result, question, words), [result, question, words])
  const sum = lines.reduce((total, line) => total + (line.total ?? 0), 0)
  const isChosen = amongMarks(selected)
  return (
    <div className="ring">
      <div className="ring-chart">
        <Mounted>
          <Suspense>
            <RingChart
              lines={lines}
              {...(onSelect ? { onPress: (at, add) => onSelect(markOf(lines[at]), add) } : {})}
            />
          </Suspense>
        </Mounted>
        {lines[0] && (
          <p className="ring-sum">
            <strong>{formatValue(result.lines[0].all.total, lines[0], words)}</strong>
            all together
          </p>
        )}
      </div>
      <ul className="ranked">
        {lines.map((line) => {
          const mark = markOf(line)
          const chosen = isChosen(mark)
          return (
            <li key={line.id}>
              <button
                type="button"
                className={`ranked-row ring-row${chosen ? ' chosen' : ''}`}
                aria-pressed={chosen}
                disabled={!onSelect || !line.total}
                onClick={(event) => onSelect?.(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
              >
                <span className="ranked-name">
                  <i style={{ background: seriesVar(line.place, line.rest) }} />
                  {line.label}
                </span>
                <span className="ranked-value">{formatValue(line.total, line, words)}</span>
                <span className="ranked-share">{formatPercent(sum > 0 ? (line.total ?? 0) / sum : null)}</span>
              </button>
            </li>
          )
        })}
      </ul>
      {result.overlap && lines[0]?.unit === 'people' && (
        <p className="hint">A person can be in several groups: the shares are of the sum of the rows.</p>
      )}
    </div>
  )
}
