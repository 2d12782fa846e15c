import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { useState } from 'react'
import type { EventChoice } from '../../core/questions/parts.js'
import { formatNumber } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import { OptionList, type ListOption } from './OptionList.js'
import { noteUse, recentNames } from './recent.js'

/** Chooses an event: recently used first, then by how many there were in 30 days, with what each means. */
export function EventPicker(props: {
  value: EventChoice | null
  onChoose: (event: EventChoice) => void
  activity?: boolean
}) {
  const { value, onChoose, activity = true } = props
  const { catalog } = useWorkspace()
  const [deprecated, setDeprecated] = useState(false)
  const [recent] = useState(() => recentNames('events'))
  const hidden = catalog.events.filter((event) => event.deprecated).length
  const rank = (name: string) => (recent.includes(name) ? recent.indexOf(name) : Infinity)
  const shown = catalog.events
    .filter((event) => (deprecated || !event.deprecated) && event.events > 0)
    .sort((a, b) => rank(a.name) - rank(b.name) || b.recent - a.recent || (a.name < b.name ? -1 : 1))
  const options: ListOption<EventChoice>[] = shown.map((event) => ({
    key: event.name,
    label: event.label,
    note: event.deprecated ? `Deprecated, hidden or merged. ${event.description}` : event.description,
    side: formatNumber(event.recent),
    find: [event.name, ...event.properties],
    value: { names: [event.name] },
    chosen: value !== null && 'names' in value && value.names[0] === event.name,
    group: recent.includes(event.name) ? 'Used lately' : 'Events, with how many in 30 days',
  }))
  if (activity)
    options.push({
      key: 'anything at all',
      label: 'Anything',
      note: 'Any event that counts as activity',
      value: { activity: true },
      chosen: value !== null && 'activity' in value,
      group: 'Or',
    })
  return (
    <OptionList
      label="Events"
      search="Search names and meanings"
      options={options}
      empty="No event by that name has arrived."
      onChoose={(choice) => {
        if ('names' in choice) noteUse('events', choice.names[0])
        onChoose(choice)
      }}
      footer={
        hidden > 0 && (
          <FormControlLabel
            className="option-footer"
            control={<Switch size="small" checked={deprecated} onChange={(_e, on) => setDeprecated(on)} />}
            label={`Show ${hidden} deprecated or merged`}
          />
        )
      }
    />
  )
}
