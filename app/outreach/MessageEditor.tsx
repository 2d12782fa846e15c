import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { Link } from 'react-router'
import { KIND_WORDS, type DestinationKind } from '../../core/outreach/destination.js'
import { fixedShares, type Message, type Trigger } from '../../core/outreach/message.js'
import type { MessageToken } from '../../core/outreach/messageWords.js'
import type { EventPick } from '../../core/questions/parts.js'
import { NO_EVENT } from '../../core/outreach/ahead.js'
import { EventPicker } from '../editors/EventPicker.js'
import { FilterEditor } from '../editors/FilterEditor.js'
import { NumberField } from '../editors/NumberField.js'
import { OptionList } from '../editors/OptionList.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { put } from '../editors/put.js'
import { Remove } from '../editors/Remove.js'
import { filtered } from '../editors/StartEditor.js'
import { WindowEditor } from '../editors/WindowEditor.js'
import { SegmentChoice } from '../segments/SegmentChoice.js'
import { Segmented } from '../ui/Segmented.js'
import { useWorkspace } from '../page/workspace.js'

export const MESSAGE_LABELS: Readonly<Record<MessageToken, string>> = {
  trigger: 'When somebody comes in',
  segment: 'Which segment',
  notAmong: 'Not among whom',
  wait: 'How long after coming in',
  hours: 'At which hours of the day',
  unless: 'Unless they do what first',
  again: 'Whether they may come in again',
  cap: 'How much is enough',
  destination: 'Which channel',
  split: 'How the variants share',
  holdOut: 'How many are left alone',
  goal: 'What it is for',
  goalWhere: 'Which of them',
  within: 'Within how long',
  cost: 'What one costs',
}

interface Props {
  token: MessageToken
  message: Message
  places: readonly { id: string; name: string; kind: DestinationKind }[]
  onEdit: (next: Message, how?: 'choose' | 'type') => void
  close: () => void
}

/** The editor of one word of a message. */
export function MessageEditor(props: Props) {
  const { token, message, places, onEdit, close } = props
  const chosen = (next: Message) => {
    onEdit(next)
    close()
  }
  switch (token) {
    case 'trigger':
      return <TriggerEditor {...props} />
    case 'segment':
      return (
        <>
          <SegmentChoice value={message.segment} onChoose={(segment) => chosen({ ...message, segment })} />
          {message.trigger.kind === 'event' && message.segment !== '' && (
            <Button onClick={() => chosen({ ...message, segment: '' })}>Everybody who does it</Button>
          )}
        </>
      )
    case 'notAmong':
      return (
        <>
          <SegmentChoice value={message.notAmong} onChoose={(notAmong) => chosen({ ...message, notAmong })} />
          {message.notAmong !== '' && <Remove onPress={() => chosen({ ...message, notAmong: '' })} />}
        </>
      )
    case 'wait':
      return (
        <div className="stack">
          <label className="row">
            <NumberField
              label="Hours"
              value={message.wait}
              min={0}
              max={720}
              autoFocus
              onChange={(wait) => onEdit({ ...message, wait }, 'type')}
            />
            hours after coming in
          </label>
          <p className="hint">0 is at once. 24 hours are a day, whatever the clock does.</p>
        </div>
      )
    case 'hours':
      return <HoursEditor {...props} />
    case 'unless':
      return (
        <PickEditor
          value={message.unless}
          hint="Whoever does it between coming in and being sent is not sent it; they count with the others of their variant."
          onChange={(unless, how) => onEdit(put(message, 'unless', unless), how)}
          onRemove={() => chosen(put(message, 'unless', undefined))}
        />
      )
    case 'again':
      return (
        <div className="stack">
          <label className="row">
            again after
            <NumberField
              label="Days"
              value={message.again ?? 30}
              min={1}
              max={365}
              whole
              onChange={(again) => onEdit({ ...message, again }, 'type')}
            />
            days
          </label>
          {message.again === undefined ? (
            <Button variant="contained" onClick={() => chosen({ ...message, again: 30 })}>
              Let them in again
            </Button>
          ) : (
            <Remove onPress={() => chosen(put(message, 'again', undefined))} />
          )}
          <p className="hint">Rates and effects are of each person’s first time; later ones are told apart.</p>
        </div>
      )
    case 'cap': {
      const cap = message.cap ?? { most: 2, days: 7 }
      return (
        <div className="stack">
          <label className="row">
            <NumberField
              label="Messages"
              value={cap.most}
              min={1}
              max={100}
              whole
              onChange={(most) => onEdit({ ...message, cap: { ...cap, most } }, 'type')}
            />
            messages in
            <NumberField
              label="Days"
              value={cap.days}
              min={1}
              max={365}
              whole
              onChange={(days) => onEdit({ ...message, cap: { ...cap, days } }, 'type')}
            />
            days
          </label>
          {message.cap ? (
            <Remove onPress={() => chosen(put(message, 'cap', undefined))} />
          ) : (
            <Button variant="contained" onClick={() => chosen({ ...message, cap })}>
              Hold back after {cap.most} in {cap.days} days
            </Button>
          )}
          <p className="hint">Messages of all kinds count. Who is held back comes in later, when there is room.</p>
        </div>
      )
    }
    case 'destination':
      return (
        <OptionList
          label="Channels"
          search="Search names"
          empty="No channel is set up yet."
          options={places.map(({ id, name, kind }) => ({
            ...{ key: id, label: name, note: KIND_WORDS[kind].name, value: id, chosen: id === message.destination },
          }))}
          onChoose={(destination) => chosen({ ...message, destination })}
          footer={
            <p className="hint">
              <Link to="/outreach/destinations/new">Set up a new channel</Link>
            </p>
          }
        />
      )
    case 'split':
      return <SplitShares {...props} />
    case 'holdOut':
      return (
        <div className="stack">
          <label className="row">
            <NumberField
              label="Percent left alone"
              value={message.holdOut}
              min={0}
              max={90}
              autoFocus
              onChange={(holdOut) => onEdit({ ...message, holdOut }, 'type')}
            />
            % are left alone
          </label>
          <p className="hint">
            They are sent nothing, so that the others can be measured against them. 0: nothing can be told.
          </p>
        </div>
      )
    case 'goal':
      return (
        <EventPicker
          value={'names' in message.goal.event && message.goal.event.names[0] === NO_EVENT ? null : message.goal.event}
          onChoose={(event) => chosen({ ...message, goal: { event } })}
        />
      )
    case 'goalWhere':
      return (
        <FilterEditor
          events={[message.goal.event]}
          value={message.goal.where}
          onChange={(where, how) => onEdit({ ...message, goal: filtered(message.goal, where) }, how)}
        />
      )
    case 'within':
      return (
        <WindowEditor
          legend="After coming in, at most"
          value={message.within}
          onChange={(within, how) => onEdit({ ...message, within }, how)}
        />
      )
    case 'cost':
      return <CostEditor {...props} />
  }
}

const TRIGGERS = [
  { value: 'comes in', label: 'Comes into a segment' },
  { value: 'event', label: 'Does something' },
  { value: 'daily', label: 'Daily' },
  { value: 'once', label: 'Once' },
] as const

function TriggerEditor({ message, onEdit }: Props) {
  const { trigger } = message
  const { zone } = useWorkspace()
  const set = (next: Trigger, how?: 'type') => onEdit({ ...message, trigger: next }, how)
  const choose = (kind: Trigger['kind']) => {
    if (kind === 'daily') set({ kind, at: '09:00' })
    else if (kind === 'event') set({ kind, event: { event: message.goal.event } })
    else set({ kind })
  }
  return (
    <div className="stack">
      <Segmented label="When somebody comes in" value={trigger.kind} options={TRIGGERS} onChange={choose} />
      {trigger.kind === 'comes in' && (
        <p className="hint">Looked at every minute. Those who are in the segment when it starts come in first.</p>
      )}
      {trigger.kind === 'event' && (
        <PickEditor
          value={trigger.event}
          hint="From when it is started on, looked at every minute."
          onChange={(event, how) => set({ kind: 'event', event }, how === 'type' ? 'type' : undefined)}
        />
      )}
      {trigger.kind === 'daily' && (
        <TextField
          type="time"
          label={`Time of day in ${zone}`}
          defaultValue={trigger.at}
          onChange={({ target: { value } }) => {
            if (/^\d\d:\d\d$/.test(value)) set({ kind: 'daily', at: value }, 'type')
          }}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      )}
      {trigger.kind === 'once' && (
        <>
          <TextField
            type="datetime-local"
            label={`Day and time in ${zone}; empty: when it is started`}
            defaultValue={trigger.at ?? ''}
            onChange={({ target: { value } }) => {
              if (value === '') set({ kind: 'once' }, 'type')
              else if (/^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(value)) set({ kind: 'once', at: value }, 'type')
            }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <p className="hint">All who are in the segment then, and nobody later.</p>
        </>
      )}
    </div>
  )
}

function HoursEditor({ message, onEdit, close }: Props) {
  const hours = message.hours ?? { from: 9, to: 20 }
  const set = (more: Partial<typeof hours>) => {
    const next = { ...hours, ...more }
    if (next.from < next.to) onEdit({ ...message, hours: next }, 'type')
  }
  return (
    <div className="stack">
      <label className="row">
        between
        <NumberField label="From hour" value={hours.from} min={0} max={23} whole onChange={(from) => set({ from })} />
        and
        <NumberField label="To hour" value={hours.to} min={1} max={24} whole onChange={(to) => set({ to })} />
        o’clock
      </label>
      {message.hours ? (
        <Remove
          onPress={() => {
            onEdit(put(message, 'hours', undefined))
            close()
          }}
        />
      ) : (
        <Button variant="contained" onClick={() => onEdit({ ...message, hours })}>
          Only in these hours
        </Button>
      )}
      <p className="hint">
        On the workspace’s clock, or on their own where a profile property holds their time zone
        {hours.zone ? `: ${hours.zone}` : ''}. What falls outside waits until they begin.
      </p>
      {message.hours &&
        (hours.zone ? (
          <Button
            onClick={() => {
              const { zone: _, ...rest } = hours
              onEdit({ ...message, hours: rest })
            }}
          >
            On the workspace’s clock
          </Button>
        ) : (
          <details>
            <summary>On their own clock…</summary>
            <PropertyPicker
              events={[]}
              only="person"
              value={null}
              onChoose={({ property }) => {
                if (property.of === 'person') onEdit({ ...message, hours: { ...hours, zone: property.name } })
              }}
            />
          </details>
        ))}
    </div>
  )
}

/** An event and the condition on it. */
function PickEditor(props: {
  value: EventPick | undefined
  hint: string
  onChange: (pick: EventPick, how?: 'choose' | 'type') => void
  onRemove?: () => void
}) {
  const { value, hint, onChange, onRemove } = props
  const isSet = value !== undefined && !('names' in value.event && value.event.names[0] === NO_EVENT)
  return (
    <div className="stack">
      <p className="hint">{hint}</p>
      <EventPicker value={isSet ? value.event : null} onChoose={(event) => onChange({ event })} />
      {isSet && (
        <details open={value.where !== undefined}>
          <summary>only where…</summary>
          <FilterEditor
            events={[value.event]}
            value={value.where}
            onChange={(where, how) => onChange(filtered(value, where), how)}
          />
        </details>
      )}
      {value && onRemove && <Remove onPress={onRemove} />}
    </div>
  )
}

function SplitShares({ message, onEdit }: Props) {
  const { split, variants } = message
  const shares = fixedShares(split, variants.length)
  return (
    <div className="stack">
      <Segmented
        label="Split"
        value={split.kind}
        options={[
          { value: 'fixed', label: 'Fixed' },
          { value: 'adaptive', label: 'By what works' },
        ]}
        onChange={(kind) => onEdit({ ...message, split: kind === 'fixed' ? { kind, weights: [] } : { kind } })}
      />
      {split.kind === 'fixed' ? (
        variants.map(({ name }, place) => (
          <label className="row between" key={name}>
            {name}
            <span className="row">
              <NumberField
                label={`Share of ${name}`}
                value={split.weights[place] ?? Math.round(shares[place]! * 100)}
                min={0}
                max={1000}
                onChange={(weight) => {
                  const weights = variants.map((_, i) =>
                    i === place ? weight : (split.weights[i] ?? Math.round(shares[i]! * 100)),
                  )
                  if (weights.some((each) => each > 0))
                    onEdit({ ...message, split: { kind: 'fixed', weights } }, 'type')
                }}
              />
              parts
            </span>
          </label>
        ))
      ) : (
        <p className="hint">
          Once a day the variants share by how likely each is to be the best, none under 5 %. Those left alone stay as
          many. Variants are then not tested against each other, only all of them together.
        </p>
      )}
    </div>
  )
}

function CostEditor({ message, onEdit, close }: Props) {
  const { words } = useWorkspace()
  return (
    <div className="stack">
      <label className="row">
        <NumberField
          label="Cost"
          value={message.cost ?? 0}
          min={0}
          max={1_000_000}
          autoFocus
          onChange={(cost) => onEdit({ ...message, cost }, 'type')}
        />
        {words.currency ?? 'EUR'} for each one sent
      </label>
      {message.cost !== undefined && (
        <Remove
          onPress={() => {
            onEdit(put(message, 'cost', undefined))
            close()
          }}
        />
      )}
    </div>
  )
}
