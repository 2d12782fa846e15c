import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useState } from 'react'
import {
  entryOperators,
  requiredSteps,
  type EntryTest,
  type Forbidden,
  type FunnelQuestion,
  type FunnelStep,
} from '../../../core/analyses/funnel/question.js'
import { entryWords, forbiddenWords, stepName } from '../../../core/analyses/funnel/sentence.js'
import type { EventChoice } from '../../../core/questions/parts.js'
import { propertyWords } from '../../../core/words/words.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { TokenPopover } from '../../editors/TokenPopover.js'
import { useWorkspace } from '../../page/workspace.js'

type At = { left: number; top: number }

/** What of which step, or of which forbidden event, is being edited, and where its editor stands. */
export type Open =
  | { what: 'event' | 'also' | 'where'; step: number; at: At }
  | { what: 'entry'; step: number; at: At }
  | { what: 'add'; at: At }
  | { what: 'forbid'; after?: number; at: At }
  | { what: 'forbidden'; index: number; at: At }

const LABELS: Record<Open['what'], string> = {
  add: 'Add a step',
  event: 'Event of the step',
  also: 'Or another event',
  where: 'Only where',
  entry: 'Compared with the first step',
  forbid: 'Must not happen',
  forbidden: 'Must not happen',
}

/** The small editor of a step: its event, a further one that counts as well, its condition; a new step; what ends an attempt. */
export function StepEditor(props: {
  open: Open | null
  question: FunnelQuestion
  edit: (question: FunnelQuestion, how?: 'choose' | 'type') => void
  setOpen: (open: Open | null) => void
}) {
  const { open, question, edit, setOpen } = props
  if (!open) return null
  const close = () => setOpen(null)
  return (
    <TokenPopover
      at={open.at}
      label={LABELS[open.what]}
      onClose={close}
      {...(open.what === 'entry' || open.what === 'forbidden' ? { width: 420 } : {})}
    >
      {open.what === 'forbid' ? (
        <EventPicker
          value={null}
          activity={false}
          onChoose={(event) => {
            const forbidden = question.forbidden ?? []
            edit({
              ...question,
              forbidden: [...forbidden, { event, ...(open.after === undefined ? {} : { after: open.after }) }],
            })
            setOpen({ what: 'forbidden', index: forbidden.length, at: open.at })
          }}
        />
      ) : open.what === 'forbidden' ? (
        <ForbiddenEditor question={question} index={open.index} edit={edit} close={close} />
      ) : open.what === 'entry' ? (
        <EntryEditor question={question} step={open.step} edit={edit} />
      ) : (
        <PickEditor open={open} question={question} edit={edit} close={close} />
      )}
    </TokenPopover>
  )
}

function PickEditor(props: {
  open: Extract<Open, { what: 'event' | 'also' | 'where' } | { what: 'add' }>
  question: FunnelQuestion
  edit: (question: FunnelQuestion, how?: 'choose' | 'type') => void
  close: () => void
}) {
  const { open, question, edit, close } = props
  const { steps } = question
  const step = open.what === 'add' ? null : steps[open.step]
  const setSteps = (next: FunnelStep[], how: 'choose' | 'type' = 'choose') => edit({ ...question, steps: next }, how)
  const replace = (next: FunnelStep, how: 'choose' | 'type' = 'choose') =>
    open.what !== 'add' && setSteps(steps.with(open.step, next), how)
  const choose = (event: EventChoice) => {
    if (open.what === 'add') setSteps([...steps, { event }])
    else if (step && open.what === 'also' && 'names' in step.event && 'names' in event)
      replace({ ...step, event: { names: [...new Set([...step.event.names, ...event.names])] } })
    else if (step) replace({ ...step, event })
    close()
  }
  const several = step && 'names' in step.event && step.event.names.length > 1 ? step.event.names : null
  return (
    <>
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
    </>
  )
}

/** Comparisons of a step's own values with those of the attempt's first step. */
function EntryEditor(props: {
  question: FunnelQuestion
  step: number
  edit: (question: FunnelQuestion, how?: 'choose' | 'type') => void
}) {
  const { question, step: at, edit } = props
  const { words } = useWorkspace()
  const step = question.steps[at]
  const tests = step.entry ?? []
  const [own, setOwn] = useState<EntryTest['property'] | null>(null)
  const [op, setOp] = useState<EntryTest['op']>('=')
  const [adding, setAdding] = useState(tests.length === 0)
  const set = (next: EntryTest[]) => {
    const { entry: _before, ...rest } = step
    edit({ ...question, steps: question.steps.with(at, next.length > 0 ? { ...rest, entry: next } : rest) })
  }
  return (
    <div className="stack">
      {tests.map((test, i) => (
        <div className="row between" key={i}>
          <span>{entryWords(test, words)}</span>
          <Button size="small" color="error" onClick={() => set(tests.toSpliced(i, 1))}>
            Remove
          </Button>
        </div>
      ))}
      {!adding ? (
        tests.length < 5 && (
          <Button variant="outlined" onClick={() => setAdding(true)}>
            And another
          </Button>
        )
      ) : !own ? (
        <>
          <p className="hint">Which value of {stepName(question, at, words)}?</p>
          <PropertyPicker events={[step.event]} value={null} onChoose={({ property }) => setOwn(property)} />
        </>
      ) : (
        <>
          <div className="row">
            <strong>{propertyWords(own, words)}</strong>
            <Select
              value={op}
              aria-label="How they compare"
              onChange={(event) => setOp(event.target.value as EntryTest['op'])}
            >
              {entryOperators.map((each) => (
                <MenuItem key={each} value={each}>
                  {each}
                </MenuItem>
              ))}
            </Select>
            <span>which value of {stepName(question, 0, words)} at the start?</span>
          </div>
          <PropertyPicker
            events={[question.steps[0].event]}
            value={own}
            onChoose={({ property }) => {
              set([...tests, { property: own, op, entry: property }])
              setOwn(null)
              setAdding(false)
            }}
          />
        </>
      )}
    </div>
  )
}

function ForbiddenEditor(props: {
  question: FunnelQuestion
  index: number
  edit: (question: FunnelQuestion, how?: 'choose' | 'type') => void
  close: () => void
}) {
  const { question, index, edit, close } = props
  const { words } = useWorkspace()
  const { forbidden = [], ...plain } = question
  const each = forbidden[index]
  if (!each) return null
  const set = (next: Forbidden[], how: 'choose' | 'type' = 'choose') =>
    edit(next.length > 0 ? { ...plain, forbidden: next } : plain, how)
  const { after: _after, ...anywhere } = each
  return (
    <div className="stack">
      <p>
        An attempt ends when <strong>{forbiddenWords(anywhere, words)}</strong> happens before its next step.
      </p>
      <label className="inline-field">
        After
        <Select
          value={each.after ?? -1}
          aria-label="After which step"
          onChange={(event) => {
            const after = event.target.value
            set(forbidden.with(index, after < 0 ? anywhere : { ...anywhere, after }))
          }}
        >
          <MenuItem value={-1}>any step</MenuItem>
          {requiredSteps(question.steps)
            .slice(0, -1)
            .map((step) => (
              <MenuItem key={step} value={step}>
                {step + 1} {stepName(question, step, words)}
              </MenuItem>
            ))}
        </Select>
      </label>
      <FilterEditor
        events={[each.event]}
        value={each.where}
        onChange={(where, how) => {
          const { where: _before, ...rest } = each
          set(forbidden.with(index, where ? { ...rest, where } : rest), how)
        }}
      />
      <div className="row">
        <Button
          color="error"
          onClick={() => {
            close()
            set(forbidden.toSpliced(index, 1))
          }}
        >
          Remove
        </Button>
      </div>
    </div>
  )
}
