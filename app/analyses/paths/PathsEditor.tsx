import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import { useState } from 'react'
import type { PathsResult } from '../../../core/analyses/paths/finish.js'
import {
  MOST_KEEP,
  MOST_STEPS,
  nodeId,
  type Opened,
  type PathsQuestion,
} from '../../../core/analyses/paths/question.js'
import { nodeWords, pickWords } from '../../../core/analyses/paths/words.js'
import type { EventChoice, EventPick } from '../../../core/questions/parts.js'
import { eventWords, propertyWords } from '../../../core/words/words.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { filtered, StartEditor } from '../../editors/StartEditor.js'
import { put, unlessEmpty } from '../../editors/put.js'
import { Chips } from '../../editors/Chips.js'
import { Remove } from '../../editors/Remove.js'
import { Switched } from '../../editors/Switched.js'
import { useWorkspace } from '../../page/workspace.js'
import { WindowEditor } from '../../editors/WindowEditor.js'
import type { EditorProps } from '../view.js'

type Props = EditorProps<PathsQuestion, PathsResult>

/** The editors of a path study's tokens. */
export function PathsEditor(props: Props) {
  const { token, question, result, edit, close } = props
  const { words } = useWorkspace()
  const choose = (next: PathsQuestion) => {
    edit(next)
    close()
  }
  const [name, ...more] = token.split(' ')
  switch (name) {
    case 'end':
      return (
        <div className="stack">
          <p className="hint">
            What happens between the start and this event is asked. Only ways that get there are followed.
          </p>
          <EventPicker
            value={question.end?.event ?? null}
            activity={false}
            onChoose={(event) => {
              const { backward: _before, ...rest } = question
              choose({ ...rest, end: filtered({ event }, question.end?.where) })
            }}
          />
          {question.end && <Remove onPress={() => choose(put(question, 'end', undefined))} />}
        </div>
      )
    case 'where':
      if (more[0] === 'end')
        return (
          <FilterEditor
            events={question.end ? [question.end.event] : []}
            value={question.end?.where}
            onChange={(where, how) => question.end && edit({ ...question, end: filtered(question.end, where) }, how)}
          />
        )
      return <StartEditor {...props} />
    case 'count':
      return (
        <OptionList
          label="What is counted"
          options={[
            {
              ...{ key: 'people', label: 'people', value: undefined, chosen: !question.count },
              note: `Each person once, by their ${question.backward ? 'last' : 'first'} way.`,
            },
            {
              ...{ key: 'occurrences', label: 'every time', value: 'occurrences' as const, chosen: !!question.count },
              note: 'Each time by itself; a way goes no further than the next time.',
            },
          ]}
          onChoose={(count) => choose(put(question, 'count', count))}
        />
      )
    // What is said of each only where it is not the usual is set in one place.
    case 'steps':
    case 'keep':
    case 'unfolded':
      return <StepsEditor {...props} />
    case 'window':
      return (
        <WindowEditor
          legend={
            question.backward ? 'From the first step to the start, at most' : 'From the start to the last step, at most'
          }
          value={question.window}
          onChange={(window, how) => edit({ ...question, window }, how)}
        />
      )
    case 'session':
      return (
        <Switched
          is={question.session}
          hint={`Only what lies in the session of ${pickWords(question.start, words)}: a longer pause ends it.`}
          label="Only within one session"
          onChange={(is) => choose(put(question, 'session', is))}
        />
      )
    case 'leaveOut': {
      const names = question.leaveOut?.event.names ?? []
      const set = (next: string[]) =>
        edit(put(question, 'leaveOut', next.length > 0 ? { event: { names: next } } : undefined))
      return (
        <div className="stack">
          <p className="hint">As if they had not happened.</p>
          <Chips
            items={names.map((each) => ({ key: each, label: eventWords({ names: [each] }, words) }))}
            verb="Bring back"
            onRemove={(index) => set(names.toSpliced(index, 1))}
          />
          <EventPicker
            value={null}
            activity={false}
            onChoose={(event) => set([...new Set([...names, ...('names' in event ? event.names : [])])])}
          />
        </div>
      )
    }
    case 'contains':
    case 'lacks':
      return <PicksEditor {...props} which={name} />
    case 'open':
      return <OpenEditor {...props} preset={more.join(' ')} />
    case 'through': {
      const { through = [] } = question
      return (
        <div className="stack">
          <p className="hint">Only whole ways that have these at these steps. More are added from the picture.</p>
          <Chips
            items={through.map(({ step, node }) => ({
              key: `${step} ${nodeId(node)}`,
              label: `${nodeWords(node, words)} at step ${step}`,
            }))}
            verb="Let go"
            onRemove={(index) => {
              const next = through.toSpliced(index, 1)
              edit(put(question, 'through', next.length > 0 ? next : undefined))
            }}
          />
        </div>
      )
    }
    case 'breakdown':
      return (
        <div className="stack">
          <p className="hint">Two groups stand side by side as two streams, and as one difference.</p>
          <BreakdownsEditor
            token={token}
            events={[question.start.event]}
            value={question.breakdowns}
            found={(result?.groups ?? []).map(({ key }) => key)}
            onChange={(next, how) => edit(put(question, 'breakdowns', next && twoOf(next, question)), how)}
            onDone={close}
          />
        </div>
      )
    default:
      return <StartEditor {...props} />
  }
}

/** Newly chosen, the two largest groups are kept: more cannot be compared. */
function twoOf(next: NonNullable<PathsQuestion['breakdowns']>, { breakdowns }: PathsQuestion) {
  const [split] = next
  const isNew = JSON.stringify(split.by) !== JSON.stringify(breakdowns?.[0]?.by)
  return [isNew && split.by.of !== 'segments' ? { ...split, keep: 2, hideRest: true as const } : split]
}

function StepsEditor({ question, edit, open }: Props) {
  const { steps, backward, end } = question
  return (
    <div className="stack">
      {!end && (
        <fieldset>
          <legend>Which way</legend>
          <div className="chips">
            {[
              { label: 'what comes next', back: undefined },
              { label: 'what came before', back: true as const },
            ].map(({ label, back }) => (
              <Button
                key={label}
                size="small"
                variant={back === backward ? 'contained' : 'outlined'}
                aria-pressed={back === backward}
                onClick={() => edit(put(question, 'backward', back))}
              >
                {label}
              </Button>
            ))}
            {open && (
              <Button size="small" variant="outlined" onClick={() => open('end')}>
                what happens up to…
              </Button>
            )}
          </div>
        </fieldset>
      )}
      <fieldset>
        <legend>How far, and how many ways</legend>
        <NumberField
          label="Steps"
          value={steps}
          min={1}
          max={MOST_STEPS}
          whole
          autoFocus
          onChange={(next) => edit({ ...inSteps(question, next), steps: next }, 'type')}
        />
        <span>steps</span>
        <NumberField
          label="Ways a step"
          value={question.keep}
          min={1}
          max={MOST_KEEP}
          whole
          onChange={(keep) => edit({ ...question, keep }, 'type')}
        />
        <span>ways a step at most</span>
        {question.wide?.map((step) => (
          <Button
            key={step}
            onClick={() => edit(put(question, 'wide', unlessEmpty(question.wide!.filter((each) => each !== step))))}
          >
            Gather the small ones at step {step} again
          </Button>
        ))}
      </fieldset>
      <FormControlLabel
        control={
          <Switch
            checked={!question.unfolded}
            onChange={(_event, folded) => edit(put(question, 'unfolded', folded ? undefined : true))}
          />
        }
        label="Repeats in a row are one step"
      />
    </div>
  )
}

/** Without ways through steps that are no longer followed. */
function inSteps(question: PathsQuestion, steps: number): PathsQuestion {
  const { through, wide } = question
  const left = { through: through?.filter(({ step }) => step <= steps), wide: wide?.filter((step) => step <= steps) }
  return put(put(question, 'through', unlessEmpty(left.through)), 'wide', unlessEmpty(left.wide))
}

const PICKS = {
  contains: { hint: 'Only whole ways that have all of these, on the steps that are followed.', remove: 'Let go' },
  lacks: { hint: 'Whole ways that have any of these are left out.', remove: 'Let go' },
}

function PicksEditor({ question, edit, which }: Props & { which: 'contains' | 'lacks' }) {
  const { words } = useWorkspace()
  const picks: EventPick[] = question[which] ?? []
  const [open, setOpen] = useState<number | null>(null)
  const set = (next: EventPick[], how?: 'choose' | 'type') =>
    edit(put(question, which, next.length > 0 ? next : undefined), how)
  return (
    <div className="stack">
      <p className="hint">{PICKS[which].hint}</p>
      <Chips
        items={picks.map((pick, index) => ({ key: String(index), label: pickWords(pick, words) }))}
        verb={PICKS[which].remove}
        onRemove={(index) => {
          setOpen(null)
          set(picks.toSpliced(index, 1))
        }}
        onOpen={(index) => setOpen(open === index ? null : index)}
      />
      {open !== null && picks[open] ? (
        <FilterEditor
          events={[picks[open].event]}
          value={picks[open].where}
          onChange={(where, how) => set(picks.with(open, filtered(picks[open], where)), how)}
        />
      ) : (
        <EventPicker value={null} activity={false} onChoose={(event) => set([...picks, { event }])} />
      )}
    </div>
  )
}

/** Which event is opened, and by what. */
function OpenEditor({ question, edit, close, preset }: Props & { preset: string }) {
  const { words } = useWorkspace()
  const { open = [] } = question
  const [event, setEvent] = useState<string | null>(preset === '' ? null : preset)
  const set = (next: Opened[]) => edit(put(question, 'open', next.length > 0 ? next : undefined))
  const choice: EventChoice | null = event === null ? null : { names: [event] }
  return (
    <div className="stack">
      <p className="hint">
        {choice
          ? `Each value of what is chosen makes ${eventWords(choice, words)} an event of its own.`
          : 'Which event is told apart by its values?'}
      </p>
      <Chips
        items={open.map(({ event: of, by }, index) => ({
          key: String(index),
          label: `${eventWords(of, words)} by ${propertyWords(by, words)}`,
        }))}
        verb="Close"
        onRemove={(index) => set(open.toSpliced(index, 1))}
      />
      {choice ? (
        <PropertyPicker
          events={[choice]}
          value={null}
          onChoose={({ property }) => {
            const others = open.filter(({ event: of }) => !of.names.includes(event!))
            set([...others, { event: { names: [event!] }, by: property }])
            close()
          }}
        />
      ) : (
        <EventPicker value={null} activity={false} onChoose={(found) => 'names' in found && setEvent(found.names[0])} />
      )}
    </div>
  )
}
