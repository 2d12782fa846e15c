import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import { useState } from 'react'
import type { Fault } from '../../core/questions/faults.js'
import { isGroup, type Rule, type RuleGroup, type SegmentCondition } from '../../core/segments/rule.js'
import { OptionList } from '../editors/OptionList.js'
import { placeUnder, TokenPopover } from '../editors/TokenPopover.js'
import { AddEditor, ADDITIONS, type Addition } from './AddEditor.js'
import { ConditionEditor } from './ConditionEditor.js'
import { HOLD_WORDS } from './holdWords.js'
import { RuleRow, type RowActions } from './RuleRow.js'
import {
  appended,
  at,
  duplicated,
  grouped,
  moved,
  nudged,
  placeId,
  removed,
  replaced,
  switched,
  ungrouped,
  type Place,
} from './ruleTree.js'

type Open = { at: { left: number; top: number } } & (
  | { what: 'token'; place: Place; token: string }
  | { what: 'hold'; place: Place }
  | { what: 'add'; group: Place; kind: Addition; added: number | null }
)

export interface BuilderProps {
  rule: RuleGroup
  /** how many people each condition and group holds for alone, by its path */
  counts: ReadonlyMap<string, number>
  faults: readonly Fault[]
  /** the saved segment whose rule it is */
  own: string | null
  edit: (rule: RuleGroup, how?: 'choose' | 'type') => void
  endTyping: () => void
}

/** A rule as a sentence, a condition in each line; groups stand in. Everything is edited where it stands. */
export function RuleBuilder({ rule, counts, faults, own, edit, endTyping }: BuilderProps) {
  const [open, setOpen] = useState<Open | null>(null)
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor),
  )
  const close = () => {
    setOpen(null)
    endTyping()
  }
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const target = over.data.current as { place: Place; head: boolean }
    edit(moved(rule, (active.data.current as { place: Place }).place, target.place, target.head))
  }
  const actions: RowActions = {
    token: (place, token, anchor) => setOpen({ what: 'token', place, token, at: placeUnder(anchor) }),
    hold: (place, anchor) => setOpen({ what: 'hold', place, at: placeUnder(anchor) }),
    add: (group, kind, anchor) => setOpen({ what: 'add', group, kind, added: null, at: placeUnder(anchor) }),
    nudge(place, by) {
      const next = nudged(rule, place, by)
      edit(next.rule)
      return next.place
    },
    remove: (place) => edit(removed(rule, place)),
    duplicate: (place) => edit(duplicated(rule, place)),
    group: (place) => edit(grouped(rule, place)),
    ungroup: (place) => edit(ungrouped(rule, place)),
    switch: (place) => edit(switched(rule, place)),
  }
  return (
    <div className="rule-builder">
      <h1 className="question">
        People for whom{' '}
        <button type="button" className="token water" onClick={(event) => actions.hold([], event.currentTarget)}>
          {HOLD_WORDS[rule.hold]}
        </button>{' '}
        hold{rule.hold === 'any' ? 's' : ''}:
      </h1>
      {rule.of.length === 0 && (
        <p className="soft rule-empty">Nothing is asked yet, so it is everybody. Say what they did or who they are:</p>
      )}
      <DndContext id="rule" sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <RuleRows group={rule} place={[]} counts={counts} faults={faults} actions={actions} off={false} />
      </DndContext>
      <div className="additions">
        {ADDITIONS.map(({ kind, label }) => (
          <button
            key={kind}
            type="button"
            className="addition"
            onClick={(event) => actions.add([], kind, event.currentTarget)}
          >
            {label}
          </button>
        ))}
        <button
          type="button"
          className="addition"
          onClick={() => edit(appended(rule, [], { hold: rule.hold === 'any' ? 'all' : 'any', of: [] }))}
        >
          + a group
        </button>
      </div>
      <TokenPopover
        at={open?.at ?? null}
        label={
          open?.what === 'token'
            ? `Change: ${open.token}`
            : open?.what === 'add'
              ? 'Add a condition'
              : 'How they go together'
        }
        width={open?.what === 'token' && open.token.startsWith('where') ? 430 : 400}
        onClose={close}
      >
        {open && <Editor open={open} rule={rule} own={own} edit={edit} close={close} setOpen={setOpen} />}
      </TokenPopover>
    </div>
  )
}

function Editor(props: {
  open: Open
  rule: RuleGroup
  own: string | null
  edit: BuilderProps['edit']
  close: () => void
  setOpen: (open: Open) => void
}) {
  const { open, rule, own, edit, close, setOpen } = props
  if (open.what === 'add') {
    return (
      <AddEditor
        kind={open.kind}
        own={own}
        close={close}
        onAdd={(node, how) => {
          const group = at(rule, open.group)
          if (!group || !isGroup(group)) return
          // What is typed on goes into the condition that the first of it made.
          if (open.added !== null) return edit(replaced(rule, [...open.group, open.added], node), how)
          setOpen({ ...open, added: group.of.length })
          edit(appended(rule, open.group, node), how)
        }}
      />
    )
  }
  const node = at(rule, open.place)
  if (!node) return null
  const put = (next: Rule, how?: 'choose' | 'type') => edit(replaced(rule, open.place, next), how)
  if (open.what === 'hold' && isGroup(node))
    return (
      <OptionList
        label="How they go together"
        options={(['all', 'any', 'none'] as const).map((hold) => ({
          key: hold,
          label: `${HOLD_WORDS[hold]} hold${hold === 'any' ? 's' : ''}`,
          value: hold,
          chosen: node.hold === hold,
        }))}
        onChoose={(hold) => {
          put({ ...node, hold })
          close()
        }}
      />
    )
  if (open.what !== 'token' || isGroup(node)) return null
  return (
    <ConditionEditor
      condition={node}
      token={open.token}
      own={own}
      onChange={(next: SegmentCondition, how) => put(next, how)}
      close={close}
    />
  )
}

function RuleRows(props: {
  group: RuleGroup
  place: Place
  counts: BuilderProps['counts']
  faults: BuilderProps['faults']
  actions: RowActions
  /** it, or a group around it, is switched off */
  off: boolean
}) {
  const { group, place, counts, faults, actions, off } = props
  return (
    <ol className={`rule-rows ${group.hold}`}>
      {group.of.map((node, index) => {
        const own = [...place, index]
        return (
          <RuleRow
            key={`${placeId(own)} ${group.of.length}`}
            node={node}
            place={own}
            joint={index === 0 ? '' : JOINT[group.hold]}
            counts={counts}
            faults={faults}
            actions={actions}
            off={off || node.off === true}
          >
            {isGroup(node) && <RuleRows {...props} group={node} place={own} off={off || node.off === true} />}
          </RuleRow>
        )
      })}
    </ol>
  )
}

const JOINT = { all: 'and', any: 'or', none: 'nor' } as const
