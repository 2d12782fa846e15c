import type { GrowthMark } from '../../../core/analyses/growth/marks.js'
import { sankey, sankeyJustify, sankeyLinkHorizontal } from 'd3-sankey'
import { useRef } from 'react'
import type { GrowthResult, GrowthStep } from '../../../core/analyses/growth/finish.js'
import { growthStates, type GrowthQuestion, type GrowthState } from '../../../core/analyses/growth/question.js'
import { countOf, formatNumber } from '../../../core/words/format.js'
import { seriesVar } from '../../look/palette.js'
import { useWidth } from '../../charts/useWidth.js'
import type { BodyProps } from '../view.js'
import { amongMarks } from '../../../core/questions/marks.js'
import { FROM, FROM_NAMES, markOf, STATE_NAMES, STATE_PAINT } from './states.js'

interface Place {
  id: string
  name: string
  colour: string
}
interface Flow {
  source: string
  target: string
  value: number
  from: (typeof FROM)[number]
  to: GrowthState
}

const HEIGHT = 300
const colourOf = (state: GrowthState) => seriesVar(STATE_PAINT[state] as number, state === 'idle')

/** Ribbons from what people were in the interval before to what they are; each ribbon is its people. */
export function FlowPicture(props: BodyProps<GrowthQuestion, GrowthResult, GrowthMark> & { step: GrowthStep }) {
  const { step, selected, onSelect } = props
  const box = useRef<HTMLDivElement>(null)
  const width = Math.max(320, useWidth(box, 860))
  const flows = step.flows!.map(({ from, to, people }): Flow => ({
    source: `from ${from}`,
    target: `to ${to}`,
    value: people,
    from,
    to,
  }))
  if (flows.length === 0) return <p className="soft pad">Nobody has done it up to here.</p>
  const places: Place[] = [
    ...FROM.map((from) => ({
      id: `from ${from}`,
      name: FROM_NAMES[from],
      colour: from === 'unseen' ? 'var(--faint)' : colourOf(from),
    })),
    ...growthStates.map((to) => ({ id: `to ${to}`, name: STATE_NAMES[to], colour: colourOf(to) })),
  ].filter(({ id }) => flows.some(({ source, target }) => source === id || target === id))
  const side = width < 560 ? 84 : 150
  const layout = sankey<Place, Flow>()
    .nodeId(({ id }) => id)
    .nodeAlign(sankeyJustify)
    .nodeSort(null)
    .linkSort(null)
    .nodeWidth(12)
    .nodePadding(14)
    .extent([
      [side, 8],
      [width - side, HEIGHT - 8],
    ])({ nodes: places.map((each) => ({ ...each })), links: flows.map((each) => ({ ...each })) })
  const path = sankeyLinkHorizontal<Place, Flow>()
  const isChosen = amongMarks(selected)
  return (
    <div className="flow-picture" ref={box}>
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Flows between states"
      >
        {layout.links.map((link) => {
          const { from, to, value } = link
          const mark = markOf(step, [to], from)
          const says = `${FROM_NAMES[from]} before, now ${STATE_NAMES[to].toLowerCase()}: ${countOf(value, 'person', 'people')}`
          const press = onSelect && ((add: boolean) => onSelect(mark, add))
          return (
            <path
              key={`${from} ${to}`}
              d={path(link) ?? ''}
              className={`flow${isChosen(mark) ? ' chosen' : ''}${press ? ' pressable' : ''}`}
              stroke={colourOf(to)}
              strokeWidth={Math.max(1.5, link.width ?? 0)}
              fill="none"
              {...(press
                ? {
                    role: 'button',
                    tabIndex: 0,
                    'aria-label': says,
                    'aria-pressed': isChosen(mark),
                    onClick: (event) => press(event.shiftKey || event.ctrlKey || event.metaKey),
                    onKeyDown: (event) => {
                      if (event.key !== 'Enter' && event.key !== ' ') return
                      event.preventDefault()
                      press(event.shiftKey || event.ctrlKey)
                    },
                  }
                : {})}
            >
              <title>{says}</title>
            </path>
          )
        })}
        {layout.nodes.map(({ id, name, colour, x0 = 0, x1 = 0, y0 = 0, y1 = 0, value = 0 }) => {
          const left = x0 < width / 2
          return (
            <g key={id}>
              <rect x={x0} y={y0} width={x1 - x0} height={Math.max(2, y1 - y0)} fill={colour} rx="2" />
              <text
                x={left ? x0 - 8 : x1 + 8}
                y={(y0 + y1) / 2}
                dy="0.34em"
                textAnchor={left ? 'end' : 'start'}
                className="flow-name"
              >
                {name} <tspan className="flow-number">{formatNumber(value)}</tspan>
              </text>
            </g>
          )
        })}
      </svg>
    </div>
  )
}
