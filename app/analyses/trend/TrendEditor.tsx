import { COMPARED_TO, type Comparison } from '../../../core/time/comparison.js'
import { READINGS } from './readings.js'
import { MOST_SERIES, type TrendQuestion, type TrendSeries } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { readingsFor } from '../../../core/analyses/trend/shown.js'
import { units } from '../../../core/time/range.js'
import { CompareEditor } from '../../editors/CompareEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { OptionList } from '../../editors/OptionList.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { MEASURES } from '../../../core/analyses/trend/measures.js'
import type { EditorProps } from '../view.js'
import { FormulaEditor, SeriesEditor, SmoothEditor } from './LineEditors.js'
import { MeasureEditor } from './MeasureEditor.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { lastBreakdown } from '../additions.js'

/** The editor of a token: its name, and for those of series, breakdowns and formulas their place. */
export function TrendEditor({ token, question, result, edit, close, open }: EditorProps<TrendQuestion, TrendResult>) {
  const [name, place] = token.split(/ (?=\d+$)/)
  const index = Number(place ?? 0)
  const series = question.series[index] ?? question.series[0]
  const putSeries = (next: TrendSeries, how?: 'choose' | 'type') =>
    edit({ ...question, series: question.series.with(index, next) }, how)
  const choose = (next: TrendQuestion) => {
    edit(next)
    close()
  }
  switch (name) {
    case 'measure':
      return <MeasureEditor series={series} onChange={putSeries} onDone={close} />
    case 'of':
      return (
        <PropertyPicker
          events={[series.event]}
          value={series.of ?? null}
          {...(MEASURES[series.measure].of === 'number' ? { kind: 'number' as const } : {})}
          onChoose={({ property }) => {
            putSeries({ ...series, of: property })
            close()
          }}
        />
      )
    case 'event':
      return (
        <EventPicker
          value={series.event}
          onChoose={(event) => {
            putSeries({ ...series, event })
            close()
          }}
        />
      )
    case 'another event':
      return (
        <EventPicker
          value={null}
          onChoose={(event) => {
            if (question.series.length < MOST_SERIES)
              choose({ ...question, series: [...question.series, { event, measure: 'people' }] })
          }}
        />
      )
    case 'where':
      return (
        <FilterEditor
          events={[series.event]}
          value={series.where}
          onChange={(where, how) => {
            const { where: _before, ...rest } = series
            putSeries(where ? { ...rest, where } : rest, how)
          }}
        />
      )
    case 'name':
      return <SeriesEditor key={index} question={question} index={index} edit={edit} close={close} />
    case 'formula':
      return <FormulaEditor key={index} question={question} index={index} edit={edit} close={close} />
    case 'compare':
      return (
        <CompareEditor
          choices={COMPARED_TO}
          value={question.compare}
          onChange={(compare, how) => edit(compared(question, compare), how)}
          close={close}
          onGroups={open && (() => open(lastBreakdown(question)))}
        />
      )
    case 'smooth':
      return <SmoothEditor question={question} edit={edit} close={close} />
    case 'reading':
      return (
        <OptionList
          label="Read as"
          options={readingsFor(question).map((as) => ({
            key: as,
            label: READINGS[as],
            value: as,
            chosen: as === question.show.as,
          }))}
          onChoose={(as) => choose({ ...question, show: { ...question.show, as } })}
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
        <BreakdownsEditor
          token={token}
          events={question.series.map(({ event }) => event)}
          value={question.breakdowns}
          found={result?.keys ?? []}
          onChange={(breakdowns, how) => {
            const { breakdowns: _before, ...rest } = question
            const { off: _off, ...show } = rest.show
            const reading = !breakdowns && show.as === 'share' ? { ...show, as: 'number' as const } : show
            edit(breakdowns ? { ...rest, show, breakdowns } : { ...rest, show: reading }, how)
          }}
          onDone={close}
          onWeek={() =>
            edit({
              ...question,
              breakdowns: [
                { by: { of: 'weekday' }, keep: 10 },
                { by: { of: 'hour' }, keep: 24 },
              ],
              show: { form: 'week', as: 'number' },
            })
          }
        />
      )
    default:
      return null
  }
}

function compared({ compare: _before, ...rest }: TrendQuestion, compare: Comparison | undefined): TrendQuestion {
  return compare ? { ...rest, compare } : rest
}
