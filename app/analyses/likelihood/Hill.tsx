import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { KeptModel } from '../../../core/analyses/likelihood/model.js'
import { cutsOf, MOST_CUTS } from '../../../core/analyses/likelihood/question.js'
import { slicesOf } from '../../../core/analyses/likelihood/slices.js'
import { chanceWords, partWords } from '../../../core/analyses/likelihood/words.js'
import { logistic, oddsOf } from '../../../core/stats/logistic.js'
import { hasMark } from '../../../core/questions/marks.js'
import { capital, countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import type { Props } from './props.js'

const WIDE = 820
/** A cut that was not moved for so long, ms, has come to rest. */
const RESTS_MS = 350
const HIGH = 210
const FOOT = 26
const TICKS = [0.0001, 0.001, 0.01, 0.03, 0.1, 0.3, 0.5, 0.7, 0.9, 0.97, 0.99, 0.999]

/** Everyone by their likelihood, as a hill, with cuts that are dragged or moved by keys. */
export function Hill(props: Props & { scored: NonNullable<Props['result']['scored']>; model: KeptModel }) {
  const { question, scored, model, edit, selected, onSelect } = props
  const picture = useRef<SVGSVGElement>(null)
  // A cut follows the hand at once; the question is changed when it comes to rest.
  const [moving, setMoving] = useState<readonly number[] | null>(null)
  const asked = cutsOf(question).join()
  useEffect(() => setMoving((cuts) => (cuts?.join() === asked ? null : cuts)), [asked])
  const rest = useRef({ timer: 0, change: (_cuts: readonly number[]) => {} })
  useEffect(() => {
    rest.current.change = (cuts) => edit?.({ ...question, show: { ...question.show, cuts: [...cuts] } })
  })
  useEffect(() => {
    window.clearTimeout(rest.current.timer)
    if (moving && moving.join() !== asked)
      rest.current.timer = window.setTimeout(() => rest.current.change(moving), RESTS_MS)
  }, [moving, asked])
  const { hill, lowest } = scored
  if (hill.length === 0) return <p className="pad soft">Nobody is there now who could do it.</p>
  const cuts = moving ?? cutsOf(question)
  const [low, high] = [oddsOf(hill[0].from), oddsOf(hill.at(-1)!.to)]
  const most = Math.max(...hill.map(({ people }) => people))
  const span = high - low || 1
  const x = (chance: number) => ((Math.min(high, Math.max(low, oddsOf(chance))) - low) / span) * WIDE
  const slices = slicesOf(scored, model, cuts)
  const setCuts = (next: readonly number[]) => edit?.({ ...question, show: { ...question.show, cuts: [...next] } })

  function moveTo(index: number, wanted: number): void {
    const least = (cuts[index - 1] ?? 0) + 1
    const last = (cuts[index + 1] ?? 100) - 1
    const next = Math.min(last, Math.max(least, wanted))
    if (next !== cuts[index]) setMoving(cuts.with(index, next))
  }

  function dragged(event: PointerEvent<SVGGElement>, index: number): void {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return
    const box = picture.current!.getBoundingClientRect()
    const chance = logistic(low + ((event.clientX - box.left) / box.width) * span)
    // The share of people who are at least so likely.
    const share = lowest.findIndex((each, at) => at > 0 && each <= chance)
    moveTo(index, share < 0 ? 99 : share)
  }

  function pressed(event: KeyboardEvent, index: number): void {
    const by = { ArrowLeft: 1, ArrowDown: 1, ArrowRight: -1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    moveTo(index, cuts[index] + by)
  }

  return (
    <figure className="hill">
      <figcaption>
        {countOf(scored.people, 'person', 'people')} by their likelihood
        {edit && cuts.length < MOST_CUTS && (
          <button
            type="button"
            className="addition"
            onClick={() => setCuts([...cuts, Math.min(99, Math.round((cuts.at(-1)! + 100) / 2))])}
          >
            + another cut
          </button>
        )}
        {edit && cuts.length > 1 && (
          <button type="button" className="addition" onClick={() => setCuts(cuts.slice(0, -1))}>
            Take the second cut away
          </button>
        )}
      </figcaption>
      <svg ref={picture} viewBox={`0 0 ${WIDE} ${HIGH + FOOT}`} role="group" aria-label="Everyone by their likelihood">
        {hill.map(({ from, to, people }, i) => {
          const [left, right] = [x(from), x(to)]
          const high1 = (people / most) * (HIGH - 24)
          const isFirst = from >= lowest[cuts[0]]
          return (
            <rect
              key={i}
              className={isFirst ? 'likely' : ''}
              x={left}
              y={HIGH - high1}
              width={Math.max(1, right - left - 1)}
              height={high1}
            >
              <title>{`${countOf(people, 'person', 'people')}: ${chanceWords(from)} to ${chanceWords(to)}`}</title>
            </rect>
          )
        })}
        <line className="foot" x1="0" x2={WIDE} y1={HIGH} y2={HIGH} />
        {TICKS.filter((tick) => oddsOf(tick) > low + span * 0.03 && oddsOf(tick) < high - span * 0.03).map((tick) => (
          <text key={tick} x={x(tick)} y={HIGH + 17} textAnchor="middle">
            {chanceWords(tick)}
          </text>
        ))}
        {cuts.map((cut, i) => {
          const at = x(lowest[cut])
          const isRight = at > WIDE * 0.75
          const said = `${capital(partWords({ from: 0, to: cut }))}: from ${chanceWords(lowest[cut])} on`
          return (
            <g
              key={i}
              className="cut"
              role="slider"
              tabIndex={edit ? 0 : -1}
              aria-label={`Cut ${i + 1}, in percent of people`}
              aria-valuenow={cut}
              aria-valuemin={1}
              aria-valuemax={99}
              aria-valuetext={said}
              onPointerDown={(event) => edit && event.currentTarget.setPointerCapture(event.pointerId)}
              onPointerMove={(event) => dragged(event, i)}
              onKeyDown={(event) => edit && pressed(event, i)}
            >
              <rect className="grip" x={at - 10} y="0" width="20" height={HIGH} />
              <line x1={at} x2={at} y1="0" y2={HIGH} />
              <path d={`M${at - 6},0 h12 l-6,9 z`} />
              <text x={at + (isRight ? -10 : 10)} y={12 + i * 15} textAnchor={isRight ? 'end' : 'start'}>
                {said}
              </text>
            </g>
          )
        })}
      </svg>
      <ul className="slices">
        {slices.map(({ from, to, people, expected, caught }) => {
          const mark = { kind: 'likely' as const, from, to }
          return (
            <li key={from}>
              <button
                type="button"
                aria-pressed={hasMark(selected, mark)}
                disabled={!onSelect || people === 0}
                onClick={(press) => onSelect?.(mark, press.shiftKey || press.ctrlKey || press.metaKey)}
              >
                <strong>{capital(partWords({ from, to }))}</strong>
                <span>
                  {countOf(people, 'person', 'people')}, {formatNumber(Math.round(expected))} expected
                  {caught === null ? '' : `; held ${formatPercent(caught, 0)} last time`}
                </span>
              </button>
            </li>
          )
        })}
      </ul>
    </figure>
  )
}
