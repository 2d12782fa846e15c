import { FindField } from '../../ui/FindField.js'
import { Fragment, useState } from 'react'
import type { PathsResult, Way } from '../../../core/analyses/paths/finish.js'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import { MOST_STEPS, type PathNode, type PathsQuestion } from '../../../core/analyses/paths/question.js'
import { nodeWords } from '../../../core/analyses/paths/words.js'
import { hasMark } from '../../../core/questions/marks.js'
import { countOf, formatDuration, formatNumber, formatPercent } from '../../../core/words/format.js'
import { groupWords, type Words } from '../../../core/words/words.js'
import './paths.css'
import { WayOn } from './WayOn.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'

/** So many rows at first. */
const SHOWN = 20

/** The commonest whole ways, each a row: its events, how many take it, how long it takes. */
export function WayList(props: {
  result: PathsResult
  question: PathsQuestion
  words: Words
  selected: readonly PathsMark[]
  onSelect?: ((mark: PathsMark, add: boolean) => void) | undefined
  /** left out: the study is only read */
  edit?: unknown
}) {
  const { result, question, words, selected, onSelect } = props
  const opens = props.edit !== undefined
  const [opened, setOpened] = useState<ReadonlySet<number>>(new Set())
  const [search, setSearch] = useState('')
  const [all, setAll] = useState(false)
  const { ways, groups, detours } = result
  const whole = result.all.reached ?? result.all.ways
  const typed = search.trim().toLowerCase()
  const textOf = (way: Way) => way.nodes.map((node) => nodeWords(node, words)).join(' › ')
  const found = ways.flatMap((way, place) => (textOf(way).toLowerCase().includes(typed) ? [{ way, place }] : []))
  const shown = all ? found : found.slice(0, SHOWN)
  const straight = detours?.straight ?? null
  if (ways.length === 0) return <p className="soft pad">No way was gone, as asked.</p>
  return (
    <div className="way-list">
      <div className="row wrap between">
        <FindField
          label="Only ways that contain"
          placeholder="Only ways that contain…"
          value={search}
          onChange={setSearch}
        />
        <span className="soft" aria-live="polite">
          {typed
            ? `${countOf(found.length, 'way', 'ways')} of ${formatNumber(ways.length)}`
            : `${countOf(ways.length, 'way', 'ways')}${result.others === null ? ', the commonest' : result.others > 0 ? ` of ${formatNumber(ways.length + result.others)}` : ''}`}
        </span>
      </div>
      <div className="table-scroll" tabIndex={0} role="region" aria-label="The ways" data-table="">
        <table className="numbers ways-table" role={onSelect ? 'grid' : undefined} onKeyDown={moveInTable}>
          <thead>
            <tr>
              <th scope="col">Way</th>
              <th scope="col" className="number">
                {result.counts === 'people' ? 'People' : 'Times'}
              </th>
              <th scope="col" className="number">
                Share
              </th>
              {groups.map(({ key }, g) => (
                <th scope="col" className="number" key={g}>
                  {groupWords(key!, result.rest)}
                </th>
              ))}
              <th scope="col" className="number" title="Median, from the start to its end">
                Time
              </th>
              {straight !== null && (
                <th scope="col" className="number" title="Against the shortest of the common ways">
                  Against the shortest
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {shown.map(({ way, place }, row) => {
              const mark: PathsMark = { kind: 'way', nodes: way.nodes, ...(way.more ? { more: true } : {}) }
              return (
                <Fragment key={place}>
                  <tr className={hasMark(selected, mark) ? 'chosen' : undefined}>
                    <th scope="row">
                      {opens && (
                        <button
                          type="button"
                          className="way-open"
                          aria-expanded={opened.has(place)}
                          aria-label={`Where it goes on after ${textOf(way)}`}
                          disabled={!goesOn(way, question)}
                          onClick={() => setOpened((had) => toggled(had, place))}
                        >
                          {opened.has(place) ? '▾' : '▸'}
                        </button>
                      )}
                      <span className="way-bar" style={{ width: `${(100 * way.count) / ways[0].count}%` }} />
                      <WayMarks nodes={way.nodes} more={way.more} question={question} words={words} />
                    </th>
                    <PeopleCell mark={mark} selected={selected} onSelect={onSelect} first={row === 0}>
                      {formatNumber(way.count)}
                    </PeopleCell>
                    <td className="number">{formatPercent(way.count / whole)}</td>
                    {groups.map((side, g) => (
                      <td className="number" key={g}>
                        {formatPercent(way.counts[g] / (side.reached ?? side.ways))}
                      </td>
                    ))}
                    <td className="number">{way.median === null ? '–' : formatDuration(way.median)}</td>
                    {straight !== null && <td className="number">{against(way, ways[straight])}</td>}
                  </tr>
                  {opened.has(place) && (
                    <tr>
                      <td colSpan={4 + groups.length + (straight === null ? 0 : 1)}>
                        <WayOn way={way} question={question} words={words} />
                      </td>
                    </tr>
                  )}
                </Fragment>
              )
            })}
          </tbody>
        </table>
      </div>
      {found.length > shown.length && (
        <button type="button" className="addition plain" onClick={() => setAll(true)}>
          {formatNumber(found.length - shown.length)} more
        </button>
      )}
    </div>
  )
}

/** Whether it may go on beyond the steps that are followed. */
const goesOn = ({ nodes, more }: Way, { steps, end }: PathsQuestion) =>
  steps < MOST_STEPS && nodes.length === steps && (end === undefined || more)

function toggled(had: ReadonlySet<number>, place: number): ReadonlySet<number> {
  const next = new Set(had)
  if (!next.delete(place)) next.add(place)
  return next
}

/** A way as short marks, one for each event. */
function WayMarks(props: { nodes: readonly PathNode[]; more: boolean; question: PathsQuestion; words: Words }) {
  const { nodes, more, question, words } = props
  const marks = nodes.map((node) => nodeWords(node, words))
  if (nodes.length === 0) return <em className="soft">nothing {question.backward ? 'before' : 'more'}</em>
  return (
    <span className="way-marks">
      {(question.backward ? marks.reverse() : marks).map((text, i) => (
        <span key={i} className="way-mark">
          {text}
        </span>
      ))}
      {more && <span className="way-mark more">and more</span>}
    </span>
  )
}

/** `1 step and 3 m more`. */
function against(way: Way, straight: Way): string {
  const steps = way.nodes.length - straight.nodes.length
  const time = (way.median ?? 0) - (straight.median ?? 0)
  if (way === straight) return 'the shortest'
  const longer = `${formatDuration(Math.abs(time))} ${time < 0 ? 'less' : 'more'}`
  return steps > 0 ? `${countOf(steps, 'step', 'steps')}${way.more ? ' or more' : ''}, ${longer}` : longer
}
