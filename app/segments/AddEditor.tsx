import Button from '@mui/material/Button'
import { useState } from 'react'
import type { EventPick } from '../../core/questions/parts.js'
import type { Rule } from '../../core/segments/rule.js'
import { eventWords } from '../../core/words/words.js'
import { EventPicker } from '../editors/EventPicker.js'
import { OptionList } from '../editors/OptionList.js'
import { useWorkspace } from '../page/workspace.js'
import { ProfileEditor } from './ProfileEditor.js'
import { SegmentChoice } from './SegmentChoice.js'
import { StudyChoice } from './StudyChoice.js'

/** What can be added to a group. */
export const ADDITIONS = [
  { kind: 'did', label: '+ what they did' },
  { kind: 'profile', label: '+ who they are' },
  { kind: 'sequence', label: '+ a sequence' },
  { kind: 'time', label: '+ first or last time' },
  { kind: 'study', label: '+ result of a study' },
  { kind: 'segment', label: '+ another segment' },
] as const
/** any = which of them is chosen first */
export type Addition = (typeof ADDITIONS)[number]['kind'] | 'any'

const ANYTHING = { activity: true } as const

/** What an analyst asks for most often, in one press. */
const COMMON: { label: string; rule: Rule }[] = [
  {
    label: 'Active on 2 or more days of the last 7',
    rule: {
      ...{ kind: 'did', event: ANYTHING, window: { last: 7 } },
      count: { measure: 'days', test: { op: '≥', number: 2 } },
    },
  },
  {
    label: 'Active in 2 or more weeks of the last 30 days',
    rule: {
      ...{ kind: 'did', event: ANYTHING, window: { last: 30 } },
      count: { measure: 'weeks', test: { op: '≥', number: 2 } },
    },
  },
]

/** The start of a new condition. @param onAdd `again` = in place of the one just added */
export function AddEditor(props: {
  kind: Addition
  own: string | null
  onAdd: (rule: Rule, how: 'choose' | 'type') => void
  close: () => void
}) {
  const { own, onAdd, close } = props
  const [kind, setKind] = useState(props.kind)
  const add = (rule: Rule) => {
    onAdd(rule, 'choose')
    close()
  }
  switch (kind) {
    case 'any':
      return (
        <OptionList
          label="What to add"
          options={ADDITIONS.map(({ kind: each, label }) => ({ key: each, label: label.slice(2), value: each }))}
          onChoose={setKind}
        />
      )
    case 'did':
      return (
        <>
          <div className="chips add-common">
            {COMMON.map(({ label, rule }) => (
              <Button key={label} variant="outlined" onClick={() => add(rule)}>
                {label}
              </Button>
            ))}
          </div>
          <EventPicker value={null} onChoose={(event) => add({ kind: 'did', event })} />
        </>
      )
    case 'profile':
      return <ProfileEditor value={null} onChange={(where, how) => onAdd({ kind: 'profile', where }, how)} />
    case 'sequence':
      return <SequenceStart onDone={(steps) => add({ kind: 'sequence', steps, within: { count: 7, unit: 'day' } })} />
    case 'time':
      return <TimeStart onDone={add} />
    case 'study':
      return <StudyChoice value={null} onChoose={(choice) => add({ kind: 'study', ...choice })} />
    case 'segment':
      return <SegmentChoice value={null} own={own} onChoose={(segment) => add({ kind: 'segment', segment })} />
  }
}

/** Two events, one after the other: further ones are added in the sentence. */
function SequenceStart({ onDone }: { onDone: (steps: EventPick[]) => void }) {
  const { words } = useWorkspace()
  const [first, setFirst] = useState<EventPick | null>(null)
  return (
    <>
      <p className="hint">{first ? `First ${eventWords(first.event, words)}, then …` : 'First …'}</p>
      <EventPicker
        key={first ? 'then' : 'first'}
        value={null}
        onChoose={(event) => (first ? onDone([first, { event }]) : setFirst({ event }))}
      />
    </>
  )
}

function TimeStart({ onDone }: { onDone: (rule: Rule) => void }) {
  const [asked, setAsked] = useState<'first time' | 'last time' | null>(null)
  const when = { last: 14, unit: 'day' } as const
  if (asked) return <EventPicker value={null} onChoose={(event) => onDone({ kind: 'time', asked, event, when })} />
  return (
    <div className="stack">
      <Button variant="outlined" onClick={() => onDone({ kind: 'time', asked: 'first seen', when })}>
        were first seen …
      </Button>
      <Button variant="outlined" onClick={() => onDone({ kind: 'time', asked: 'last seen', when })}>
        were last seen …
      </Button>
      <Button variant="outlined" onClick={() => setAsked('first time')}>
        did an event for the first time …
      </Button>
      <Button variant="outlined" onClick={() => setAsked('last time')}>
        did an event for the last time …
      </Button>
    </div>
  )
}
