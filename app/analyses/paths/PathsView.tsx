import { lazy, Suspense, useRef } from 'react'
import type { PathsResult } from '../../../core/analyses/paths/finish.js'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import type { PathForm, PathsQuestion } from '../../../core/analyses/paths/question.js'
import { placeWords, stepWords, waysWords } from '../../../core/analyses/paths/words.js'
import { formatDuration, formatNumber, formatPercent, joinWords } from '../../../core/words/format.js'
import { groupWords } from '../../../core/words/words.js'
import { useWidth } from '../../charts/useWidth.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { deferred } from '../../page/deferred.js'
import { Mounted } from '../../ui/Mounted.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { Segmented } from '../../ui/Segmented.js'
import type { BodyProps, KindView } from '../view.js'
import { nodeMark, takenSteps } from './figures.js'

const StreamPicture = lazy(async () => ({ default: (await import('./StreamPicture.js')).StreamPicture }))
const DifferenceList = deferred(async () => (await import('./DifferenceList.js')).DifferenceList)
const WayList = deferred(async () => (await import('./WayList.js')).WayList)

type Props = BodyProps<PathsQuestion, PathsResult, PathsMark>

/** Streams of more groups cannot be read beside each other. */
const MOST_STREAMS = 3
/** On a phone the list of ways comes first, px. */
const NARROW = 560

function PathsBody(props: Props) {
  const { question, result, edit } = props
  const { form, difference } = question.show
  const box = useRef<HTMLDivElement>(null)
  const narrow = useWidth(box, 880) < NARROW
  const { groups } = result
  return (
    <div ref={box}>
      {edit && (
        <div className="chart-bar">
          <Segmented<PathForm>
            label="Form"
            value={form}
            options={[
              { value: 'stream', label: 'Stream' },
              { value: 'ways', label: 'Ways' },
            ]}
            onChange={(next) => edit({ ...question, show: { form: next } })}
          />
          <Segmented<'people' | 'occurrences'>
            label="What is counted"
            value={question.count ?? 'people'}
            options={[
              { value: 'people', label: 'People' },
              { value: 'occurrences', label: 'Occurrences' },
            ]}
            onChange={(next) => {
              const { count: _before, ...rest } = question
              edit(next === 'people' ? rest : { ...rest, count: next })
            }}
          />
          {groups.length > 0 && form === 'stream' && (
            <Segmented<'beside' | 'difference'>
              label="Groups"
              value={difference ? 'difference' : 'beside'}
              options={[
                { value: 'beside', label: 'Side by side' },
                { value: 'difference', label: 'Difference' },
              ]}
              onChange={(next) =>
                edit({ ...question, show: { form, ...(next === 'difference' ? { difference: true as const } : {}) } })
              }
            />
          )}
          <span className="soft chart-bar-end">
            {question.unfolded ? 'every repeat by itself' : 'repeats folded'} · {question.keep} ways a step
            {question.wide && `, all of them at step ${joinWords(question.wide.map(String), 'and')}`}
          </span>
        </div>
      )}
      {result.all.ways === 0 ? (
        <p className="soft pad">No way begins in this time, as asked. Ask about a longer time, or fewer conditions.</p>
      ) : form === 'ways' ? (
        <Suspense>
          <WayList {...props} />
        </Suspense>
      ) : difference && groups.length > 0 ? (
        <Suspense>
          <DifferenceList {...props} />
        </Suspense>
      ) : (
        <Mounted>
          <Suspense>
            {question.end && <GotThere {...props} />}
            {narrow && <WayList {...props} />}
            <Streams {...props} />
          </Suspense>
        </Mounted>
      )}
    </div>
  )
}

function Streams(props: Props) {
  const { result } = props
  const { groups, all } = result
  if (groups.length === 0) return <StreamPicture {...props} side={all} />
  return (
    <>
      {groups.slice(0, MOST_STREAMS).map((side, g) => (
        <StreamPicture
          key={g}
          {...props}
          side={side}
          name={`${groupWords(side.key!, result.rest)}: ${waysWords(result, side.ways)}, as shares of their own`}
        />
      ))}
      {groups.length > MOST_STREAMS && (
        <p className="hint">The {MOST_STREAMS} largest groups are drawn; all of them stand in the table.</p>
      )}
    </>
  )
}

/** How many get to where the ways have to lead, and how many do not. */
function GotThere({ result, selected, onSelect }: Props) {
  const { all } = result
  const reached = all.reached!
  const parts: [string, number, boolean][] = [
    ['got there', reached, true],
    ['did not get there', all.ways - reached, false],
  ]
  return (
    <p className="got-there">
      {parts.map(([name, count, got]) => {
        const mark: PathsMark = { kind: 'anchor', got }
        const chosen = selected.some((each) => each.kind === 'anchor' && each.got === got && !each.group)
        return (
          <button
            key={name}
            type="button"
            className={`got-part${got ? '' : ' not'}`}
            disabled={!onSelect || count === 0}
            aria-pressed={chosen}
            onClick={(event) => onSelect?.(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
          >
            <b>{formatPercent(count / all.ways)}</b> {name}, {waysWords(result, count)}
          </button>
        )
      })}
    </p>
  )
}

/** A row for each event at each step. */
function PathsNumbers({ question, result, words, selected, onSelect }: Props) {
  const { all, groups } = result
  const steps = takenSteps(all)
  return (
    <FigureTable
      selects={onSelect !== undefined}
      heads={[
        'Step',
        { text: 'What', plain: true },
        result.counts === 'people' ? 'People' : 'Times',
        '% of the start',
        '% of the step before',
        { text: 'Time from the start', title: 'Median' },
        ...groups.map(({ key }) => groupWords(key!, result.rest)),
      ]}
    >
      {steps.flatMap(({ nodes, before }, at) =>
        nodes.map(({ place, count, median }, index) => (
          <tr key={`${at} ${index}`}>
            <th scope="row">{stepWords(at + 1, question)}</th>
            <td>{placeWords(place, words)}</td>
            <PeopleCell
              mark={count > 0 ? nodeMark(all, at + 1, index) : null}
              selected={selected}
              onSelect={onSelect}
              first={at === 0 && index === 0}
            >
              {formatNumber(count)}
            </PeopleCell>
            <td className="number">{formatPercent(count / all.ways)}</td>
            <td className="number">{formatPercent(count / before)}</td>
            <td className="number">{median === null ? '–' : formatDuration(median)}</td>
            {groups.map((side, g) => (
              <PeopleCell
                key={g}
                mark={side.steps[at].nodes[index].count > 0 ? nodeMark(side, at + 1, index) : null}
                selected={selected}
                onSelect={onSelect}
              >
                {formatNumber(side.steps[at].nodes[index].count)}
              </PeopleCell>
            ))}
          </tr>
        )),
      )}
    </FigureTable>
  )
}

export const view: KindView<PathsQuestion, PathsResult, PathsMark> = { Body: PathsBody, Numbers: PathsNumbers }
