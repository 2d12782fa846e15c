import type { Range } from '../../core/time/range.js'
import type { EventPick } from '../../core/questions/parts.js'
import { EventPicker } from './EventPicker.js'
import { FilterEditor } from './FilterEditor.js'
import { RangeEditor } from './RangeEditor.js'

/** The editors that studies of one kind of event share: the event, its filter, and the time asked about. */
export function StartEditor<Q extends { start: EventPick; range: Range }>(props: {
  token: string
  question: Q
  edit: (question: Q, how?: 'choose' | 'type') => void
  close: () => void
}) {
  const { token, question, edit, close } = props
  const { start } = question
  switch (token) {
    case 'event':
      return (
        <EventPicker
          value={start.event}
          onChoose={(event) => {
            edit({ ...question, start: { ...start, event } })
            close()
          }}
        />
      )
    case 'where':
      return (
        <FilterEditor
          events={[start.event]}
          value={start.where}
          onChange={(where, how) => edit({ ...question, start: filtered(start, where) }, how)}
        />
      )
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    default:
      return null
  }
}

/** An event with another filter, or with none. */
export function filtered({ event }: EventPick, where: EventPick['where']): EventPick {
  return where ? { event, where } : { event }
}
