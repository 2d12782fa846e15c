import { memo } from 'react'
import type { TrendForm, TrendQuestion } from '../../../core/analyses/trend/question.js'
import { trendMeasures } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { units } from '../../../core/time/range.js'
import { BreakdownEditor } from '../../editors/BreakdownEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { OptionList } from '../../editors/OptionList.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { LazyTrendChart } from '../../charts/LazyTrendChart.js'
import { canShare } from '../../charts/trendSeries.js'
import { Segmented } from '../../ui/Segmented.js'
import type { AnalysisView, BodyProps, EditorProps } from '../view.js'
import { TrendFigure } from './TrendFigure.js'
import { TrendTable } from './TrendTable.js'

const FORMS: { value: TrendForm; label: string }[] = [
  { value: 'lines', label: 'Lines' },
  { value: 'stacked', label: 'Stacked' },
  { value: 'bars', label: 'Bars' },
  { value: 'figure', label: 'Figure' },
]

const MEASURES = {
  people: 'Distinct people who did it at least once',
  events: 'How many times it happened',
  'events per person': 'Times it happened, divided by the people who did it',
}

function TrendBody({ question, result, words, edit, selected, onSelect }: BodyProps<TrendQuestion, TrendResult>) {
  const { show } = question
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented
            label="Chart"
            value={show.form}
            options={FORMS}
            onChange={(form) => edit({ ...question, show: { ...show, form } })}
          />
          {canShare(question) && (
            <Segmented
              label="Number or share"
              value={show.as}
              options={[
                { value: 'number', label: 'Number' },
                { value: 'share', label: 'Share' },
              ]}
              onChange={(as) => edit({ ...question, show: { ...show, as } })}
            />
          )}
        </div>
      )}
      {show.form === 'figure' ? (
        <TrendFigure result={result} question={question} words={words} />
      ) : (
        <LazyTrendChart
          result={result}
          question={question}
          words={words}
          selected={selected}
          {...(onSelect ? { onSelect } : {})}
        />
      )}
    </>
  )
}

function TrendNumbers({ question, result, words, selected, onSelect }: BodyProps<TrendQuestion, TrendResult>) {
  return (
    <TrendTable
      result={result}
      question={question}
      words={words}
      selected={selected}
      {...(onSelect ? { onSelect } : {})}
    />
  )
}

function TrendEditor({ token, question, edit, close }: EditorProps<TrendQuestion>) {
  const [series] = question.series
  const choose = (next: TrendQuestion) => {
    edit(next)
    close()
  }
  switch (token) {
    case 'measure':
      return (
        <OptionList
          label="Measure"
          options={trendMeasures.map((measure) => ({
            key: measure,
            label: measure,
            note: MEASURES[measure],
            value: measure,
            chosen: measure === series.measure,
          }))}
          onChoose={(measure) => choose({ ...question, series: [{ ...series, measure }] })}
        />
      )
    case 'event':
      return (
        <EventPicker
          value={series.event}
          onChoose={(event) => choose({ ...question, series: [{ ...series, event }] })}
        />
      )
    case 'where':
      return (
        <FilterEditor
          events={[series.event]}
          value={series.where}
          onChange={(where, how) => {
            const { where: _before, ...rest } = series
            edit({ ...question, series: [where ? { ...rest, where } : rest] }, how)
          }}
        />
      )
    case 'every':
      return (
        <OptionList
          label="Each"
          options={units.map((unit) => ({
            key: unit,
            label: `each ${unit}`,
            value: unit,
            chosen: unit === question.every,
          }))}
          onChoose={(every) => choose({ ...question, every })}
        />
      )
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    case 'breakdown':
      return (
        <BreakdownEditor
          events={[series.event]}
          value={question.breakdowns?.[0]}
          onChange={(breakdown, how) => {
            const { breakdowns: _before, ...rest } = question
            edit(
              breakdown ? { ...rest, breakdowns: [breakdown] } : { ...rest, show: { ...rest.show, as: 'number' } },
              how,
            )
          }}
          onDone={close}
        />
      )
    default:
      return null
  }
}

export const trendView: AnalysisView<TrendQuestion, TrendResult> = {
  name: 'Trend',
  Body: memo(TrendBody),
  Numbers: memo(TrendNumbers),
  Editor: TrendEditor,
  additions: (question) => [
    ...(question.series[0].where ? [] : [{ token: 'where', label: '+ only where…' }]),
    ...(question.breakdowns ? [] : [{ token: 'breakdown', label: '+ for each…' }]),
  ],
}
