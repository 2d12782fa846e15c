import { useDraggable, useDroppable } from '@dnd-kit/core'
import DragIndicatorIcon from '@mui/icons-material/DragIndicator'
import MoreHorizIcon from '@mui/icons-material/MoreHoriz'
import IconButton from '@mui/material/IconButton'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import { studyClause } from '../analyses/words.js'
import { faultWords, type Fault } from '../../core/questions/faults.js'
import { isGroup, type Rule, type SegmentCondition } from '../../core/segments/rule.js'
import { conditionParts } from '../../core/segments/words.js'
import { countOf, formatNumber, MISSING } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import type { Addition } from './AddEditor.js'
import { HOLD_WORDS } from './holdWords.js'
import { pathOf, placeId, type Place } from './ruleTree.js'

/** What can be done with a line of a rule. */
export interface RowActions {
  token: (place: Place, token: string, anchor: HTMLElement) => void
  hold: (place: Place, anchor: HTMLElement) => void
  add: (group: Place, kind: Addition, anchor: HTMLElement) => void
  /** @returns where it stands afterwards */
  nudge: (place: Place, by: -1 | 1) => Place
  remove: (place: Place) => void
  duplicate: (place: Place) => void
  group: (place: Place) => void
  ungroup: (place: Place) => void
  switch: (place: Place) => void
}

/** One line: a condition as a sentence, or the head of a group with its lines beneath. */
export function RuleRow(props: {
  node: Rule
  place: Place
  joint: string
  counts: ReadonlyMap<string, number>
  faults: readonly Fault[]
  actions: RowActions
  off: boolean
  /** a group's lines */
  children: ReactNode
}) {
  const { node, place, joint, counts, faults, actions, off, children } = props
  const id = placeId(place)
  const path = pathOf(place)
  const group = isGroup(node)
  const drag = useDraggable({ id: `row ${id}`, data: { place } })
  const drop = useDroppable({ id: `row ${id}`, data: { place, head: group } })
  const [menu, setMenu] = useState<HTMLElement | null>(null)
  const own = faults.filter((fault) => isAt(fault, path))
  const people = counts.get(path)
  const onKey = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0
    if (!event.altKey || by === 0) return
    event.preventDefault()
    focusNext.place = placeId(actions.nudge(place, by))
  }
  const handle = useRef<HTMLButtonElement>(null)
  // After a move by key the handle is another one: it takes the focus, so that the next key moves on.
  useEffect(() => {
    if (focusNext.place !== id) return
    focusNext.place = null
    handle.current?.focus()
  }, [id])
  const act = (what: (place: Place) => void) => () => {
    setMenu(null)
    what(place)
  }
  return (
    <li
      className={`rule-row${group ? ' of-group' : ''}${off ? ' off' : ''}${drop.isOver && !drag.isDragging ? ' over' : ''}${drag.isDragging ? ' dragged' : ''}`}
    >
      <div className="rule-line" ref={drop.setNodeRef}>
        <button
          type="button"
          className="rule-grip"
          ref={(element) => {
            handle.current = element
            drag.setNodeRef(element)
          }}
          {...drag.attributes}
          {...drag.listeners}
          onKeyDown={(event) => {
            onKey(event)
            if (!event.defaultPrevented)
              (drag.listeners?.onKeyDown as ((e: KeyboardEvent) => void) | undefined)?.(event)
          }}
          aria-label="Move this line: drag it, or press Alt with the arrow keys"
        >
          <DragIndicatorIcon fontSize="inherit" />
        </button>
        <span className="rule-joint">{joint}</span>
        <span className="rule-words">
          {group ? (
            <>
              <button
                type="button"
                className="token water"
                onClick={(event) => actions.hold(place, event.currentTarget)}
              >
                {HOLD_WORDS[node.hold]}
              </button>
              {node.hold === 'any' ? ' holds:' : ' hold:'}
              {node.of.length === 0 && <span className="soft"> nothing yet, so it is left out</span>}
            </>
          ) : (
            <ConditionWords
              condition={node}
              faults={own}
              onToken={(token, anchor) => actions.token(place, token, anchor)}
            />
          )}
          {off && <span className="chip-off">switched off</span>}
        </span>
        <span className="rule-count" title={people === undefined ? undefined : 'People for whom this line alone holds'}>
          {people === undefined
            ? MISSING
            : place.length === 1 && place[0] === 0
              ? countOf(people, 'person', 'people')
              : formatNumber(people)}
        </span>
        <IconButton
          size="small"
          className="rule-more"
          aria-label="More for this line"
          aria-haspopup="menu"
          onClick={(event) => setMenu(event.currentTarget)}
        >
          <MoreHorizIcon fontSize="small" />
        </IconButton>
        <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
          {!group && addable(node, actions, place, () => setMenu(null), menu)}
          <MenuItem dense onClick={act(actions.switch)}>
            {node.off ? 'Switch on' : 'Switch off for a moment'}
          </MenuItem>
          <MenuItem dense onClick={act(actions.duplicate)}>
            Duplicate
          </MenuItem>
          {group ? (
            <MenuItem dense onClick={act(actions.ungroup)}>
              Take the group apart
            </MenuItem>
          ) : (
            <MenuItem dense onClick={act(actions.group)}>
              Put into a group of its own
            </MenuItem>
          )}
          <MenuItem dense onClick={act(actions.remove)} className="loss">
            Remove
          </MenuItem>
        </Menu>
      </div>
      {own.length > 0 && (
        <ul className="faults" role="alert">
          {own.map((fault, index) => (
            <li key={index}>{faultWords(fault)}</li>
          ))}
        </ul>
      )}
      {group && (
        <>
          {children}
          <div className="additions in-group">
            <button
              type="button"
              className="addition small"
              onClick={(event) => actions.add(place, 'any', event.currentTarget)}
            >
              + to this group…
            </button>
          </div>
        </>
      )}
    </li>
  )
}

/** Where the line that was moved by key is found again. */
const focusNext: { place: string | null } = { place: null }

/** A fault belongs to the innermost line that its path leads to. */
function isAt(fault: Fault, path: string): boolean {
  const at = fault.path.join('.')
  if (at !== path && !at.startsWith(`${path}.`)) return false
  return !/^\.of\.\d/.test(at.slice(path.length))
}

function addable(
  node: SegmentCondition,
  actions: RowActions,
  place: Place,
  done: () => void,
  anchor: HTMLElement | null,
): ReactNode {
  const offer = (label: string, token: string) => (
    <MenuItem
      key={token}
      dense
      onClick={() => {
        done()
        if (anchor) actions.token(place, token, anchor)
      }}
    >
      {label}
    </MenuItem>
  )
  switch (node.kind) {
    case 'did':
      return [
        node.where ? null : offer('Only where …', 'where'),
        node.window && 'after' in node.window && node.window.after !== 'first seen' && !node.window.after.where
          ? offer('The first one only where …', 'where after')
          : null,
      ]
    case 'sequence':
      return [
        offer('Then …', 'then'),
        ...node.steps.map((step, index) =>
          step.where ? null : offer(`Step ${index + 1} only where …`, `where ${index}`),
        ),
      ]
    case 'time':
      return node.event && !node.where ? offer('Only where …', 'where') : null
    case 'segment':
      return node.since === undefined ? offer('At any time since …', 'since') : null
    default:
      return null
  }
}

function ConditionWords(props: {
  condition: SegmentCondition
  faults: readonly Fault[]
  onToken: (token: string, anchor: HTMLElement) => void
}) {
  const { condition, faults, onToken } = props
  const { words } = useWorkspace()
  return conditionParts(condition, words, studyClause, true).map((part, index) =>
    part.token === undefined ? (
      <span key={index}>{part.text}</span>
    ) : (
      <button
        key={index}
        type="button"
        className={`token ${part.tone ?? 'water'}${faults.some(({ path }) => part.path && path.join('.').includes(part.path)) ? ' faulty' : ''}`}
        data-token={part.token}
        aria-haspopup="dialog"
        onClick={(event) => onToken(part.token!, event.currentTarget)}
      >
        {part.text}
      </button>
    ),
  )
}
