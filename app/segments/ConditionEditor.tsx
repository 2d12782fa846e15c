import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import {
  timesAsked,
  type DidCondition,
  type SegmentCondition,
  type SequenceCondition,
} from '../../core/segments/rule.js'
import type { EventPick } from '../../core/questions/parts.js'
import { DayField, FilterEditor } from '../editors/FilterEditor.js'
import { EventPicker } from '../editors/EventPicker.js'
import { OptionList } from '../editors/OptionList.js'
import { WindowEditor } from '../editors/WindowEditor.js'
import { CountEditor } from './CountEditor.js'
import { ProfileEditor } from './ProfileEditor.js'
import { SegmentChoice } from './SegmentChoice.js'
import { SpanEditor } from './SpanEditor.js'
import { StudyChoice } from './StudyChoice.js'
import { useToday } from './useToday.js'
import { WhenEditor } from './WhenEditor.js'

interface EditorProps<C> {
  condition: C
  /** name of the token that was pressed, with the number of a step where there are several */
  token: string
  onChange: (condition: SegmentCondition, how?: 'choose' | 'type') => void
  close: () => void
}

/** The small editor of a word in a condition. */
export function ConditionEditor(props: EditorProps<SegmentCondition> & { own: string | null }) {
  const { condition, token, onChange, close, own } = props
  if (token === 'not' && 'not' in condition) return <NotEditor {...props} />
  switch (condition.kind) {
    case 'profile':
      return <ProfileEditor value={condition.where} onChange={(where, how) => onChange({ ...condition, where }, how)} />
    case 'did':
      return <DidEditor {...props} condition={condition} />
    case 'sequence':
      return <SequenceEditor {...props} condition={condition} />
    case 'time':
      return <TimeEditor {...props} condition={condition} />
    case 'study':
      return (
        <div className="stack">
          <StudyChoice
            value={condition}
            onChoose={(choice) => {
              onChange({ ...condition, ...choice })
              close()
            }}
          />
          <NotSwitch {...props} condition={condition} label="Turned round: those who are not" />
        </div>
      )
    case 'segment':
      return token === 'since' ? (
        <SinceEditor {...props} condition={condition} />
      ) : (
        <div className="stack">
          <SegmentChoice
            value={condition.segment}
            own={own}
            onChoose={(segment) => {
              onChange({ ...condition, segment })
              close()
            }}
          />
          <NotSwitch {...props} condition={condition} label="Turned round: those who are not in it" />
          <SinceEditor {...props} condition={condition} />
        </div>
      )
  }
}

type Turnable = Extract<SegmentCondition, { not?: true | undefined }>

/** "did" or "did not". What somebody did not do is not counted. */
function NotEditor({ condition, onChange, close }: EditorProps<SegmentCondition>) {
  return (
    <OptionList
      label="Did or did not"
      options={[
        { key: 'did', label: 'did', value: false, chosen: !(condition as Turnable).not },
        { key: 'did not', label: 'did not do', value: true, chosen: (condition as Turnable).not === true },
      ]}
      onChoose={(not) => {
        onChange(turned(condition as Turnable, not))
        close()
      }}
    />
  )
}

function turned(condition: Turnable, not: boolean): SegmentCondition {
  const { not: _before, ...rest } = condition
  if (!not) return rest as SegmentCondition
  if (rest.kind !== 'did') return { ...rest, not: true } as SegmentCondition
  const { count: _count, ...did } = rest
  return { ...did, not: true }
}

function NotSwitch({ condition, onChange, label }: EditorProps<Turnable> & { label: string }) {
  return (
    <FormControlLabel
      control={
        <Switch
          size="small"
          checked={condition.not === true}
          onChange={(_event, on) => onChange(turned(condition, on))}
        />
      }
      label={label}
    />
  )
}

function DidEditor({ condition, token, onChange, close }: EditorProps<DidCondition>) {
  const { window } = condition
  switch (token) {
    case 'event':
      return (
        <EventPicker
          value={condition.event}
          onChoose={(event) => {
            onChange({ ...condition, event })
            close()
          }}
        />
      )
    case 'where':
      return <WhereEditor pick={condition} onChange={(pick, how) => onChange({ ...condition, ...pick }, how)} />
    case 'not':
      return <NotEditor condition={condition} token={token} onChange={onChange} close={close} />
    case 'window':
      return (
        <SpanEditor
          value={window}
          onChange={(next, how) => {
            const { window: _before, ...rest } = condition
            onChange(next ? { ...rest, window: next } : rest, how)
          }}
        />
      )
    case 'event after':
    case 'where after': {
      if (!window || !('after' in window) || window.after === 'first seen') return null
      const put = (after: EventPick, how?: 'choose' | 'type') =>
        onChange({ ...condition, window: { ...window, after } }, how)
      return token === 'event after' ? (
        <EventPicker
          value={window.after.event}
          onChoose={(event) => {
            put({ ...(window.after as EventPick), event })
            close()
          }}
        />
      ) : (
        <WhereEditor pick={window.after} onChange={put} />
      )
    }
    default:
      return (
        <CountEditor
          event={condition.event}
          value={condition.count}
          onChange={(count, how) => {
            const { count: _before, ...rest } = condition
            onChange(count ? { ...rest, count } : rest, how)
          }}
        />
      )
  }
}

/** "only where …" of an event. */
function WhereEditor({
  pick,
  onChange,
}: {
  pick: EventPick
  onChange: (pick: EventPick, how: 'choose' | 'type') => void
}) {
  return (
    <FilterEditor
      events={[pick.event]}
      value={pick.where}
      onChange={(where, how) => onChange({ event: pick.event, where }, how)}
    />
  )
}

function SequenceEditor({ condition, token, onChange, close }: EditorProps<SequenceCondition>) {
  const [name, place] = token.split(' ')
  const index = Number(place ?? 0)
  const { steps } = condition
  if (name === 'within')
    return <WindowEditor value={condition.within} onChange={(within, how) => onChange({ ...condition, within }, how)} />
  if (name === 'not') return <NotEditor condition={condition} token={token} onChange={onChange} close={close} />
  const step = steps[index]
  const put = (next: EventPick, how?: 'choose' | 'type') =>
    onChange({ ...condition, steps: steps.with(index, next) }, how)
  if (name === 'then')
    return (
      <EventPicker
        value={null}
        onChoose={(event) => {
          onChange({ ...condition, steps: [...steps, { event }] })
          close()
        }}
      />
    )
  if (!step) return null
  if (name === 'where') return <WhereEditor pick={step} onChange={put} />
  return (
    <div className="stack">
      <EventPicker
        value={step.event}
        onChoose={(event) => {
          put({ ...step, event })
          close()
        }}
      />
      <div className="row">
        {steps.length > 2 && (
          <Button
            color="error"
            onClick={() => {
              onChange({ ...condition, steps: steps.toSpliced(index, 1) })
              close()
            }}
          >
            Leave this step out
          </Button>
        )}
      </div>
    </div>
  )
}

function TimeEditor({ condition, token, onChange, close }: EditorProps<Extract<SegmentCondition, { kind: 'time' }>>) {
  switch (token) {
    case 'event':
      return (
        <EventPicker
          value={condition.event ?? null}
          onChoose={(event) => {
            onChange({ ...condition, event })
            close()
          }}
        />
      )
    case 'where':
      return (
        <WhereEditor
          pick={{ event: condition.event!, where: condition.where }}
          onChange={({ where }, how) => onChange({ ...condition, where }, how)}
        />
      )
    case 'asked':
      return (
        <OptionList
          label="Which time"
          options={timesAsked
            .filter((asked) => asked.endsWith('seen') === condition.asked.endsWith('seen'))
            .map((asked) => ({ key: asked, label: asked, value: asked, chosen: asked === condition.asked }))}
          onChoose={(asked) => {
            onChange({ ...condition, asked })
            close()
          }}
        />
      )
    default:
      return <WhenEditor value={condition.when} onChange={(when, how) => onChange({ ...condition, when }, how)} />
  }
}

/** In it now, or at any time since a day. */
function SinceEditor({ condition, onChange }: EditorProps<Extract<SegmentCondition, { kind: 'segment' }>>) {
  const today = useToday()
  const { since } = condition
  return (
    <div className="row wrap">
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={since !== undefined}
            onChange={(_event, on) => {
              const { since: _before, ...rest } = condition
              onChange(on ? { ...rest, since: today.subtract({ days: 90 }).toString() } : rest)
            }}
          />
        }
        label="At any time since"
      />
      {since !== undefined && (
        <DayField label="Since" value={since} onChange={(day) => onChange({ ...condition, since: day }, 'type')} />
      )}
    </div>
  )
}
