import LockIcon from '@mui/icons-material/Lock'
import LockOpenIcon from '@mui/icons-material/LockOpen'
import { lazy, Suspense, useMemo } from 'react'
import type { CrosstabResult, CrosstabRow } from '../../../core/analyses/crosstab/finish.js'
import {
  asTrend,
  besideForms,
  countedSeries,
  type BesideForm,
  type CrosstabQuestion,
} from '../../../core/analyses/crosstab/question.js'
import { measureName } from '../../../core/analyses/crosstab/sentence.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { MEASURES } from '../../../core/analyses/trend/measures.js'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { NestedKey } from '../../../core/questions/parts.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import type { CrosstabMark } from '../../../core/analyses/crosstab/marks.js'
import { formatAs, formatPercent } from '../../../core/words/format.js'
import { groupWords, type Words } from '../../../core/words/words.js'
import { LazyTrendChart } from '../../charts/LazyTrendChart.js'
import { Sparkline } from '../../charts/Sparkline.js'
import { seriesVar } from '../../look/palette.js'
import { Mounted } from '../../ui/Mounted.js'
import { Segmented } from '../../ui/Segmented.js'
import { rowId } from './rows.js'

const RingChart = lazy(() => import('../../charts/RingChart.js'))

const FORMS: Record<BesideForm, string> = { trend: 'Trend', figure: 'Figure', ring: 'Ring', nothing: 'Nothing' }

interface BesideProps {
  result: CrosstabResult
  question: CrosstabQuestion
  words: Words
  row: CrosstabRow
  edit?: (question: CrosstabQuestion) => void
  selected: readonly CrosstabMark[]
  onSelect?: (mark: CrosstabMark, add: boolean) => void
}

/** What stands beside the table: the followed row as a trend, a figure, or a ring of its parts. */
export function Beside(props: BesideProps) {
  const { question, row, edit } = props
  const { show } = question
  const locked = show.locked !== undefined && rowId(show.locked) === rowId(row.path)
  return (
    <aside className="beside" aria-label="Of the row that is followed">
      <div className="beside-head">
        <h3 aria-live="polite">{row.path.length > 0 ? nameOf(row) : 'All together'}</h3>
        {edit && (
          <button
            type="button"
            className="link-button lock"
            aria-pressed={locked}
            onClick={() => {
              const { locked: _before, ...rest } = show
              edit({ ...question, show: locked ? rest : { ...rest, locked: row.path } })
            }}
          >
            {locked ? <LockIcon fontSize="inherit" /> : <LockOpenIcon fontSize="inherit" />}
            {locked ? 'Locked: press to follow the table' : 'Lock on this row'}
          </button>
        )}
      </div>
      {show.beside === 'trend' ? (
        <RowTrend {...props} />
      ) : show.beside === 'ring' ? (
        <RowRing {...props} />
      ) : (
        <RowFigure {...props} />
      )}
    </aside>
  )
}

/** Which form stands beside the table; a choice of the question. */
export function BesideChoice({
  question,
  edit,
}: {
  question: CrosstabQuestion
  edit: (next: CrosstabQuestion) => void
}) {
  return (
    <Segmented
      label="Beside the table"
      value={question.show.beside}
      options={besideForms.map((value) => ({ value, label: FORMS[value] }))}
      onChange={(beside) => edit({ ...question, show: { ...question.show, beside } })}
    />
  )
}

function nameOf({ path, rest }: CrosstabRow): string {
  return path.map((key, depth) => groupWords(key, depth === path.length - 1 ? rest : 0)).join(' · ')
}

function RowTrend({ result, question, words, row, selected, onSelect }: BesideProps) {
  const [trend, asked] = useMemo((): [TrendResult, TrendQuestion] => {
    const { breakdowns: _rows, ...plain } = asTrend(question)
    const lines = countedSeries(question).map(({ measure }, series) => ({
      of: { series },
      name: measureName(question, series, words),
      unit: MEASURES[measure].unit,
      hidden: false,
      groups: [],
      all: { key: null, values: row.trends[series], total: null, people: [], totalPeople: 0 },
      before: null,
    }))
    const series = plain.series.map((each, index) => ({ ...each, name: measureName(question, index, words) }))
    const { buckets } = result
    return [
      { kind: 'trend', buckets, beforeBuckets: null, lines, keys: [], rest: 0, overlap: false },
      { ...plain, series: plain.series.length > 1 ? series : plain.series },
    ]
  }, [result, question, words, row])
  const points = useMemo(
    () => selected.flatMap((mark) => (rowId(mark.row) === rowId(row.path) ? [pointOf(mark)] : [])),
    [selected, row],
  )
  const press = (mark: TrendMark, add: boolean) => {
    if (mark.bucket === undefined) return
    const { series, bucket } = mark
    onSelect?.({ kind: 'cell', row: row.path, ...(series === undefined ? {} : { series }), bucket }, add)
  }
  return (
    <LazyTrendChart
      result={trend}
      question={asked}
      words={words}
      selected={points}
      {...(onSelect ? { onSelect: press } : {})}
    />
  )
}

/** The chart's own name for a cell of the trend. */
function pointOf({ series, bucket }: CrosstabMark): TrendMark {
  return {
    kind: 'point',
    ...(bucket === undefined ? {} : { bucket }),
    ...(series === undefined ? {} : { series }),
  }
}

function RowFigure({ result, question, words, row }: BesideProps) {
  const { columns, all, buckets } = result
  const open = buckets.at(-1)?.open ?? false
  return (
    <div className="figures">
      {columns.map((column, c) => {
        if (column.key !== null) return null
        const value = row.values[c]
        const whole = all.values[c]
        const shares = MEASURES[question.series[column.series].measure].shares && row.path.length > 0
        return (
          <div className="figure" key={column.series}>
            <span className="figure-name">{measureName(question, column.series, words)}</span>
            <span className="figure-value">{formatAs(value, column.unit, words.currency)}</span>
            <span className="figure-note">
              {shares && value !== null && whole
                ? `${formatPercent(value / whole)} of all together`
                : 'over the whole time'}
            </span>
            <Sparkline values={row.trends[column.series]} open={open} colour={seriesVar(column.series)} />
          </div>
        )
      })}
    </div>
  )
}

/** The parts of a row: its inner rows; where it has none, its columns; of the innermost without columns, its neighbours. */
function partsOf({ result, question, row }: BesideProps): {
  of: string
  parts: { key: NestedKey; rest: number; value: number | null; mark: CrosstabMark }[]
} {
  const last = result.columns.findIndex(({ key }) => key === null)
  const within = (path: readonly NestedKey[]) =>
    result.rows
      .filter((other) => other.path.length === path.length + 1 && rowId(other.path.slice(0, -1)) === rowId(path))
      .map((other) => ({
        key: other.path.at(-1)!,
        rest: other.rest,
        value: other.values[last],
        mark: { kind: 'cell' as const, row: other.path },
      }))
  const inner = within(row.path)
  if (inner.length > 0) return { of: 'rows within it', parts: inner }
  if (question.column)
    return {
      of: 'columns',
      parts: result.columns.flatMap(({ key, rest }, c) =>
        key === null
          ? []
          : [{ key, rest, value: row.values[c], mark: { kind: 'cell' as const, row: row.path, column: key } }],
      ),
    }
  return { of: 'rows beside it', parts: within(row.path.slice(0, -1)) }
}

function RowRing(props: BesideProps) {
  const { result, question, words, row, selected, onSelect } = props
  const { of, parts } = useMemo(() => partsOf(props), [props.result, props.question, props.row])
  const column = result.columns.find(({ key }) => key === null)!
  const lines = useMemo(
    () =>
      parts.map(({ key, rest, value }, place) => ({
        label: groupWords(key, rest),
        total: value,
        place,
        rest: 'rest' in key,
      })),
    [parts],
  )
  if (!MEASURES[question.series[0].measure].shares)
    return (
      <p className="hint">
        {measureName(question, 0, words)} is no whole that parts make up. Choose a trend or a figure.
      </p>
    )
  const sum = parts.reduce((total, { value }) => total + (value ?? 0), 0)
  const isChosen = amongMarks(selected)
  return (
    <>
      <div className="ring-chart">
        <Mounted>
          <Suspense>
            <RingChart lines={lines} {...(onSelect ? { onPress: (at, add) => onSelect(parts[at].mark, add) } : {})} />
          </Suspense>
        </Mounted>
      </div>
      <ul className="ranked">
        {parts.map(({ value, mark, key }, at) => (
          <li key={rowId([key])}>
            <button
              type="button"
              className={`ranked-row ring-row${isChosen(mark) ? ' chosen' : ''}`}
              aria-pressed={isChosen(mark)}
              disabled={!onSelect || !value}
              onClick={(event) => onSelect?.(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
            >
              <span className="ranked-name">
                <i style={{ background: seriesVar(lines[at].place, lines[at].rest) }} />
                {lines[at].label}
              </span>
              <span className="ranked-value">{formatAs(value, column.unit, words.currency)}</span>
              <span className="ranked-share">{formatPercent(sum > 0 ? (value ?? 0) / sum : null)}</span>
            </button>
          </li>
        ))}
      </ul>
      <p className="hint">
        Shares of the {of === 'rows within it' && row.path.length === 0 ? 'rows' : of}
        {result.overlap && ': a person can be in several, so they are of their sum'}.
      </p>
    </>
  )
}
