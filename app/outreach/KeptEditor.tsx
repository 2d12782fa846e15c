import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { Link } from 'react-router'
import { KIND_WORDS, type DestinationKind } from '../../core/outreach/destination.js'
import type { Sync } from '../../core/outreach/sync.js'
import { propertyWords } from '../../core/words/words.js'
import { isLocalDay } from '../../core/time/range.js'
import { NumberField } from '../editors/NumberField.js'
import { OptionList } from '../editors/OptionList.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { Segmented } from '../ui/Segmented.js'
import { SegmentChoice } from '../segments/SegmentChoice.js'
import { useWorkspace } from '../page/workspace.js'

export type KeptToken = 'segment' | 'destination' | 'schedule' | 'properties' | 'onlyNew' | 'until'

export const TOKEN_LABELS: Readonly<Record<KeptToken, string>> = {
  segment: 'Which segment',
  destination: 'Where they go',
  schedule: 'When it is looked at anew',
  properties: 'What goes along',
  onlyNew: 'Who of them',
  until: 'Until when',
}

/** The editor of one word of what is kept in step. */
export function KeptEditor(props: {
  token: KeptToken
  definition: Sync
  places: readonly { id: string; name: string; kind: DestinationKind }[]
  onEdit: (next: Sync, how?: 'choose' | 'type') => void
}) {
  const { token, definition, places, onEdit } = props
  const { words } = useWorkspace()
  switch (token) {
    case 'segment':
      return <SegmentChoice value={definition.segment} onChoose={(segment) => onEdit({ ...definition, segment })} />
    case 'destination':
      return (
        <OptionList
          label="Destinations"
          search="Search names"
          empty="No destination by that name."
          options={places.map(({ id, name, kind }) => ({
            ...{ key: id, label: name, note: KIND_WORDS[kind].does, value: id },
            chosen: id === definition.destination,
          }))}
          onChoose={(destination) => onEdit({ ...definition, destination })}
          footer={
            <p className="hint">
              <Link to="/outreach/destinations/new">Set up a new destination</Link>
            </p>
          }
        />
      )
    case 'schedule':
      return <ScheduleEditor definition={definition} onEdit={onEdit} />
    case 'properties':
      return (
        <>
          {definition.properties.length > 0 && (
            <ul className="chosen-list">
              {definition.properties.map((name) => (
                <li key={name}>
                  {propertyWords({ of: 'person', name }, words)}
                  <Button
                    size="small"
                    aria-label={`Leave out ${name}`}
                    onClick={() =>
                      onEdit({ ...definition, properties: definition.properties.filter((each) => each !== name) })
                    }
                  >
                    Leave out
                  </Button>
                </li>
              ))}
            </ul>
          )}
          <p className="hint">Only what is chosen here leaves with the ids.</p>
          <PropertyPicker
            events={[]}
            only="person"
            value={null}
            onChoose={({ property, made }) => {
              if (made || property.of !== 'person' || definition.properties.includes(property.name)) return
              onEdit({ ...definition, properties: [...definition.properties, property.name] })
            }}
          />
        </>
      )
    case 'onlyNew':
      return (
        <OptionList
          label="Who of them"
          options={[
            {
              ...{ key: 'all', label: 'everybody in the segment', value: false, chosen: !definition.onlyNew },
              note: 'Those who are in it at the start go at once.',
            },
            {
              ...{ key: 'new', label: 'only those who come in from now on', value: true, chosen: definition.onlyNew },
              note: 'Those who are in it when it starts are left alone.',
            },
          ]}
          onChoose={(onlyNew) => onEdit({ ...definition, onlyNew })}
        />
      )
    case 'until':
      return (
        <div className="stack">
          <TextField
            type="date"
            label="The last day"
            defaultValue={definition.until ?? ''}
            autoFocus
            onChange={({ target: { value } }) => {
              if (isLocalDay(value)) onEdit({ ...definition, until: value }, 'type')
            }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <p className="hint">After it nothing is looked at any more; who is there then stays there.</p>
          {definition.until && (
            <Button
              onClick={() => {
                const { until: _, ...rest } = definition
                onEdit(rest)
              }}
            >
              No end
            </Button>
          )}
        </div>
      )
  }
}

const SCHEDULES = [
  { value: 'once', label: 'Once' },
  { value: 'hours', label: 'Hours' },
  { value: 'daily', label: 'Daily' },
  { value: 'each change', label: 'Each change' },
] as const

function ScheduleEditor({ definition, onEdit }: { definition: Sync; onEdit: (next: Sync, how?: 'type') => void }) {
  const { schedule } = definition
  const { zone } = useWorkspace()
  const choose = (kind: (typeof SCHEDULES)[number]['value']) => {
    if (kind === 'hours') onEdit({ ...definition, schedule: { kind, every: 6 } })
    else if (kind === 'daily') onEdit({ ...definition, schedule: { kind, at: '06:00' } })
    else onEdit({ ...definition, schedule: { kind } })
  }
  return (
    <div className="stack">
      <Segmented label="How often" value={schedule.kind} options={SCHEDULES} onChange={choose} />
      {schedule.kind === 'once' && (
        <p className="hint">Those who are in the segment when it is started, and no more.</p>
      )}
      {schedule.kind === 'hours' && (
        <label className="row">
          every
          <NumberField
            label="Hours"
            value={schedule.every}
            min={1}
            max={168}
            whole
            onChange={(every) => onEdit({ ...definition, schedule: { kind: 'hours', every } }, 'type')}
          />
          hours
        </label>
      )}
      {schedule.kind === 'daily' && (
        <>
          <TextField
            type="time"
            label={`Time of day in ${zone}`}
            defaultValue={schedule.at}
            onChange={({ target: { value } }) => {
              if (/^\d\d:\d\d$/.test(value)) onEdit({ ...definition, schedule: { kind: 'daily', at: value } }, 'type')
            }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <p className="hint">On days on which the clock is changed it is done once all the same.</p>
        </>
      )}
      {schedule.kind === 'each change' && (
        <p className="hint">Looked at every minute; a run is noted when somebody comes or goes.</p>
      )}
    </div>
  )
}
