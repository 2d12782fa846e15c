import { sentenceText } from '../../../core/words/sentence.js'
import { memo, useState } from 'react'
import { partName } from '../../../core/analyses/overlap/findings.js'
import type { OverlapRegion, OverlapResult } from '../../../core/analyses/overlap/finish.js'
import type { OverlapQuestion } from '../../../core/analyses/overlap/question.js'
import type { OverlapMark } from '../../../core/analyses/overlap/marks.js'
import { hasMark } from '../../../core/questions/marks.js'
import { formatAs, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { figureParts } from '../../../core/analyses/trend/sentence.js'
import { seriesVar } from '../../look/palette.js'
import { moveInTable } from '../../ui/moveInTable.js'
import type { BodyProps } from '../view.js'

/** All parts that lie in a segment, in one press. */
const wholeOf = (place: number): OverlapMark => ({ kind: 'part', in: [place], more: true })

type Sort = 'people' | 'parts' | 'figure'

/** A row for each part: which segments it lies in, how many people, and the figure. Pressing one selects its people. */
export const OverlapRows = memo(function OverlapRows(props: BodyProps<OverlapQuestion, OverlapResult, OverlapMark>) {
  const { question, result, words, selected, onSelect } = props
  const { segments, regions, any, unit } = result
  const [sort, setSort] = useState<Sort>('people')
  const [empty, setEmpty] = useState(false)
  const shown = sorted(regions, sort).filter(({ people }) => empty || people > 0)
  const hidden = regions.filter(({ people }) => people === 0).length
  const most = Math.max(1, ...regions.map(({ people }) => people))
  const figure = question.figure && sentenceText(figureParts(question.figure, words))
  const isSelected = (region: OverlapRegion) =>
    selected.some((mark) => mark.kind === 'part' && !mark.more && mark.in.join() === region.in.join())
  const title = (name: string, place: number) => (
    <span>
      <i style={{ background: seriesVar(place) }} />
      {name}
    </span>
  )
  const head = (key: Sort, label: string) => (
    <button type="button" className="sort-button" onClick={() => setSort(key)} aria-pressed={sort === key}>
      {label}
      {sort === key && <span aria-hidden="true"> ↓</span>}
    </button>
  )
  return (
    <div className="table-scroll" data-table>
      <table className="numbers overlap-rows" onKeyDown={moveInTable}>
        <thead>
          <tr>
            {segments.map(({ name }, place) => (
              <th scope="col" key={place} className="dot-head" title={name}>
                {onSelect ? (
                  <button
                    type="button"
                    className="sort-button"
                    aria-pressed={hasMark(selected, wholeOf(place))}
                    title={`Everybody in ${name}: all parts that lie in it`}
                    onClick={(event) => onSelect(wholeOf(place), event.shiftKey || event.ctrlKey || event.metaKey)}
                  >
                    {title(name, place)}
                  </button>
                ) : (
                  title(name, place)
                )}
              </th>
            ))}
            <th scope="col">{head('parts', 'Part')}</th>
            <th scope="col" className="number" aria-sort={sort === 'people' ? 'descending' : 'none'}>
              {head('people', 'People')}
            </th>
            <th scope="col" className="bar-head" aria-hidden="true" />
            <th scope="col" className="number">
              of all in any
            </th>
            {unit && (
              <th scope="col" className="number" aria-sort={sort === 'figure' ? 'descending' : 'none'}>
                {head('figure', figure ?? '')}
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {shown.map((region) => {
            const name = partName(region, result)
            return (
              <tr key={region.in.join()} className={isSelected(region) ? 'selected' : ''}>
                {segments.map((_segment, place) => (
                  <td key={place} className="dot">
                    <i
                      className={region.in.includes(place) ? 'in' : 'out'}
                      style={region.in.includes(place) ? { background: seriesVar(place) } : undefined}
                    />
                    <span className="sr-only">{region.in.includes(place) ? 'in' : 'not in'}</span>
                  </td>
                ))}
                <th scope="row">{name}</th>
                <td className="number">
                  {onSelect && region.people > 0 ? (
                    <button
                      type="button"
                      className="cell-button"
                      data-cell
                      aria-pressed={isSelected(region)}
                      aria-label={`${name}: ${formatNumber(region.people)} people. Select them.`}
                      onClick={(event) =>
                        onSelect(
                          { kind: 'part', in: region.in } satisfies OverlapMark,
                          event.shiftKey || event.ctrlKey || event.metaKey,
                        )
                      }
                    >
                      {formatNumber(region.people)}
                    </button>
                  ) : (
                    formatNumber(region.people)
                  )}
                </td>
                <td className="bar-cell" aria-hidden="true">
                  <i style={{ width: `${(region.people / most) * 100}%` }} />
                </td>
                <td className="number">{any > 0 ? formatPercent(region.people / any) : MISSING}</td>
                {unit && (
                  <td className="number">
                    {region.figure === null ? MISSING : formatAs(region.figure, unit, words.currency)}
                  </td>
                )}
              </tr>
            )
          })}
        </tbody>
        <tfoot>
          <tr>
            <td colSpan={segments.length} />
            <th scope="row">In any of them</th>
            <td className="number">{formatNumber(any)}</td>
            <td />
            <td className="number">{any > 0 ? formatPercent(1) : MISSING}</td>
            {unit && <td />}
          </tr>
        </tfoot>
      </table>
      {hidden > 0 && (
        <label className="hint overlap-empty">
          <input type="checkbox" checked={empty} onChange={(event) => setEmpty(event.target.checked)} /> show{' '}
          {formatNumber(hidden)} empty {hidden === 1 ? 'part' : 'parts'} too
        </label>
      )}
    </div>
  )
})

function sorted(regions: readonly OverlapRegion[], sort: Sort): OverlapRegion[] {
  if (sort === 'parts') return [...regions]
  const of = (region: OverlapRegion) => (sort === 'people' ? region.people : (region.figure ?? -Infinity))
  return [...regions].sort((a, b) => of(b) - of(a))
}
