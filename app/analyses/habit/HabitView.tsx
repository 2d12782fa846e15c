import Button from '@mui/material/Button'
import { lazy, memo, Suspense } from 'react'
import { Link } from 'react-router'
import { withDays, type HabitResult, type HabitRow } from '../../../core/analyses/habit/finish.js'
import { daysOf, watchedOf, type HabitForm, type HabitQuestion } from '../../../core/analyses/habit/question.js'
import { daysPhrase } from '../../../core/analyses/habit/words.js'
import type { HabitMark } from '../../../core/analyses/habit/marks.js'
import type { Rule } from '../../../core/segments/rule.js'
import { formatNumber, formatPercent } from '../../../core/words/format.js'
import { segmentAddress } from '../../address/address.js'
import type { BarSeries } from '../../charts/barsConfig.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { deferred } from '../../page/deferred.js'
import { Mounted } from '../../ui/Mounted.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'
import {
  markOf,
  perDay,
  periodNames,
  periodsName,
  placeNames,
  rowName,
  shareOf,
  shareTells,
  shownDays,
  thresholdName,
} from './figures.js'
import { HabitTable } from './HabitTable.js'

const NumberField = deferred(async () => (await import('../../editors/NumberField.js')).NumberField)
const Bars = lazy(() => import('../../charts/BarsChart.js'))
const Lines = lazy(() => import('../../charts/LinesChart.js'))

type Props = BodyProps<HabitQuestion, HabitResult, HabitMark>

function HabitBody(props: Props) {
  const { question, result, edit } = props
  const { show } = question
  const { unit } = result
  const names: Record<HabitForm, string> = {
    'at least': 'At least',
    exactly: 'Exactly',
    'over time': 'Over time',
    pattern: unit === 'hour' ? 'Hours of the day' : 'Days of the week',
  }
  const forms = (Object.keys(names) as HabitForm[]).filter((form) => form !== 'pattern' || result.times.length > 0)
  const form = forms.includes(show.form) ? show.form : 'at least'
  const days = daysOf(question)
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<HabitForm>
            label="Form"
            value={form}
            options={forms.map((value) => ({ value, label: names[value] }))}
            onChange={(next) => edit({ ...question, show: { ...show, form: next } })}
          />
          {form === 'over time' && (
            <>
              <Segmented<'more' | 'exactly'>
                label="How many"
                value={show.exactly ? 'exactly' : 'more'}
                options={[
                  { value: 'more', label: 'At least' },
                  { value: 'exactly', label: 'Exactly' },
                ]}
                onChange={(next) => {
                  const { exactly: _before, ...rest } = show
                  edit({ ...question, show: next === 'exactly' ? { ...rest, exactly: true } : rest })
                }}
              />
              <span className="row">
                <Suspense>
                  <NumberField
                    label={`How many ${unit}s`}
                    value={days}
                    min={1}
                    max={result.most}
                    whole
                    width={64}
                    onChange={(n) => edit({ ...question, show: { ...show, days: n } }, 'type')}
                  />
                </Suspense>
                <span>{unit}s</span>
              </span>
              <Segmented<'share' | 'people'>
                label="Measure"
                value={show.people ? 'people' : 'share'}
                options={[
                  { value: 'share', label: '% of active' },
                  { value: 'people', label: 'People' },
                ]}
                onChange={(next) => {
                  const { people: _before, ...rest } = show
                  edit({ ...question, show: next === 'people' ? { ...rest, people: true } : rest })
                }}
              />
            </>
          )}
        </div>
      )}
      {result.periods.length === 0 ? (
        <p className="soft pad">
          No {question.period} of this time is over and whole. Ask for a longer time, or a shorter period.
        </p>
      ) : (
        <>
          <p className="chart-note">{noteOf(question, result, form)}</p>
          <div className="chart-space">
            <Mounted>
              <Suspense>
                <Drawn {...props} form={form} />
              </Suspense>
            </Mounted>
          </div>
          {edit && form === 'over time' && !show.exactly && <Keep {...props} days={days} />}
        </>
      )}
    </>
  )
}

function noteOf(question: HabitQuestion, result: HabitResult, form: HabitForm): string {
  const { show } = question
  if (form === 'pattern') return `People on such ${result.unit === 'hour' ? 'an hour' : 'a day'}, on average`
  if (form !== 'over time') return `% of ${periodsName(result)} with ${form} so many ${result.unit}s`
  const days = daysOf(question)
  const said = show.exactly
    ? `exactly ${daysPhrase(days, result.unit, false)}`
    : thresholdName(question, days, result.unit)
  return `${show.people ? 'People' : '% of active people'} with ${said}`
}

/** The threshold as a segment that lives: whoever reaches it in the last days. */
function Keep({ question, result, days }: Props & { days: number }) {
  const lasts = { day: 1, week: 7, month: 30, '4 weeks': 28, '8 weeks': 56 }[question.period]
  if (result.unit === 'hour') return null
  const { event, where } = question.start
  const rule: Rule = {
    ...{ kind: 'did', event, window: { last: lasts } },
    ...(where ? { where } : {}),
    count: { measure: result.unit === 'week' ? 'weeks' : 'days', test: { op: '≥', number: days } },
  }
  return (
    <div className="row wrap keep-row">
      <span className="soft">
        Save keeps this as a metric over time. As people: {daysPhrase(days, result.unit, true)} in the last {lasts}{' '}
        days.
      </span>
      <Button size="small" variant="outlined" component={Link} to={segmentAddress({ hold: 'all', of: [rule] })}>
        Make a segment of them
      </Button>
    </div>
  )
}

function Drawn(props: Props & { form: HabitForm }) {
  const { result, words, selected, onSelect, form } = props
  const rows = result.groups.length > 0 ? result.groups : [result.all]
  const currency = words.currency ?? 'EUR'
  const chosen = selected.length > 0
  const { unit } = result
  if (form === 'over time') return <OverTime {...props} rows={rows} />
  const { axis, titles } =
    form === 'pattern'
      ? placeNames(result)
      : {
          axis: Array.from({ length: shownDays(result) }, (_, d) => String(d + 1)),
          titles: Array.from({ length: shownDays(result) }, (_, d) => daysPhrase(d + 1, unit, form === 'at least')),
        }
  const more = form === 'at least'
  const valueAt = (row: HabitRow, at: number) =>
    form === 'pattern' ? perDay(row, result, at) : shareOf(row, at + 1, more)
  const tellsAt = (row: HabitRow, at: number) =>
    form === 'pattern'
      ? `${formatNumber(Math.round((perDay(row, result, at) ?? 0) * 10) / 10)} on average; ${formatNumber(row.pattern[at].people)} different people`
      : shareTells(row, at + 1, more, result)
  const drawn = rows.map((row) => ({
    label: rowName(row, result.rest),
    values: axis.map((_, at) => valueAt(row, at)),
    tells: axis.map((_, at) => tellsAt(row, at)),
    rest: row.key !== null && 'rest' in row.key,
  }))
  const select = onSelect && {
    onPoint: (line: number, at: number, add: boolean) => {
      const row = rows[line]
      const mark: HabitMark =
        form === 'pattern'
          ? markOf(row, { place: at })
          : markOf(row, { days: at + 1, ...(more ? { more: true as const } : {}) })
      const people = form === 'pattern' ? row.pattern[at].people : (more ? row.peopleMore : row.people)[at]
      if (people > 0) onSelect(mark, add)
    },
  }
  const label = `${form === 'pattern' ? 'People by when they turn up' : `Shares by how many ${unit}s people turn up`}. Arrow keys move, Enter selects the people.`
  const shared = {
    axis,
    titles,
    currency,
    chosen,
    label,
    unit: form === 'pattern' ? ('number' as const) : ('percent' as const),
  }
  if (rows.length > 1) return <Lines {...shared} lines={drawn satisfies ChartLine[]} {...select} />
  return (
    <Bars
      {...shared}
      unit={form === 'pattern' ? 'people' : 'percent'}
      bars={drawn.map((each): BarSeries => ({
        ...each,
        values: form === 'pattern' ? each.values.map((x) => x && Math.round(x)) : each.values,
        paint: 'water',
      }))}
      stacked={false}
      figures
      {...select}
    />
  )
}

/** The share of each period's active people, or how many they are. */
function OverTime({ question, result, words, selected, onSelect, rows }: Props & { rows: HabitRow[] }) {
  const { show } = question
  const days = daysOf(question)
  const more = !show.exactly
  const { axis, titles } = periodNames(question, result, words)
  const people = (row: HabitRow, p: number) => withDays(row.periods[p], days, more)
  const active = (row: HabitRow, p: number) => withDays(row.periods[p], 1, true)
  const lines = rows.map((row): ChartLine => ({
    label: row.key ? rowName(row, result.rest) : (watchedOf(question).core ?? daysPhrase(days, result.unit, more)),
    values: result.periods.map((_key, p) => {
      const whole = active(row, p)
      if (show.people) return people(row, p)
      return whole > 0 ? people(row, p) / whole : null
    }),
    tells: result.periods.map((_key, p) => {
      const whole = active(row, p)
      return `${formatPercent(whole > 0 ? people(row, p) / whole : null)}, ${formatNumber(people(row, p))} of ${formatNumber(whole)} active people`
    }),
    rest: row.key !== null && 'rest' in row.key,
  }))
  return (
    <Lines
      axis={axis}
      titles={titles}
      lines={lines}
      unit={show.people ? 'people' : 'percent'}
      currency={words.currency ?? 'EUR'}
      figures
      label={`${daysPhrase(days, result.unit, more)}, over time. Arrow keys move from point to point, Enter selects the people.`}
      chosen={selected.length > 0}
      {...(onSelect
        ? {
            onPoint: (line: number, p: number, add: boolean) => {
              if (people(rows[line], p) > 0)
                onSelect(
                  markOf(rows[line], { days, ...(more ? { more: true as const } : {}), bucket: result.periods[p] }),
                  add,
                )
            },
          }
        : {})}
    />
  )
}

export const view: KindView<HabitQuestion, HabitResult, HabitMark> = {
  Body: memo(HabitBody),
  Numbers: memo(HabitTable),
}
