import Button from '@mui/material/Button'
import { LEAST_OVERLAPPING, MOST_OVERLAPPING, type OverlapQuestion } from '../../../core/analyses/overlap/question.js'
import { MEASURES } from '../../../core/analyses/trend/measures.js'
import type { TrendSeries } from '../../../core/analyses/trend/question.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { SidesEditor } from '../../segments/SidesEditor.js'
import { MeasureEditor } from '../trend/MeasureEditor.js'
import type { EditorProps } from '../view.js'

export function OverlapEditor({ token, question, edit, close }: EditorProps<OverlapQuestion>) {
  const { figure } = question
  const put = (next: TrendSeries, how?: 'choose' | 'type') => edit({ ...question, figure: next }, how)
  switch (token) {
    case 'sides':
      return (
        <SidesEditor
          value={{ of: 'segments', sides: question.sides }}
          most={MOST_OVERLAPPING}
          least={LEAST_OVERLAPPING}
          plain
          onChange={({ sides }) => edit({ ...question, sides })}
        />
      )
    case 'figure':
      return (
        <EventPicker
          value={null}
          onChoose={(event) => {
            put({ event, measure: 'events' })
            close()
          }}
        />
      )
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
  }
  if (!figure) return null
  switch (token) {
    case 'measure':
      return (
        <div className="stack">
          <MeasureEditor series={figure} onChange={put} onDone={close} />
          <Button
            color="error"
            onClick={() => {
              const { figure: _before, ...rest } = question
              edit(rest)
              close()
            }}
          >
            Without a figure
          </Button>
        </div>
      )
    case 'of':
      return (
        <PropertyPicker
          events={[figure.event]}
          value={figure.of ?? null}
          {...(MEASURES[figure.measure].of === 'number' ? { kind: 'number' as const } : {})}
          onChoose={({ property }) => {
            put({ ...figure, of: property })
            close()
          }}
        />
      )
    case 'event':
      return (
        <EventPicker
          value={figure.event}
          onChoose={(event) => {
            put({ ...figure, event })
            close()
          }}
        />
      )
    case 'where':
      return (
        <FilterEditor
          events={[figure.event]}
          value={figure.where}
          onChange={(where, how) => {
            const { where: _before, ...rest } = figure
            put(where ? { ...rest, where } : rest, how)
          }}
        />
      )
    default:
      return null
  }
}
