import { type EventChoice, type EventPick } from '../../../core/questions/parts.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { TokenPopover } from '../../editors/TokenPopover.js'

/** What of which step is being edited, and where its editor stands. */
export type Open =
  | { what: 'event' | 'also' | 'where'; step: number; at: { left: number; top: number } }
  | { what: 'add'; at: { left: number; top: number } }

/** The small editor of a step: its event, a further one that counts as well, its condition; or a new step. */
export function StepEditor(props: {
  open: Open | null
  steps: readonly EventPick[]
  setSteps: (steps: EventPick[], how?: 'choose' | 'type') => void
  close: () => void
}) {
  const { open, steps, setSteps, close } = props
  if (!open) return null
  const step = open.what === 'add' ? null : steps[open.step]
  const replace = (next: EventPick, how: 'choose' | 'type' = 'choose') =>
    open.what !== 'add' && setSteps(steps.with(open.step, next), how)
  const choose = (event: EventChoice) => {
    if (open.what === 'add') setSteps([...steps, { event }])
    else if (step && open.what === 'also' && 'names' in step.event && 'names' in event)
      replace({ ...step, event: { names: [...new Set([...step.event.names, ...event.names])] } })
    else if (step) replace({ ...step, event })
    close()
  }
  const labels = { add: 'Add a step', event: 'Event of the step', also: 'Or another event', where: 'Only where' }
  const several = step && 'names' in step.event && step.event.names.length > 1 ? step.event.names : null
  return (
    <TokenPopover at={open.at} label={labels[open.what]} onClose={close}>
      {open.what === 'event' && several && (
        <div className="any-of">
          <span className="hint">Any of</span>
          {several.map((name) => (
            <button
              key={name}
              type="button"
              className="chip"
              aria-label={`Take ${name} out`}
              onClick={() => replace({ ...step!, event: { names: several.filter((other) => other !== name) } })}
            >
              {name} ×
            </button>
          ))}
        </div>
      )}
      {open.what === 'where' && step ? (
        <FilterEditor
          events={[step.event]}
          value={step.where}
          onChange={(where, how) => {
            const { where: _before, ...rest } = step
            replace(where ? { ...rest, where } : rest, how)
          }}
        />
      ) : (
        <EventPicker value={open.what === 'event' ? (step?.event ?? null) : null} activity={false} onChoose={choose} />
      )}
    </TokenPopover>
  )
}
