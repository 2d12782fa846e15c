import { lazy, memo, Suspense } from 'react'
import type { EffectFigures, EffectResult, EffectRow, Effect } from '../../../core/analyses/effect/finish.js'
import { thresholdOf } from '../../../core/analyses/effect/threshold.js'
import type { EffectMark, EffectStep } from '../../../core/analyses/effect/marks.js'
import type { EffectForm, EffectQuestion } from '../../../core/analyses/effect/question.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import { groupId } from '../../../core/questions/groupId.js'
import { formatDay, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { groupWords, splitsHead } from '../../../core/words/words.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { Mounted } from '../../ui/Mounted.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { Segmented } from '../../ui/Segmented.js'
import type { BodyProps, KindView } from '../view.js'
import './effect.css'

const Lines = lazy(() => import('../../charts/LinesChart.js'))
type Props = BodyProps<EffectQuestion, EffectResult, EffectMark>

const nameOf = ({ name }: Pick<EffectRow, 'name'>) => (name === null ? 'left alone' : `“${name}”`)
const share = (part: number, whole: number) => formatPercent(whole > 0 ? part / whole : null)

function markOf(row: Pick<EffectRow, 'name'>, step: EffectStep, group?: GroupKey): EffectMark {
  const of = row.name === null ? { alone: true as const } : { variant: row.name }
  return { kind: 'came', step, ...of, ...(group ? { group } : {}) }
}

function EffectBody(props: Props) {
  const { question, result, edit } = props
  const { form } = question.show
  const nobody = result.rows.every(({ entered }) => entered === 0)
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<EffectForm>
            label="Form"
            value={form}
            options={[
              { value: 'effect', label: 'Effect' },
              { value: 'days', label: 'Over days' },
            ]}
            onChange={(next) => edit({ ...question, show: { form: next } })}
          />
        </div>
      )}
      {nobody ? (
        <p className="soft pad">Nobody came into it in this time.</p>
      ) : form === 'days' ? (
        <OverDays {...props} />
      ) : (
        <EffectTable {...props} />
      )}
    </>
  )
}

/** A row for each variant and those left alone: how far it came, and what it brought. */
function EffectTable(props: Props) {
  const { result, selected, onSelect } = props
  const sure = thresholdOf(result)
  const most = Math.max(0.01, ...result.rows.map(({ interval }) => interval?.high ?? 0))
  return (
    <>
      <FigureTable
        heads={[
          { text: 'Variant' },
          { text: 'Entered', title: 'Came in: people, by their first entry' },
          { text: 'Delivered', title: 'Of those it was sent to' },
          { text: 'Opened', title: 'Of those it reached' },
          { text: 'Goal', title: 'Of those whose time is over, whether it reached them or not' },
          { text: '', plain: true },
          { text: 'Effect, 95 %', title: 'Points against those left alone' },
        ]}
        selects={onSelect !== undefined}
      >
        {result.rows.map((row, place) => {
          const effect = result.effects[place] ?? null
          return (
            <tr key={place}>
              <th scope="row" className="effect-name">
                {nameOf(row)}
              </th>
              <PeopleCell
                {...{ selected, onSelect }}
                first={place === 0}
                mark={row.entered > 0 ? markOf(row, 'entered') : null}
              >
                {formatNumber(row.entered)}
              </PeopleCell>
              <PeopleCell {...{ selected, onSelect }} mark={row.delivered > 0 ? markOf(row, 'delivered') : null}>
                {row.name === null ? MISSING : share(row.delivered, row.sent)}
              </PeopleCell>
              <PeopleCell {...{ selected, onSelect }} mark={row.opened > 0 ? markOf(row, 'opened') : null}>
                {row.name === null ? MISSING : share(row.opened, row.delivered)}
              </PeopleCell>
              <PeopleCell {...{ selected, onSelect }} mark={row.goal > 0 ? markOf(row, 'goal') : null}>
                {formatPercent(row.rate)}
              </PeopleCell>
              <td>
                <Rate row={row} most={most} effect={effect} sure={sure} />
              </td>
              <td className="number">{row.name === null ? '' : <EffectWords effect={effect} sure={sure} />}</td>
            </tr>
          )
        })}
      </FigureTable>
      <p className="hint effect-foot">
        As assigned, not as received.
        {result.effect && result.rows.length > 2 && (
          <>
            {' '}
            All variants together: <EffectWords effect={result.effect} sure={sure} />.
          </>
        )}
        {result.effect && ' Effects are in points; p is adjusted where there are several, intervals are not.'}
      </p>
    </>
  )
}

/** The rate as a bar with its interval; the colour tells whether it differs from those left alone. */
function Rate({ row, most, effect, sure }: { row: EffectRow; most: number; effect: Effect | null; sure: number }) {
  if (row.rate === null || !row.interval) return null
  const isClear = effect !== null && !effect.few && effect.p !== null && effect.p < sure
  const tone = row.name === null ? 'alone' : isClear ? (effect.difference > 0 ? 'gain' : 'loss') : 'plain'
  const at = (rate: number) => `${(rate / most) * 100}%`
  return (
    <span
      className={`effect-bar ${tone}`}
      title={`${formatPercent(row.rate)} (${formatPercent(row.interval.low)} to ${formatPercent(row.interval.high)})`}
    >
      <i style={{ width: at(row.rate) }} />
      <b style={{ left: at(row.interval.low), width: at(row.interval.high - row.interval.low) }} />
    </span>
  )
}

const points = new Intl.NumberFormat('en', { minimumFractionDigits: 1, maximumFractionDigits: 1 })
const signed = (x: number) => `${x < 0 ? '−' : x > 0 ? '+' : ''}${points.format(Math.abs(x * 100))}`
const bound = (x: number) => `${x < 0 ? '−' : ''}${points.format(Math.abs(x * 100))}`

/** `+5.1 (1.2 to 8.8), p 0.01`. */
function EffectWords({ effect, sure }: { effect: Effect | null; sure: number }) {
  if (!effect) return <span className="soft">{MISSING}</span>
  const { difference, interval, p, few } = effect
  if (few) return <span className="soft">too few yet</span>
  const isClear = p !== null && p < sure
  const tone = isClear ? (difference > 0 ? 'gain' : 'loss') : 'soft'
  return (
    <span className={tone} title={p === null ? undefined : `p ${p < 0.001 ? 'under 0.001' : p.toFixed(3)}`}>
      <strong>{signed(difference)}</strong>
      {interval && ` (${bound(interval.low)} to ${bound(interval.high)})`}
    </span>
  )
}

/** Rates up to each day, by when people came in. */
function OverDays({ question, result, words }: Props) {
  const first = result.days.findIndex((_day, at) => result.byDay.some(({ counted }) => counted[at]! > 0))
  if (first < 0) return <p className="soft pad">Nobody’s time is over yet.</p>
  let last = result.days.length - 1
  while (last > first && result.byDay.every(({ counted }) => counted[last] === 0)) last--
  const days = result.days.slice(first, last + 1)
  const lines = result.rows.map((row, place): ChartLine => {
    const own = result.byDay[place]!
    let [counted, goals] = [0, 0]
    const sums = days.map((_day, at) => {
      counted += own.counted[first + at]!
      goals += own.goals[first + at]!
      return { counted, goals }
    })
    return {
      label: row.name ?? 'left alone',
      values: sums.map((sum) => (sum.counted > 0 ? sum.goals / sum.counted : null)),
      tells: sums.map((sum) => `${formatNumber(sum.goals)} of ${formatNumber(sum.counted)}`),
      rest: row.name === null,
    }
  })
  const named = days.map((day) => formatDay(day, words.thisYear))
  return (
    <>
      <p className="chart-note">
        % who did what it is for within {question.within.count} {question.within.unit}
        {question.within.count === 1 ? '' : 's'}, of all who came in up to each day and whose time is over
      </p>
      <div className="chart-space">
        <Mounted>
          <Suspense>
            <Lines
              axis={named}
              titles={named.map((day) => `Came in up to ${day}`)}
              lines={lines}
              unit="percent"
              currency={words.currency ?? 'EUR'}
              label="Rates up to each day. Arrow keys move from point to point."
              chosen={false}
            />
          </Suspense>
        </Mounted>
      </div>
    </>
  )
}

const STEPS = [
  { step: 'entered', figure: 'entered', head: 'Entered' },
  { step: 'sent', figure: 'sent', head: 'Sent' },
  { step: 'delivered', figure: 'delivered', head: 'Delivered' },
  { step: 'opened', figure: 'opened', head: 'Opened' },
  { step: 'pressed', figure: 'pressed', head: 'Pressed' },
  { step: 'opted out', figure: 'optedOut', head: 'Declined' },
  { step: 'counted', figure: 'counted', head: 'Time is over' },
  { step: 'goal', figure: 'goal', head: 'Goal' },
] as const

/** How far people came, in people: of each group and of all together. */
function EffectNumbers(props: Props) {
  const { question, result, words, selected, onSelect } = props
  const isSplit = question.breakdowns !== undefined
  const sure = thresholdOf(result)
  const lines = (own: EffectFigures, key: GroupKey | null) => {
    const several = own.rows.filter(({ name }) => name !== null).length > 1
    const inGroup = key ? { group: key } : {}
    const line = (
      what: string,
      row: Record<(typeof STEPS)[number]['figure'], number>,
      isAlone: boolean,
      of: object,
      effect: Effect | null | undefined,
      first = false,
    ) => (
      <tr key={`${groupId(key ?? undefined)} ${what}`} className={isSplit && !key ? 'all-row' : undefined}>
        {isSplit && <th scope="row">{key ? groupWords(key, result.rest) : 'All together'}</th>}
        {isSplit ? <td>{what}</td> : <th scope="row">{what}</th>}
        {STEPS.map(({ step, figure }, at) => (
          <PeopleCell
            key={step}
            {...{ selected, onSelect }}
            first={first && at === 0}
            mark={row[figure] > 0 ? { kind: 'came', step, ...of, ...inGroup } : null}
          >
            {isAlone && IN_VARIANTS.has(step) ? MISSING : formatNumber(row[figure])}
          </PeopleCell>
        ))}
        <td className="number">{share(row.goal, row.counted)}</td>
        <td className="number">{effect === undefined ? '' : <EffectWords effect={effect} sure={sure} />}</td>
      </tr>
    )
    const isFirst = key === null ? result.groups.length === 0 : own === result.groups[0]
    return [
      ...own.rows.map((row, place) => {
        // A group's p is adjusted for all variants together, so that is what stands there.
        const single = key ? (several ? undefined : own.effect) : (own.effects[place] ?? null)
        const of = row.name === null ? { alone: true } : { variant: row.name }
        return line(
          nameOf(row),
          row,
          row.name === null,
          of,
          row.name === null ? undefined : single,
          isFirst && place === 0,
        )
      }),
      ...(several ? [line('all variants', sumOf(own.rows), false, {}, own.effect)] : []),
    ]
  }
  return (
    <FigureTable
      heads={[
        ...(isSplit
          ? [splitsHead(question.breakdowns!, words), { text: 'Variant', plain: true as const }]
          : ['Variant']),
        ...STEPS.map(({ head }) => head),
        'Rate',
        {
          text: 'Effect',
          title: isSplit
            ? 'Points against those left alone. In a group: of all variants together, its p adjusted for all groups.'
            : 'Points against those left alone',
        },
      ]}
      selects={onSelect !== undefined}
    >
      {result.groups.flatMap((group) => lines(group, group.key))}
      {lines(result, null)}
    </FigureTable>
  )
}

/** Of all variants together, without those left alone. */
function sumOf(rows: readonly EffectRow[]) {
  const variants = rows.filter(({ name }) => name !== null)
  return Object.fromEntries(
    STEPS.map(({ figure }) => [figure, variants.reduce((sum, row) => sum + row[figure], 0)]),
  ) as Record<(typeof STEPS)[number]['figure'], number>
}

const IN_VARIANTS: ReadonlySet<string> = new Set(['sent', 'delivered', 'opened', 'pressed', 'opted out'])

export const view: KindView<EffectQuestion, EffectResult, EffectMark> = {
  Body: memo(EffectBody),
  Numbers: memo(EffectNumbers),
}
