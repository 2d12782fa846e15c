import { deferred } from '../../page/deferred.js'
import { periodAt } from '../../../core/analyses/retention/periodAt.js'
import type { RetentionMark } from '../../../core/analyses/retention/marks.js'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { lazy, memo, Suspense, useState } from 'react'
import type { RetentionResult } from '../../../core/analyses/retention/finish.js'
import type { RetentionForm, RetentionMeasure, RetentionQuestion } from '../../../core/analyses/retention/question.js'
import { measureName } from '../../../core/analyses/retention/sentence.js'
import { duringWords, periodWords } from '../../../core/analyses/retention/words.js'
import { capital } from '../../../core/words/format.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'
import { Mounted } from '../../ui/Mounted.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'
import { CohortTable } from './CohortTable.js'
import { beginsWhole, curveOf, overTimeOf, rowLabel, unitOf, type Points } from './figures.js'
import { withMeasure } from './changes.js'

const PickField = deferred(async () => (await import('../../ui/PickField.js')).PickField)
// Groups are compared here, which needs more than the one line of everybody does.
const PeriodTable = deferred(async () => (await import('./PeriodTable.js')).PeriodTable)

const Drawn = lazy(() => import('../../charts/LinesChart.js'))

type Props = BodyProps<RetentionQuestion, RetentionResult, RetentionMark>

/** More lines than this are no picture. */
const MOST_LINES = 30

function RetentionBody(props: Props) {
  const { question, result, words, edit } = props
  const { show } = question
  const one = question.brackets ? 'One span over time' : `One ${question.every} over time`
  const plain: RetentionMeasure[] = ['share', 'people', 'events']
  const measures = plain.includes(result.measure) ? plain : [...plain, result.measure]
  const started = result.all.started.filter((n) => n > 0).length
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<RetentionForm>
            label="Form"
            value={show.form}
            options={[
              { value: 'curve', label: 'Curve' },
              { value: 'cohorts', label: 'Cohorts' },
              { value: 'over time', label: one },
            ]}
            onChange={(form) => edit({ ...question, show: { ...show, form } })}
          />
          <Segmented<RetentionMeasure>
            label="Measure"
            value={result.measure}
            options={measures.map((value) => ({
              value,
              label:
                value === 'share'
                  ? '% of people'
                  : value === 'people'
                    ? 'People'
                    : value === 'events'
                      ? 'Times'
                      : measureName(question, words),
            }))}
            onChange={(measure) => edit(withMeasure(question, measure))}
          />
          {show.form === 'curve' && result.groups.length === 0 && started > 1 && started <= MOST_LINES && (
            <FormControlLabel
              className="log-switch"
              control={
                <Switch
                  size="small"
                  checked={show.each === true}
                  onChange={(_event, each) => {
                    const { each: _before, ...rest } = show
                    edit({ ...question, show: each ? { ...rest, each } : rest })
                  }}
                />
              }
              label="A line for each cohort"
            />
          )}
          {show.form === 'cohorts' && (
            <FormControlLabel
              className="log-switch"
              control={
                <Switch
                  size="small"
                  checked={show.turned === true}
                  onChange={(_event, turned) => {
                    const { turned: _before, ...rest } = show
                    edit({ ...question, show: turned ? { ...rest, turned } : rest })
                  }}
                />
              }
              label="Cohorts as columns"
            />
          )}
          {show.form === 'over time' && <PeriodChoice {...props} />}
        </div>
      )}
      {show.form === 'cohorts' ? <Cohorts {...props} /> : <Lines {...props} />}
    </>
  )
}

/** Which period is looked at by itself. */
function PeriodChoice({ question, result, edit }: Props) {
  return (
    <Suspense>
      <PickField
        label="Which period"
        value={String(periodAt(question, result))}
        options={result.periods.map((period, k) => ({
          value: String(k),
          label: capital(periodWords(question, period)),
        }))}
        onChange={(at) => edit!({ ...question, show: { ...question.show, at: Number(at) } })}
      />
    </Suspense>
  )
}

function Lines({ question, result, words, selected, onSelect }: Props) {
  const { form } = question.show
  const at = periodAt(question, result)
  const { lines, marks }: Points =
    form === 'curve' ? curveOf(question, result, words) : overTimeOf(question, result, at, words)
  const single = lines.length === 1
  const axis =
    form === 'curve'
      ? [...(beginsWhole(result) ? ['start'] : []), ...result.periods.map((period) => periodWords(question, period))]
      : result.cohorts.map(({ key }) => bucketLabel(key, question.every, words))
  const titles =
    form === 'curve'
      ? axis.map(capital)
      : result.cohorts.map(({ key }) => `Started: ${bucketTitle(key, question.every, words)}`)
  if (result.all.people === 0) return <p className="soft pad">Nobody started in this time, as asked.</p>
  return (
    <>
      <p className="chart-note">
        {form === 'curve'
          ? single && result.measure === 'share'
            ? 'All cohorts, with 95 % interval'
            : `${measureName(question, words)}${single ? ', all cohorts' : ''}`
          : `${measureName(question, words)} ${duringWords(question, result.periods[at])}, by when they started`}
      </p>
      <div className="chart-space">
        <Mounted>
          <Suspense>
            <Drawn
              axis={axis}
              titles={titles}
              lines={lines}
              unit={unitOf(result.measure)}
              currency={words.currency ?? 'EUR'}
              figures={form === 'curve'}
              label={
                form === 'curve'
                  ? 'People who came back, by period. Arrow keys move from point to point, Enter selects those who came back.'
                  : 'People who came back, by when they started. Arrow keys move from point to point, Enter selects them.'
              }
              chosen={selected.length > 0}
              {...(onSelect
                ? {
                    onPoint: (line: number, place: number, add: boolean) => {
                      const mark = marks[line]?.[place]
                      if (mark) onSelect(mark, add)
                    },
                  }
                : {})}
            />
          </Suspense>
        </Mounted>
      </div>
    </>
  )
}

/** The cohorts of all together, or of one group. */
function Cohorts(props: Props) {
  const { result } = props
  const [chosen, setChosen] = useState(0)
  const rows = [result.all, ...result.groups]
  const row = rows[chosen] ?? result.all
  return (
    <>
      {result.groups.length > 0 && (
        <div className="row wrap form-settings">
          <Suspense>
            <PickField
              label="Cohorts of"
              value={String(rows.indexOf(row))}
              options={rows.map((each, i) => ({
                value: String(i),
                label: each.key ? rowLabel(each, result.rest) : 'All together',
              }))}
              onChange={(at) => setChosen(Number(at))}
            />
          </Suspense>
        </div>
      )}
      <CohortTable {...props} row={row} />
    </>
  )
}

function RetentionNumbers(props: Props) {
  const { question, result } = props
  if (result.groups.length > 0 || question.show.form === 'cohorts') return <PeriodTable {...props} />
  return <CohortTable {...props} row={result.all} />
}

export const view: KindView<RetentionQuestion, RetentionResult, RetentionMark> = {
  Body: memo(RetentionBody),
  Numbers: memo(RetentionNumbers),
}
