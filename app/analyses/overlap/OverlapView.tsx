import type { OverlapMark } from '../../../core/analyses/overlap/marks.js'
import { lazy, memo, Suspense } from 'react'
import Button from '@mui/material/Button'
import type { OverlapResult } from '../../../core/analyses/overlap/finish.js'
import { LEAST_OVERLAPPING, MOST_OVERLAPPING, type OverlapQuestion } from '../../../core/analyses/overlap/question.js'
import { MEASURES } from '../../../core/analyses/trend/measures.js'
import type { TrendSeries } from '../../../core/analyses/trend/question.js'
import { formatNumber } from '../../../core/words/format.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { seriesVar } from '../../look/palette.js'
import { SidesEditor } from '../../segments/SidesEditor.js'
import { Mounted } from '../../ui/Mounted.js'
import { MeasureEditor } from '../trend/MeasureEditor.js'
import type { KindView, BodyProps, EditorProps } from '../view.js'
import { OverlapRows } from './OverlapRows.js'

const Picture = lazy(() => import('./OverlapPicture.js'))

/** Up to three segments are drawn; four and five have their sizes here and their parts in the rows beneath. */
function OverlapBody({ result, selected, onSelect }: BodyProps<OverlapQuestion, OverlapResult, OverlapMark>) {
  const { segments } = result
  if (segments.length > 3) {
    const most = Math.max(1, ...segments.map(({ people }) => people))
    return (
      <ul className="overlap-sizes">
        {segments.map(({ name, people }, place) => (
          <li key={place}>
            <button
              type="button"
              className="word-button"
              disabled={!onSelect || people === 0}
              onClick={(event) =>
                onSelect?.({ kind: 'part', in: [place], more: true }, event.shiftKey || event.ctrlKey)
              }
            >
              {name}
            </button>
            <span className="bar">
              <i style={{ width: `${(people / most) * 100}%`, background: seriesVar(place) }} />
            </span>
            <strong>{formatNumber(people)}</strong>
          </li>
        ))}
      </ul>
    )
  }
  const marked = selected.flatMap((mark) => (mark.kind === 'part' && !mark.more ? [mark.in] : []))
  return (
    <div className="overlap-space">
      <Mounted>
        <Suspense>
          <Picture
            result={result}
            selected={marked}
            onPart={onSelect && ((inside, add) => onSelect({ kind: 'part', in: inside }, add))}
          />
        </Suspense>
      </Mounted>
    </div>
  )
}

function OverlapEditor({ token, question, edit, close }: EditorProps<OverlapQuestion>) {
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

export const view: KindView<OverlapQuestion, OverlapResult, OverlapMark> = {
  Body: memo(OverlapBody),
  Numbers: OverlapRows,
  Editor: OverlapEditor,
}
