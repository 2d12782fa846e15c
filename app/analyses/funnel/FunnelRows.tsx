import { isSides } from '../../../core/questions/groupedBy.js'
import { deferred } from '../../page/deferred.js'
import { narrowest } from '../../../core/analyses/funnel/narrowest.js'
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import CloseIcon from '@mui/icons-material/Close'
import IconButton from '@mui/material/IconButton'
import { Suspense, useEffect, useState, type KeyboardEvent, type MouseEvent } from 'react'
import {
  MOST_FORBIDDEN,
  MOST_STEPS,
  type FunnelQuestion,
  type FunnelStep,
} from '../../../core/analyses/funnel/question.js'
import { withSteps } from '../../../core/analyses/funnel/steps.js'
import type { FunnelResult, FunnelRow, FunnelStepResult } from '../../../core/analyses/funnel/finish.js'
import { forbiddenWords, stepWords, targetWords } from '../../../core/analyses/funnel/sentence.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { formatDuration, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { compareWords, groupWords } from '../../../core/words/words.js'
import { placeUnder } from '../../editors/TokenPopover.js'
import type { BodyProps } from '../view.js'
import type { Open } from './StepEditor.js'

const StepEditor = deferred(async () => (await import('./StepEditor.js')).StepEditor)

/** As many groups have a bar of their own in each row, and segments side by side all; the table has them all. */
const BARS = 4
const MOST_SIDES = 6

/** The steps are the rows of the chart, and are edited there: named, filtered, added, dragged, removed. */
export function FunnelRows({
  question,
  result,
  words,
  edit,
  selected,
  onSelect,
}: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
  const [open, setOpen] = useState<Open | null>(null)
  const editable = edit !== undefined
  useEffect(() => {
    if (editable) StepEditor.ready().catch(() => {})
  }, [editable])
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const { steps } = question
  const ids = stepIds(steps)
  const narrow = narrowest(result.all)
  const bySides = isSides(question.breakdowns)
  const bars = result.groups.slice(0, bySides ? MOST_SIDES : BARS)
  const anyOrder = question.order === 'any order'
  const forbidden = (question.forbidden ?? []).map((each, place) => ({ ...each, place }))
  const { target, compare } = question
  const setSteps = (next: FunnelStep[]) => edit?.(withSteps(question, next))
  const move = (from: number, to: number) => {
    if (to >= 0 && to < steps.length && from !== to) setSteps(arrayMove(steps, from, to))
  }
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over) move(ids.indexOf(String(active.id)), ids.indexOf(String(over.id)))
  }
  const isChosen = (step: number, what: 'reached' | 'lost' | 'open') =>
    selected.some(
      (mark) => mark.kind === 'step' && mark.step === step && mark.what === what && !mark.group && !mark.before,
    )
  const select =
    (step: number, what: 'reached' | 'lost' | 'open', of: { group?: GroupKey; before?: true } = {}) =>
    (event: MouseEvent) =>
      onSelect?.(
        { kind: 'step', step, what, ...of } satisfies FunnelMark,
        event.shiftKey || event.ctrlKey || event.metaKey,
      )

  return (
    <div className="funnel">
      <div className="funnel-head">
        <span className="funnel-legend">
          {bars.length > 0 && (
            <>
              <span>
                <i style={{ background: 'var(--series-0)' }} />
                All
              </span>
              {bars.map((row, i) => (
                <span key={groupWords(row.key!, result.rest)}>
                  <i style={{ background: barColour(row, i) }} />
                  {groupWords(row.key!, result.rest)}
                </span>
              ))}
              {result.groups.length > bars.length && (
                <span>and {result.groups.length - bars.length} more in the table</span>
              )}
            </>
          )}
          {anyOrder && <span>Row 1: any one step done, row 2: any two, and so on</span>}
          {compare && result.before && (
            <span>
              <i className="before" />
              thin: {compareWords(compare, words)}
            </span>
          )}
        </span>
        <span>{result.counts}</span>
        <span>of the start</span>
        <span>median time</span>
      </div>
      <DndContext id="funnel-steps" sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <ol className="funnel-steps">
            {steps.map((step, index) => {
              const { event, where, entry } = stepWords(step, words)
              const between = index > 0 && index < steps.length - 1
              const banned = forbidden.filter(({ after }) => after === index)
              const row = result.all.steps[index]
              return (
                <StepRow
                  key={ids[index]}
                  id={ids[index]}
                  index={index}
                  sortable={edit !== undefined && steps.length > 1}
                  lastStrip={index === steps.length - 1}
                  onMove={(by) => move(index, index + by)}
                  name={
                    edit ? (
                      <span className="step-name">
                        <button
                          type="button"
                          className="token water"
                          aria-label={`Step ${index + 1}: ${event}. Change it; with Alt and the arrow keys it moves.`}
                          onClick={(e) => setOpen({ what: 'event', step: index, at: placeUnder(e.currentTarget) })}
                        >
                          {event}
                        </button>
                        <span className="step-where">
                          {where && (
                            <button
                              type="button"
                              className="quiet-token"
                              onClick={(e) => setOpen({ what: 'where', step: index, at: placeUnder(e.currentTarget) })}
                            >
                              {where}
                            </button>
                          )}
                          {entry && (
                            <button
                              type="button"
                              className="quiet-token"
                              onClick={(e) => setOpen({ what: 'entry', step: index, at: placeUnder(e.currentTarget) })}
                            >
                              {entry}
                            </button>
                          )}
                          {step.optional && <em>optional</em>}
                          <span className="step-more">
                            {entry && <span className="sr-only">, </span>}
                            {!where && (
                              <button
                                type="button"
                                onClick={(e) =>
                                  setOpen({ what: 'where', step: index, at: placeUnder(e.currentTarget) })
                                }
                              >
                                + where
                              </button>
                            )}
                            {'names' in step.event && (
                              <button
                                type="button"
                                onClick={(e) => setOpen({ what: 'also', step: index, at: placeUnder(e.currentTarget) })}
                              >
                                + or
                              </button>
                            )}
                            {index > 0 && !entry && !anyOrder && (
                              <button
                                type="button"
                                onClick={(e) =>
                                  setOpen({ what: 'entry', step: index, at: placeUnder(e.currentTarget) })
                                }
                              >
                                + as at the start
                              </button>
                            )}
                            {between && !anyOrder && (
                              <button type="button" onClick={() => setSteps(steps.with(index, turned(step)))}>
                                {step.optional ? 'require it' : 'make optional'}
                              </button>
                            )}
                          </span>
                        </span>
                      </span>
                    ) : (
                      <span className="step-name">
                        <span className="token still">{event}</span>
                        {(where || entry || step.optional) && (
                          <span className="step-where">
                            {where} {entry} {step.optional && <em>optional</em>}
                          </span>
                        )}
                      </span>
                    )
                  }
                  remove={
                    edit &&
                    steps.length > 1 && (
                      <IconButton
                        size="small"
                        className="step-remove"
                        aria-label={`Remove step ${index + 1}, ${event}`}
                        onClick={() => setSteps(steps.toSpliced(index, 1))}
                      >
                        <CloseIcon fontSize="inherit" />
                      </IconButton>
                    )
                  }
                  bars={
                    <span className="bars">
                      <Bar
                        kind={`main${step.optional ? ' optional' : ''}`}
                        name={event}
                        step={row}
                        onPress={onSelect && select(index, 'reached')}
                      />
                      {compare && result.before && (
                        <Bar
                          kind="thin before"
                          name={compareWords(compare, words)}
                          step={result.before.all.steps[index]}
                          onPress={onSelect && select(index, 'reached', { before: true })}
                        />
                      )}
                      {target !== undefined && index === steps.length - 1 && (
                        <span
                          className={`target-mark${target > 0.6 ? ' beyond' : ''}`}
                          data-words={`target ${targetWords(target)}`}
                          style={{ left: `${target * 100}%` }}
                          title={`Target: ${targetWords(target)}`}
                        />
                      )}
                      {bars.map((group, i) => (
                        <Bar
                          key={i}
                          kind="thin"
                          name={groupWords(group.key!, result.rest)}
                          step={group.steps[index]}
                          colour={barColour(group, i)}
                          onPress={onSelect && select(index, 'reached', { group: group.key! })}
                        />
                      ))}
                    </span>
                  }
                  people={
                    <People
                      className="figure-button"
                      pressed={isChosen(index, 'reached')}
                      onPress={onSelect && row && row.people > 0 ? select(index, 'reached') : undefined}
                    >
                      {formatNumber(row?.people ?? null)}
                    </People>
                  }
                  rate={formatPercent(row?.ofStart ?? null)}
                  rateTitle={
                    row?.ofStartInterval
                      ? `95 % interval: ${(row.ofStartInterval.low * 100).toFixed(1)} – ${(row.ofStartInterval.high * 100).toFixed(1)}`
                      : ''
                  }
                  time={index === 0 ? MISSING : formatDuration(row?.fromPrevious.median ?? null)}
                  strip={
                    index < steps.length - 1 &&
                    row && (
                      <>
                        {step.optional ? (
                          <span>
                            {formatPercent(row.ofPrevious, 0)} of the required step before did this on the way
                          </span>
                        ) : (
                          <span>{formatPercent(row.people > 0 ? 1 - row.lost / row.people : null, 0)} go on</span>
                        )}
                        {row.lost > 0 && (
                          <>
                            <span aria-hidden="true"> · </span>
                            <People
                              className="lost"
                              pressed={isChosen(index, 'lost')}
                              onPress={onSelect && select(index, 'lost')}
                            >
                              {formatNumber(row.lost)} lost here
                            </People>
                          </>
                        )}
                        {row.open > 0 && (
                          <>
                            <span aria-hidden="true"> · </span>
                            <People
                              className="still-open"
                              pressed={isChosen(index, 'open')}
                              onPress={onSelect && select(index, 'open')}
                            >
                              {formatNumber(row.open)} of them still open
                            </People>
                          </>
                        )}
                        {narrow === index && steps.length > 2 && <span className="tag brick">narrowest</span>}
                        {banned.map((each) => (
                          <Banned
                            key={each.place}
                            onPress={
                              edit &&
                              ((e) =>
                                setOpen({ what: 'forbidden', index: each.place, at: placeUnder(e.currentTarget) }))
                            }
                          >
                            not: {forbiddenWords({ ...each, after: undefined }, words)}
                          </Banned>
                        ))}
                        {edit && !step.optional && steps.length > 1 && (
                          <button
                            type="button"
                            className="strip-more"
                            onClick={(e) => setOpen({ what: 'forbid', after: index, at: placeUnder(e.currentTarget) })}
                          >
                            + must not happen here
                          </button>
                        )}
                      </>
                    )
                  }
                />
              )
            })}
          </ol>
        </SortableContext>
      </DndContext>
      {(edit || forbidden.some(({ after }) => after === undefined)) && (
        <p className="additions">
          {edit && steps.length < MOST_STEPS && (
            <button
              type="button"
              className="addition"
              onClick={(e) => setOpen({ what: 'add', at: placeUnder(e.currentTarget) })}
            >
              + step
            </button>
          )}
          {forbidden
            .filter(({ after }) => after === undefined)
            .map((each) => (
              <Banned
                key={each.place}
                onPress={
                  edit && ((e) => setOpen({ what: 'forbidden', index: each.place, at: placeUnder(e.currentTarget) }))
                }
              >
                must not happen between: {forbiddenWords(each, words)}
              </Banned>
            ))}
          {edit && steps.length > 1 && forbidden.length < MOST_FORBIDDEN && (
            <button
              type="button"
              className="addition"
              onClick={(e) => setOpen({ what: 'forbid', at: placeUnder(e.currentTarget) })}
            >
              + must not happen between
            </button>
          )}
        </p>
      )}
      {edit && (
        <Suspense>
          <StepEditor open={open} question={question} edit={edit} setOpen={setOpen} />
        </Suspense>
      )}
    </div>
  )
}

function turned({ optional, ...step }: FunnelStep): FunnelStep {
  return optional ? step : { ...step, optional: true }
}

/** Something that must not happen: pressed to change it, or only read. */
function Banned(props: { onPress: ((event: MouseEvent<HTMLElement>) => void) | undefined; children: React.ReactNode }) {
  const { onPress, children } = props
  if (!onPress) return <span className="tag brick">{children}</span>
  return (
    <button type="button" className="tag brick banned" onClick={onPress}>
      {children}
    </button>
  )
}

/** A number of people that can be selected, or only read. */
function People(props: {
  className: string
  pressed: boolean
  onPress: ((event: MouseEvent) => void) | undefined
  children: React.ReactNode
}) {
  const { className, pressed, onPress, children } = props
  if (!onPress) return <span className={className}>{children}</span>
  return (
    <button type="button" className={className} aria-pressed={pressed} onClick={onPress}>
      {children}
    </button>
  )
}

/** Ids for dragging that stay with their step: equal steps are told apart by their count. */
function stepIds(steps: readonly FunnelStep[]): string[] {
  const seen = new Map<string, number>()
  return steps.map((step) => {
    const text = JSON.stringify(step)
    const count = (seen.get(text) ?? 0) + 1
    seen.set(text, count)
    return `${text} ${count}`
  })
}

/** A bar gives its people like the number beside it, which is where the keyboard finds them. */
function Bar(props: {
  kind: string
  name: string
  step: FunnelStepResult | undefined
  colour?: string
  onPress?: ((event: MouseEvent) => void) | undefined
}) {
  const { kind, name, step, colour, onPress } = props
  const share = step?.ofStart ?? 0
  const shared = {
    className: `bar ${kind}`,
    title: `${name}: ${formatPercent(step?.ofStart ?? null)}`,
    style: { width: `${share * 100}%`, ...(colour ? { background: colour } : {}) },
  }
  return onPress && share > 0 ? (
    <button type="button" tabIndex={-1} aria-hidden {...shared} onClick={onPress} />
  ) : (
    <span {...shared} />
  )
}

function barColour(row: FunnelRow, index: number): string {
  return row.key && ('rest' in row.key || 'unreached' in row.key)
    ? 'var(--series-7)'
    : `var(--series-${(index % 6) + 1})`
}

function StepRow(props: {
  id: string
  index: number
  sortable: boolean
  lastStrip: boolean
  onMove: (by: number) => void
  name: React.ReactNode
  remove: React.ReactNode
  bars: React.ReactNode
  people: React.ReactNode
  rate: string
  rateTitle: string
  time: string
  strip: React.ReactNode
}) {
  const { id, index, sortable, onMove, name, remove, bars, people, rate, rateTitle, time, strip } = props
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id,
    disabled: !sortable,
  })
  const onKey = (event: KeyboardEvent) => {
    if (!sortable || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
    event.preventDefault()
    onMove(event.key === 'ArrowUp' ? -1 : 1)
  }
  return (
    <li
      ref={setNodeRef}
      className={`funnel-step${isDragging ? ' dragging' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      onKeyDown={onKey}
    >
      <div className="funnel-row">
        {sortable ? (
          <button
            type="button"
            className="step-number"
            {...attributes}
            {...listeners}
            aria-label={`Step ${index + 1}: drag, or press Space and use the arrow keys, to reorder`}
          >
            {index + 1}
          </button>
        ) : (
          <span className="step-number still">{index + 1}</span>
        )}
        {name}
        {bars}
        <span className="number strong">{people}</span>
        <span className="number rate" title={rateTitle}>
          {rate}
        </span>
        <span className="number soft">{time}</span>
        {remove}
      </div>
      {strip && (
        <div className="funnel-strip">
          <span className="strip-line" aria-hidden="true" />
          <span className="strip-text">{strip}</span>
        </div>
      )}
    </li>
  )
}
