import type { OverlapMark } from '../../../core/analyses/overlap/marks.js'
import { lazy, memo, Suspense } from 'react'
import type { OverlapResult } from '../../../core/analyses/overlap/finish.js'
import type { OverlapQuestion } from '../../../core/analyses/overlap/question.js'
import { formatNumber } from '../../../core/words/format.js'
import { seriesVar } from '../../look/palette.js'
import { Mounted } from '../../ui/Mounted.js'
import type { KindView, BodyProps } from '../view.js'
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

export const view: KindView<OverlapQuestion, OverlapResult, OverlapMark> = {
  Body: memo(OverlapBody),
  Numbers: OverlapRows,
}
