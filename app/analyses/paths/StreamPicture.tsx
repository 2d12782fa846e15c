import { useId, useMemo, useRef, useState, type FocusEvent, type KeyboardEvent, type MouseEvent } from 'react'
import type { PathSide, PathsResult } from '../../../core/analyses/paths/finish.js'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import type { PathsQuestion } from '../../../core/analyses/paths/question.js'
import { stepWords } from '../../../core/analyses/paths/words.js'
import { hasMark } from '../../../core/questions/marks.js'
import { formatNumber, formatPercent } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'
import { chartMove } from '../../ui/arrows.js'
import { useWidth } from '../../charts/useWidth.js'
import './paths.css'
import { namesOf, nodeMark, ribbonMark, tellerOf } from './figures.js'
import { layStream, ribbonId, throughOf, type DrawnNode, type DrawnRibbon } from './layout.js'

type At = { step: number; index: number } | { step: number; from: number; to: number }
const idOf = (at: At) => ('index' in at ? `n ${at.step} ${at.index}` : `r ${ribbonId(at)}`)

/**
 * Columns of events with ribbons between them. What is pointed at lights the ways through it, and is told in full beneath.
 * Arrows go from event to event and over the ribbons between, Enter selects the people.
 */
export function StreamPicture(props: {
  result: PathsResult
  side: PathSide
  question: PathsQuestion
  words: Words
  /** what it is called, where there are several */
  name?: string
  selected: readonly PathsMark[]
  onSelect?: ((mark: PathsMark, add: boolean) => void) | undefined
}) {
  const { result, side, question, words, name, selected, onSelect } = props
  const box = useRef<HTMLDivElement>(null)
  const width = useWidth(box, 880)
  const [lit, setLit] = useState<At | null>(null)
  const [current, setCurrent] = useState<string>('n 0 0')
  const told = useId()
  const backward = question.backward === true
  const stream = useMemo(
    () => layStream(side, namesOf(side, question, words), numbersOf(side), { backward, space: Math.max(300, width) }),
    [side, question, words, backward, width],
  )
  const through = lit && throughOf(stream, lit)
  // What is pointed at draws all anew: what each says is worked out once.
  const teller = useMemo(() => tellerOf(result, side, question, words), [result, side, question, words])
  const tells = (at: At) => ('index' in at ? teller.node(at.step, at.index) : teller.ribbon(at.step, at.from, at.to))
  const markOf = (at: At) =>
    'index' in at ? nodeMark(side, at.step, at.index) : ribbonMark(side, at.step, at.from, at.to)
  const isChosen = (at: At) => hasMark(selected, markOf(at))
  const column = stream.columns[1]?.x ?? stream.width

  /** Up and down among what stands in one column, left and right over the ribbons to the next. */
  const onKey = (event: KeyboardEvent<SVGSVGElement>) => {
    const target = (event.target as Element).closest<SVGElement>('[data-at]')
    if (!target) return
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      const at = places.find((place) => idOf(place) === target.dataset.at)
      if (at) onSelect?.(markOf(at), event.shiftKey || event.ctrlKey)
      return
    }
    const move = chartMove(event.key)
    if (!move) return
    event.preventDefault()
    const groups = columnsOf(stream.nodes, stream.ribbons, backward)
    const g = groups.findIndex((group) => group.some((place) => idOf(place) === target.dataset.at))
    const i = groups[g].findIndex((place) => idOf(place) === target.dataset.at)
    const [down, right] = move
    const group = groups[clamp(g + right, groups.length)]
    const next = right === 0 ? groups[g][clamp(i + down, groups[g].length)] : group[Math.min(i, group.length - 1)]
    setCurrent(idOf(next))
    event.currentTarget.querySelector<SVGElement>(`[data-at="${idOf(next)}"]`)?.focus()
  }
  const places: At[] = [
    ...stream.nodes.map(({ step, index }) => ({ step, index })),
    ...stream.ribbons.map(({ step, from, to }) => ({ step, from, to })),
  ]
  // Tab comes to where one was last; what that was may not be drawn any more.
  const tabbed = places.some((place) => idOf(place) === current) ? current : places[0] && idOf(places[0])
  const at = (place: At) => ({
    'data-at': idOf(place),
    role: onSelect ? 'button' : 'img',
    tabIndex: idOf(place) === tabbed ? 0 : -1,
    'aria-label': tells(place),
    ...(onSelect ? { 'aria-pressed': isChosen(place) } : {}),
    onMouseEnter: () => setLit(place),
    onMouseLeave: () => setLit(null),
    onFocus: (event: FocusEvent) => {
      if (event.currentTarget.matches(':focus-visible')) setLit(place)
      setCurrent(idOf(place))
    },
    onBlur: () => setLit(null),
    onClick: (event: MouseEvent) => onSelect?.(markOf(place), event.shiftKey || event.ctrlKey || event.metaKey),
  })
  return (
    <div className="stream" ref={box}>
      {name && <h3>{name}</h3>}
      <div className="stream-scroll">
        <svg
          data-picture=""
          width={stream.width}
          height={stream.height + 24}
          viewBox={`0 -24 ${stream.width} ${stream.height + 24}`}
          role="group"
          aria-label={`The ways as a stream${name ? `: ${name}` : ''}. Arrow keys go from event to event${onSelect ? ', Enter selects the people' : ''}.`}
          aria-describedby={told}
          onKeyDown={onKey}
          className={lit ? 'lighting' : ''}
        >
          {stream.columns.map(({ step, x }) => (
            <text key={step} className="stream-step" x={x} y={-10}>
              {stepWords(step, question)}
            </text>
          ))}
          {stream.ribbons.map((ribbon) => {
            const place = { step: ribbon.step, from: ribbon.from, to: ribbon.to }
            const ends = 'ends' in side.steps[ribbon.step - 1].nodes[ribbon.to].place
            const on = through?.ribbons.has(ribbonId(ribbon)) ?? false
            return (
              <path
                key={ribbonId(ribbon)}
                d={ribbon.path}
                strokeWidth={ribbon.width}
                className={`stream-ribbon${ends ? ' ends' : ''}${on ? ' lit' : ''}${isChosen(place) ? ' chosen' : ''}`}
                {...at(place)}
              >
                <title>{tells(place)}</title>
              </path>
            )
          })}
          {stream.nodes.map((node) => {
            const { step, index, x, y, height } = node
            const place = { step, index }
            const what = step === 0 ? 'start' : kindOf(side, step, index)
            const on = through?.nodes.has(`${step} ${index}`) ?? false
            return (
              <g
                key={idOf(place)}
                className={`stream-node ${what}${on ? ' lit' : ''}${isChosen(place) ? ' chosen' : ''}`}
              >
                <g className="stream-press" {...at(place)}>
                  <title>{tells(place)}</title>
                  <rect
                    className="stream-reach"
                    x={x}
                    y={y - 2}
                    width={column - 6}
                    height={Math.max(height + 4, labelOf(node))}
                  />
                  <rect className="stream-bar" x={x} y={y} width={node.width} height={height} rx="2" />
                </g>
                {/* What it is called stands in its label with all else that is known of it. */}
                <text aria-hidden="true" x={x + node.width + 6} y={y + 10}>
                  {node.lines.map((line, i) => (
                    <tspan key={i} className="stream-name" x={x + node.width + 6} dy={i === 0 ? 0 : 15}>
                      {line}
                    </tspan>
                  ))}
                  {node.numbers.map((line) => (
                    <tspan key={line} className="stream-count" x={x + node.width + 6} dy={15}>
                      {line}
                    </tspan>
                  ))}
                </text>
              </g>
            )
          })}
        </svg>
      </div>
      <p className="stream-told" id={told} aria-live="polite">
        {lit ? tells(lit) : 'Point at an event or a ribbon to see all of it.'}
      </p>
      {stream.left > 0 && (
        <p className="hint">
          The {formatNumber(stream.ribbons.length)} largest ribbons are drawn; {formatNumber(stream.left)} small ones
          are not.
        </p>
      )}
    </div>
  )
}

const labelOf = ({ lines, numbers }: DrawnNode) => 15 * (lines.length + numbers.length) + 4
const clamp = (i: number, length: number) => Math.max(0, Math.min(length - 1, i))

function kindOf(side: PathSide, step: number, index: number): string {
  const { place } = side.steps[step - 1].nodes[index]
  return 'ends' in place ? 'ends' : 'rest' in place ? 'rest' : 'event'
}

/**
 * What stands under the names: how many, their share, and where nearly all of them come from, if that is not where most
 * events of the ways do.
 */
function numbersOf(side: PathSide): string[][][] {
  const bySource = new Map<string | null, number>()
  for (const { nodes } of side.steps)
    for (const node of nodes)
      for (const { source, count } of node.sources) bySource.set(source, (bySource.get(source) ?? 0) + count)
  const [usual] = [...bySource].sort((a, b) => b[1] - a[1]).map(([source]) => source)
  const told = (count: number) => [
    formatNumber(count),
    ...(side.ways > 0
      ? [count > 0 && count < 0.005 * side.ways ? SMALL_SHARE : formatPercent(count / side.ways, 0)]
      : []),
  ]
  return [
    [told(side.ways)],
    ...side.steps.map(({ nodes }) =>
      nodes.map(({ count, sources: [first] }) => [
        ...told(count),
        ...(first?.source && first.source !== usual && first.count >= 0.9 * count ? [first.source] : []),
      ]),
    ),
  ]
}

const SMALL_SHARE = '<\u20091\u202f%'

/** What arrows go over, from left to right: the nodes of a step, the ribbons to the next, and so on. */
function columnsOf(nodes: readonly DrawnNode[], ribbons: readonly DrawnRibbon[], backward: boolean): At[][] {
  const steps = [...new Set(nodes.map(({ step }) => step))].sort((a, b) => a - b)
  const groups = steps.flatMap((step): At[][] => {
    const own = nodes.filter((node) => node.step === step).sort((a, b) => a.y - b.y)
    const into = ribbons.filter((ribbon) => ribbon.step === step)
    return [into.map(({ from, to }) => ({ step, from, to })), own.map(({ index }) => ({ step, index }))]
  })
  const some = groups.filter((group) => group.length > 0)
  return backward ? some.reverse() : some
}
