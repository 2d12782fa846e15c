import { lazy, memo, Suspense } from 'react'
import type { SessionEnd, SessionsOf, SessionsResult, SessionsRow } from '../../../core/analyses/sessions/finish.js'
import { valueOf, type SessionSums } from '../../../core/analyses/sessions/value.js'
import type { SessionsMark } from '../../../core/analyses/sessions/marks.js'
import {
  LENGTHS,
  sessionMeasures,
  USUAL_OVER,
  type SessionForm,
  type SessionMeasure,
  type SessionsQuestion,
} from '../../../core/analyses/sessions/question.js'
import {
  lengthWords,
  MEASURED,
  MEASURE_UNIT,
  sayMeasure,
  targetValue,
  targetWords,
} from '../../../core/analyses/sessions/words.js'
import {
  capital,
  formatDuration,
  formatNumber,
  formatPercent,
  joinWords,
  MISSING,
  proseShare,
} from '../../../core/words/format.js'
import { groupId } from '../../../core/questions/groupId.js'
import { compareWords, eventWords, splitsHead } from '../../../core/words/words.js'
import type { BarSeries } from '../../charts/barsConfig.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { deferred } from '../../page/deferred.js'
import { Mounted } from '../../ui/Mounted.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { Segmented } from '../../ui/Segmented.js'
import type { BodyProps, KindView } from '../view.js'
import { answersFor, restsOn, changeWords, chartValue, markOf, rowName } from './figures.js'
import './sessions.css'

const NumberField = deferred(async () => (await import('../../editors/NumberField.js')).NumberField)
const Bars = lazy(() => import('../../charts/BarsChart.js'))
const Lines = lazy(() => import('../../charts/LinesChart.js'))

type Props = BodyProps<SessionsQuestion, SessionsResult, SessionsMark>

const FORMS: Record<SessionForm, string> = { 'over time': 'Over time', lengths: 'Lengths', ways: 'Ways in and out' }

function SessionsBody(props: Props) {
  const { question, result, edit, words } = props
  const { show } = question
  const over = show.over ?? USUAL_OVER
  const { total } = result.all
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<SessionForm>
            label="Form"
            value={show.form}
            options={(Object.keys(FORMS) as SessionForm[]).map((value) => ({ value, label: FORMS[value] }))}
            onChange={(form) => edit({ ...question, show: { ...show, form } })}
          />
          {show.form === 'lengths' && (
            <span className="row">
              Which part lasts over
              <Suspense>
                <NumberField
                  label="Minutes that a session lasts over"
                  value={over}
                  min={0}
                  max={1440}
                  whole
                  width={64}
                  onChange={(n) => edit({ ...question, show: { ...show, over: n } }, 'type')}
                />
              </Suspense>
              minutes?
            </span>
          )}
        </div>
      )}
      {total.sessions === 0 ? (
        <p className="soft pad">
          No session began in this time, as asked. Ask about a longer time, or fewer conditions.
        </p>
      ) : show.form === 'ways' ? (
        <Ends {...props} />
      ) : (
        <>
          <p className="chart-note">
            {show.form === 'lengths'
              ? `% of sessions by how long they last. Over ${formatDuration(over * 60_000)}: ${overWords(result)}.`
              : `${MEASURED[question.measure]}${question.compare ? besideWords(result, compareWords(question.compare, words)) : ''}`}
          </p>
          <div className="chart-space">
            <Mounted>
              <Suspense>{show.form === 'lengths' ? <Lengths {...props} /> : <OverTime {...props} />}</Suspense>
            </Mounted>
          </div>
          {show.form === 'over time' && <RestsOn {...props} />}
        </>
      )}
    </>
  )
}

/** Which part lasts over what was typed; of few groups, of each. */
function overWords(result: SessionsResult): string {
  const rows = rowsOf(result)
  const said = ({ over, total }: SessionsRow) => proseShare(over / total.sessions)
  if (rows.length === 1 || rows.length > MOST_BARS) return said(result.all)
  return joinWords(
    rows.filter(({ total }) => total.sessions > 0).map((row) => `${rowName(row, result.rest)} ${said(row)}`),
    'and',
  )
}

const MOST_BARS = 4
const rowsOf = ({ groups, all }: SessionsOf) => (groups.length > 0 ? groups : [all])
/** More than two lines with theirs beside them are a tangle. */
const isThin = (result: SessionsResult) => rowsOf(result).length <= 2
const besideWords = (result: SessionsResult, time: string) =>
  isThin(result) ? `; thin: ${time}` : `; ${time} stands in the table`
const rowsBefore = ({ before }: SessionsResult) => (before ? rowsOf(before) : [])

function OverTime({ question, result, words, selected, onSelect }: Props) {
  const { measure, every, target } = question
  const { buckets, before } = result
  const own = rowsOf(result)
  const earlier = before && isThin(result) ? rowsBefore(result) : []
  const rows = [...own, ...earlier]
  const named = (row: SessionsRow) => (row.key ? rowName(row, result.rest) : MEASURED[measure])
  const lines = own.map((row): ChartLine => ({
    label: named(row),
    values: row.values.map((sums) => chartValue(sums, measure)),
    tells: row.values.map((sums) => answersFor(sums, measure)),
    dashed: buckets.map(({ open, cut }) => open || cut),
    rest: row.key !== null && 'rest' in row.key,
  }))
  // What it is compared with stands bucket by bucket beside it; what goes beyond it is in the table.
  for (const row of earlier)
    lines.push({
      label: `${named(row)}, before`,
      values: buckets.map((_, at) => (at < row.values.length ? chartValue(row.values[at], measure) : null)),
      tells: buckets.map((_, at) =>
        at < row.values.length
          ? `${answersFor(row.values[at], measure)} (${bucketTitle(before!.buckets[at].key, every, words)})`
          : '',
      ),
      rest: row.key !== null && 'rest' in row.key,
      beside: own.length,
    })
  return (
    <Lines
      target={
        target === undefined
          ? null
          : {
              at: MEASURE_UNIT[measure] === 'duration' ? targetValue(target, measure) / 1000 : target,
              text: `target ${targetWords(target, measure)}`,
            }
      }
      axis={buckets.map(({ key }) => bucketLabel(key, every, words))}
      titles={buckets.map(
        ({ key, open, cut }) => bucketTitle(key, every, words) + (open ? ', not over yet' : cut ? ', in part' : ''),
      )}
      lines={lines}
      unit={MEASURE_UNIT[measure]}
      currency={words.currency ?? 'EUR'}
      figures
      label={`${MEASURED[measure]}, each ${every}. Arrow keys move from point to point, Enter selects the people.`}
      chosen={selected.length > 0}
      {...(onSelect
        ? {
            onPoint: (line: number, at: number, add: boolean) => {
              const isBefore = line >= own.length
              const times = isBefore ? before!.buckets : buckets
              if (at >= times.length || rows[line].values[at].sessions === 0) return
              onSelect(markOf(rows[line], { bucket: times[at].key, ...(isBefore ? { before: true } : {}) }), add)
            },
          }
        : {})}
    />
  )
}

/** What a figure is made of: that which is selected, else that of the last whole bucket. */
function RestsOn({ question, result, words, selected }: Props) {
  const { measure, every } = question
  const { buckets } = result
  const [mark] = selected
  const whole = buckets.findLastIndex(({ open, cut }) => !open && !cut)
  const asked = mark?.bucket === undefined || mark.before ? -1 : buckets.findIndex(({ key }) => key === mark.bucket)
  const at = asked >= 0 ? asked : whole
  if (at < 0) return null
  const group = mark?.group && groupId(mark.group)
  const row = result.groups.find(({ key }) => key !== null && groupId(key) === group) ?? result.all
  const sums = row.values[at]
  if (sums.sessions === 0) return null
  return (
    <details className="rests-on">
      <summary>
        What {sayMeasure(valueOf(sums, measure), measure)} rests on ({bucketTitle(buckets[at].key, every, words)}
        {row.key && `, ${rowName(row, result.rest)}`})
      </summary>
      <p>{restsOn(sums, measure)}</p>
    </details>
  )
}

function Lengths({ result, words, selected, onSelect }: Props) {
  const rows = rowsOf(result)
  const axis = Array.from({ length: LENGTHS.length + 1 }, (_, range) => lengthWords(range))
  const share = (row: SessionsRow, range: number) =>
    row.total.sessions > 0 ? row.lengths[range] / row.total.sessions : null
  const drawn = rows.map((row) => ({
    label: rowName(row, result.rest),
    values: axis.map((_, range) => share(row, range)),
    tells: axis.map(
      (_, range) =>
        `${formatPercent(share(row, range))}, ${formatNumber(row.lengths[range])} of ${formatNumber(row.total.sessions)} sessions`,
    ),
    rest: row.key !== null && 'rest' in row.key,
  }))
  const shared = {
    ...{ axis, titles: axis.map((each) => capital(each)), currency: words.currency ?? 'EUR', unit: 'percent' as const },
    chosen: selected.length > 0,
    label: 'Sessions by how long they last. Arrow keys move, Enter selects the people.',
    ...(onSelect
      ? {
          onPoint: (line: number, range: number, add: boolean) => {
            if (rows[line].lengths[range] > 0) onSelect(markOf(rows[line], { length: range }), add)
          },
        }
      : {}),
  }
  // Bars of many groups are too thin to be told apart.
  if (rows.length > MOST_BARS) return <Lines {...shared} lines={drawn} />
  const paint = (at: number) => (rows.length === 1 ? 'water' : at)
  return (
    <Bars
      {...shared}
      bars={drawn.map((each, at): BarSeries => ({ ...each, paint: paint(at) }))}
      stacked={false}
      figures
    />
  )
}

/** What sessions begin with, and what they end with. */
function Ends(props: Props) {
  const { result } = props
  return (
    <div className="session-ends">
      <EndTable {...props} list={result.entries} head="They begin with" beside="Commonest next" which="entry" />
      <EndTable {...props} list={result.exits} head="They end with" beside="Commonest before" which="exit" />
    </div>
  )
}

function EndTable(props: Props & { list: SessionEnd[]; head: string; beside: string; which: 'entry' | 'exit' }) {
  const { result, words, selected, onSelect, list, head, beside, which } = props
  const whole = result.all.total.sessions
  const name = (event: string | null) => (event === null ? 'nothing' : eventWords({ names: [event] }, words))
  return (
    <FigureTable
      heads={[
        head,
        'Sessions',
        '%',
        { text: 'Average length', title: 'From the first to the last event' },
        { text: beside, plain: true },
      ]}
      selects={onSelect !== undefined}
    >
      {list.map((end, at) => (
        <tr key={end.event}>
          <th scope="row">{name(end.event)}</th>
          <PeopleCell {...{ selected, onSelect }} first={at === 0} mark={{ kind: 'session', [which]: end.event }}>
            {formatNumber(end.sessions)}
          </PeopleCell>
          <td className="number">{formatPercent(end.sessions / whole)}</td>
          <td className="number">{formatDuration(end.averageMs)}</td>
          <td>{end.beside && `${name(end.beside.event)} (${formatPercent(end.beside.sessions / end.sessions)})`}</td>
        </tr>
      ))}
    </FigureTable>
  )
}

const HEADS = [
  'Sessions',
  'People',
  { text: 'Time in all', title: 'The lengths of all sessions, added up' },
  ...sessionMeasures
    .filter((measure) => measure !== 'sessions')
    .map((measure) => (measure === 'single' ? 'Of one event' : MEASURED[measure])),
]

function SessionsTable(props: Props) {
  const { question, result, words } = props
  if (result.all.total.sessions === 0 || question.show.form === 'ways') return null
  if (question.show.form === 'lengths') return <LengthRows {...props} />
  const { groups, all, rest, buckets, before } = result
  const { every, measure } = question
  const heads = [
    ...HEADS,
    ...(before
      ? [
          { text: 'Before', title: `${MEASURED[measure]} in the time it is compared with` },
          { text: 'Change', title: 'Against the time it is compared with' },
        ]
      : []),
  ]
  if (groups.length > 0)
    return (
      <FigureTable heads={[splitsHead(question.breakdowns!, words), ...heads]} selects={props.onSelect !== undefined}>
        {[...groups, all].map((row, at) => (
          <Figures
            key={at}
            {...props}
            row={row}
            earlier={at < groups.length ? before?.groups[at] : before?.all}
            at={null}
            name={rowName(row, rest)}
            first={at === 0}
          />
        ))}
      </FigureTable>
    )
  return (
    <FigureTable heads={[capital(every), ...heads]} selects={props.onSelect !== undefined}>
      {buckets.map(({ key, open, cut }, at) => (
        <Figures
          key={key}
          {...props}
          row={all}
          earlier={before?.all}
          at={at}
          first={at === 0}
          name={bucketTitle(key, every, words) + (open ? ', not over yet' : cut ? ', in part' : '')}
        />
      ))}
      <Figures {...props} row={all} earlier={before?.all} at={null} name="All together" first={false} />
    </FigureTable>
  )
}

function Figures(
  props: Props & {
    row: SessionsRow
    /** the same of the time it is compared with */
    earlier: SessionsRow | undefined
    /** which bucket; null = the whole time */
    at: number | null
    name: string
    first: boolean
  },
) {
  const { question, result, selected, onSelect, row, earlier, at, name, first } = props
  const sums = at === null ? row.total : row.values[at]
  const mark = sums.sessions > 0 ? markOf(row, at === null ? {} : { bucket: result.buckets[at].key }) : null
  return (
    <tr className={at === null && row.key === null ? 'all-row' : ''}>
      <th scope="row">{name}</th>
      <td className="number">{formatNumber(sums.sessions)}</td>
      <PeopleCell {...{ selected, onSelect, mark, first }}>{formatNumber(sums.people)}</PeopleCell>
      <td className="number">{formatDuration(sums.ms)}</td>
      {sessionMeasures
        .filter((measure) => measure !== 'sessions')
        .map((measure) => (
          <td key={measure} className="number" title={answersFor(sums, measure)}>
            {sums.sessions > 0 ? sayMeasure(valueOf(sums, measure), measure) : MISSING}
          </td>
        ))}
      {earlier && <Beside {...props} measure={question.measure} sums={sums} />}
    </tr>
  )
}

/** The measure in the time it is compared with, and its change. */
function Beside(
  props: Props & {
    measure: SessionMeasure
    sums: SessionSums
    row: SessionsRow
    earlier: SessionsRow | undefined
    at: number | null
  },
) {
  const { result, selected, onSelect, measure, sums, row, earlier, at } = props
  const then = at === null ? earlier!.total : earlier!.values[at]
  // The earlier time may have fewer buckets.
  if (!then)
    return (
      <>
        <td className="number">{MISSING}</td>
        <td className="number">{MISSING}</td>
      </>
    )
  const bucket = at === null ? {} : { bucket: result.before!.buckets[at].key }
  const mark = then.sessions > 0 ? markOf(row, { ...bucket, before: true }) : null
  return (
    <>
      <PeopleCell {...{ selected, onSelect, mark }}>{sayMeasure(valueOf(then, measure), measure)}</PeopleCell>
      <td className="number">{changeWords(sums, then, measure)}</td>
    </>
  )
}

function LengthRows({ question, result, selected, onSelect }: Props) {
  const rows = rowsOf(result)
  const named = rows.length > 1
  return (
    <FigureTable
      heads={['It lasts', ...rows.flatMap((row) => [named ? rowName(row, result.rest) : 'Sessions', '%'])]}
      selects={onSelect !== undefined}
    >
      {Array.from({ length: LENGTHS.length + 1 }, (_, range) => (
        <tr key={range}>
          <th scope="row">{capital(lengthWords(range))}</th>
          {rows.flatMap((row, r) => [
            <PeopleCell
              key={`${r} n`}
              {...{ selected, onSelect }}
              first={range === 0 && r === 0}
              mark={row.lengths[range] > 0 ? markOf(row, { length: range }) : null}
            >
              {formatNumber(row.lengths[range])}
            </PeopleCell>,
            <td key={`${r} %`} className="number">
              {formatPercent(row.total.sessions > 0 ? row.lengths[range] / row.total.sessions : null)}
            </td>,
          ])}
        </tr>
      ))}
      <tr className="all-row">
        <th scope="row">Over {formatDuration((question.show.over ?? USUAL_OVER) * 60_000)}</th>
        {rows.flatMap((row, r) => [
          <PeopleCell
            key={`${r} n`}
            {...{ selected, onSelect }}
            mark={row.over > 0 ? markOf(row, { over: question.show.over ?? USUAL_OVER }) : null}
          >
            {formatNumber(row.over)}
          </PeopleCell>,
          <td key={`${r} %`} className="number">
            {formatPercent(row.total.sessions > 0 ? row.over / row.total.sessions : null)}
          </td>,
        ])}
      </tr>
    </FigureTable>
  )
}

export const view: KindView<SessionsQuestion, SessionsResult, SessionsMark> = {
  Body: memo(SessionsBody),
  Numbers: memo(SessionsTable),
}
