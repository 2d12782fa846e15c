import { MODEL_NOTES, modelNote } from '../../../core/analyses/attribution/modelNotes.js'
import Button from '@mui/material/Button'
import { useState } from 'react'
import type { AttributionResult } from '../../../core/analyses/attribution/finish.js'
import {
  attributionUnits,
  modelId,
  MOST_MODELS,
  plainModels,
  USUAL_HALF_LIFE,
  type AttributionQuestion,
  type Model,
} from '../../../core/analyses/attribution/question.js'
import { MODEL_NAMES, modelWords, touchWords } from '../../../core/analyses/attribution/words.js'
import { groupId } from '../../../core/questions/groupId.js'
import type { PropertyRef, ValueKey } from '../../../core/questions/parts.js'
import { capital, formatNumber } from '../../../core/words/format.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { Chips } from '../../editors/Chips.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { put, unlessEmpty } from '../../editors/put.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { Remove } from '../../editors/Remove.js'
import { filtered } from '../../editors/StartEditor.js'
import { Switched } from '../../editors/Switched.js'
import { useWorkspace } from '../../page/workspace.js'
import type { EditorProps } from '../view.js'
import { ModelPicture } from './ModelPicture.js'

type Props = EditorProps<AttributionQuestion, AttributionResult>

/** The editors of the tokens of an attribution study. */
export function AttributionEditor(props: Props) {
  const { token, question, result, edit, close } = props
  const choose = (next: AttributionQuestion) => {
    edit(next)
    close()
  }
  const [name, place = '0'] = token.split(' ')
  const index = Number(place)
  switch (name) {
    case 'goal':
      return <GoalEditor {...props} index={index} choose={choose} />
    case 'where': {
      const goal = question.goals[index]
      return goal ? (
        <FilterEditor
          events={[goal.event]}
          value={goal.where}
          onChange={(where, how) =>
            edit({ ...question, goals: question.goals.with(index, filtered(goal, where)) }, how)
          }
        />
      ) : null
    }
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    case 'by':
      return <ByEditor {...props} choose={choose} />
    case 'touches':
      return <TouchesEditor {...props} />
    case 'leftOut':
      return (
        <ValuesEditor
          {...props}
          which="leftOut"
          hint="As if there had been no such touch: those before and after it share the conversion."
          verb="Bring back"
        />
      )
    case 'direct':
      return (
        <ValuesEditor
          {...props}
          which="direct"
          hint="What nobody brought: “last other than direct” passes it over, where there is another touch."
          verb="Let go"
        />
      )
    case 'lookBack':
      return <LookBackEditor {...props} />
    case 'models':
      return <ModelsEditor {...props} />
    case 'halfLife':
      return <HalfLifeEditor {...props} choose={choose} />
    case 'worth':
      return <WorthEditor {...props} choose={choose} />
    case 'first':
      return (
        <Switched
          is={question.first}
          hint="Of each person only the very first conversion ever counts, where it lies in the time asked about."
          label="Only the first of each person"
          onChange={(first) => edit(put(question, 'first', first))}
        />
      )
    case 'costs':
      return (
        <Switched
          is={question.costs}
          hint="What was paid for each value in this time, and by each model what a conversion cost, or how much of it came back. Costs are brought in under Catalog, Costs."
          label="Beside what it cost"
          onChange={(costs) => edit(put(question, 'costs', costs))}
        />
      )
    case 'every':
      return (
        <OptionList
          label="Told"
          options={[undefined, ...attributionUnits].map((value) => ({
            ...{ key: value ?? 'all', value, chosen: value === question.every },
            label: value ? `each ${value}` : 'of all the time together',
          }))}
          onChoose={(every) => choose(put(question, 'every', every))}
        />
      )
    case 'breakdown':
      return (
        <BreakdownsEditor
          token={token}
          events={question.goals.map(({ event }) => event)}
          value={question.breakdowns}
          found={result?.goals[0].groups.flatMap(({ key }) => (key ? [key] : [])) ?? []}
          onChange={(breakdowns, how) => edit(put(question, 'breakdowns', breakdowns), how)}
          onDone={close}
        />
      )
    default:
      return null
  }
}

type Choosing = Props & { choose: (next: AttributionQuestion) => void }

function GoalEditor({ question, edit, choose, index }: Choosing & { index: number }) {
  const { goals } = question
  const goal = goals[index]
  return (
    <div className="stack">
      <p className="hint">
        {index < goals.length || goals.length === 0
          ? 'What people were brought to do.'
          : 'Another conversion, told beside the first, with columns of its own.'}
      </p>
      <EventPicker
        value={goal?.event ?? null}
        activity={false}
        onChoose={(event) =>
          choose({
            ...question,
            goals: goal ? goals.with(index, filtered({ event }, goal.where)) : [...goals, { event }],
          })
        }
      />
      {goal && goals.length > 1 && <Remove onPress={() => edit({ ...question, goals: goals.toSpliced(index, 1) })} />}
    </div>
  )
}

/** What touches are told apart by; other values then: none of them is left out or direct any more. */
function ByEditor({ question, choose }: Choosing) {
  const { leftOut: _out, direct: _direct, ...rest } = question
  const { touches } = question
  const set = (by: AttributionQuestion['by']) =>
    JSON.stringify(by) === JSON.stringify(question.by) ? choose(question) : choose({ ...rest, by })
  return (
    <div className="stack">
      <p className="hint">
        An event with a value of it is a touch. Channel rules make one of several properties, in the catalog.
      </p>
      {touches && (
        <Button
          variant={question.by.of === 'event name' ? 'contained' : 'outlined'}
          onClick={() => set({ of: 'event name' })}
        >
          By which event it is
        </Button>
      )}
      <PropertyPicker
        events={touches ? [touches.event] : [{ activity: true }]}
        value={question.by.of === 'event name' ? null : question.by}
        onChoose={({ property }) => set(property)}
      />
    </div>
  )
}

function TouchesEditor({ question, edit }: Props) {
  const { words } = useWorkspace()
  const { touches, by } = question
  const names = touches && 'names' in touches.event ? touches.event.names : []
  const set = (next: string[]) => {
    const { touches: _before, ...rest } = question
    // Told apart by event, some have to be chosen.
    edit(
      next.length > 0
        ? { ...question, touches: filtered({ event: { names: next } }, touches?.where) }
        : { ...rest, ...(by.of === 'event name' ? { by: { of: 'source' as const } } : {}) },
    )
  }
  return (
    <div className="stack">
      <p className="hint">Only these events are touches: what people clicked, or what they used before.</p>
      <Chips
        items={names.map((name) => ({
          key: name,
          label: touchWords({ value: name }, { of: 'event name' }, undefined, words),
        }))}
        verb="Let go"
        onRemove={(index) => set(names.toSpliced(index, 1))}
      />
      {touches && (
        <FilterEditor
          events={[touches.event]}
          value={touches.where}
          onChange={(where, how) => edit({ ...question, touches: filtered(touches, where) }, how)}
        />
      )}
      <EventPicker
        value={null}
        activity={false}
        onChoose={(event) => set([...new Set([...names, ...('names' in event ? event.names : [])])])}
      />
    </div>
  )
}

/** Some of the values that touches have. */
function ValuesEditor(props: Props & { which: 'leftOut' | 'direct'; hint: string; verb: string }) {
  const { question, result, edit, which, hint, verb } = props
  const { words } = useWorkspace()
  const chosen = question[which] ?? []
  const set = (next: ValueKey[]) => edit(put(question, which, unlessEmpty(next)))
  const taken = new Set([...chosen, ...(question.leftOut ?? [])].map(groupId))
  const others = (result?.values ?? []).filter(
    (key): key is ValueKey => 'value' in key && key.value !== null && !taken.has(groupId(key)),
  )
  return (
    <div className="stack">
      <p className="hint">{hint}</p>
      <Chips
        items={chosen.map((key) => ({ key: groupId(key), label: touchWords(key, question.by, undefined, words) }))}
        verb={verb}
        onRemove={(index) => set(chosen.toSpliced(index, 1))}
      />
      <OptionList
        label="Values of touches"
        search="Search values"
        options={others.map((key) => ({
          ...{ key: groupId(key), value: key, label: touchWords(key, question.by, undefined, words) },
        }))}
        empty="No other value of a touch."
        onChoose={(key) => set([...chosen, key])}
      />
    </div>
  )
}

function LookBackEditor({ question, edit }: Props) {
  const { lookBack } = question
  return (
    <div className="stack">
      <p className="hint">
        How far before a conversion touches count: days of 24 hours, or sessions, of which the conversion’s own is the
        first.
      </p>
      <fieldset>
        <legend>Looking back</legend>
        <NumberField
          label="How far"
          value={lookBack.count}
          min={1}
          max={1000}
          whole
          autoFocus
          onChange={(count) => edit({ ...question, lookBack: { ...lookBack, count } }, 'type')}
        />
        <div className="chips">
          {(['day', 'session'] as const).map((unit) => (
            <Button
              key={unit}
              size="small"
              variant={unit === lookBack.unit ? 'contained' : 'outlined'}
              aria-pressed={unit === lookBack.unit}
              onClick={() => edit({ ...question, lookBack: { ...lookBack, unit } })}
            >
              {unit}s
            </Button>
          ))}
        </div>
      </fieldset>
    </div>
  )
}

/** Models are put beside each other, each with a picture of how it shares one real path. */
function ModelsEditor({ question, result, edit }: Props) {
  const { models, show } = question
  const set = (next: Model[]) => {
    const { lead: _lead, ...rest } = show
    const lead = next.findIndex((model) => modelId(model) === modelId(models[show.lead ?? 0]))
    edit({ ...question, models: next, show: lead > 0 ? { ...rest, lead } : rest })
  }
  const [own, setOwn] = useState<[number, number, number]>([30, 40, 30])
  const isFull = models.length >= MOST_MODELS
  const ownModel: Model = { own }
  const adds = own[0] + own[1] + own[2] === 100
  const isThere = models.some((model) => modelId(model) === modelId(ownModel))
  return (
    <div className="stack">
      <p className="hint">
        {models.length} of at most {MOST_MODELS} stand side by side. The first is what others are compared with.
      </p>
      <ul className="model-list">
        {[...plainModels, ...models.filter((model) => typeof model !== 'string')].map((model) => {
          const at = models.findIndex((each) => modelId(each) === modelId(model))
          const name = modelWords(model)
          return (
            <li key={modelId(model)}>
              <button
                type="button"
                aria-pressed={at >= 0}
                disabled={at < 0 ? isFull : models.length === 1}
                onClick={() => set(at >= 0 ? models.toSpliced(at, 1) : [...models, model])}
              >
                <ModelPicture model={model} question={question} result={result} />
                <span>
                  <strong>{capital(name)}</strong>
                  <small>{typeof model === 'string' ? MODEL_NOTES[model] : modelNote(model)}</small>
                </span>
              </button>
              {at > 0 && (
                <Button size="small" onClick={() => set([model, ...models.toSpliced(at, 1)])}>
                  Compare with it
                </Button>
              )}
            </li>
          )
        })}
      </ul>
      <fieldset>
        <legend>Own weights, in percent</legend>
        {(['First', 'Middle', 'Last'] as const).map((label, at) => (
          <NumberField
            key={label}
            label={label}
            value={own[at]}
            min={0}
            max={100}
            whole
            width={72}
            onChange={(n) => setOwn(own.with(at, n) as [number, number, number])}
          />
        ))}
        <Button disabled={!adds || isFull || isThere} onClick={() => set([...models, ownModel])}>
          Add
        </Button>
        {!adds && <span role="alert">They add up to {formatNumber(own[0] + own[1] + own[2])}, not 100.</span>}
      </fieldset>
    </div>
  )
}

function HalfLifeEditor({ question, edit, choose }: Choosing) {
  const { halfLife } = question
  return (
    <div className="stack">
      <fieldset>
        <legend>{capital(MODEL_NAMES.decay)}: a touch weighs half after</legend>
        <NumberField
          label="Half-life"
          value={halfLife ?? USUAL_HALF_LIFE}
          min={0.01}
          max={1000}
          autoFocus
          onChange={(days) => edit({ ...question, halfLife: days }, 'type')}
        />
        <span>days</span>
      </fieldset>
      {halfLife !== undefined && <Remove onPress={() => choose(put(question, 'halfLife', undefined))} />}
    </div>
  )
}

function WorthEditor({ question, choose }: Choosing) {
  const { worth, goals } = question
  const sum: PropertyRef | null = typeof worth === 'object' ? worth.sum : null
  return (
    <div className="stack">
      <OptionList
        label="What is shared"
        options={[
          {
            ...{ key: 'all', label: 'conversions', value: undefined, chosen: worth === undefined },
            note: 'Each is worth 1.',
          },
          {
            ...{ key: 'people', label: 'people', value: 'people' as const, chosen: worth === 'people' },
            note: 'Each person is worth 1, by their first conversion in this time.',
          },
        ]}
        onChoose={(next) => choose(put(question, 'worth', next))}
      />
      <p className="hint">Or the sum of a number that conversions carry:</p>
      <PropertyPicker
        events={goals.map(({ event }) => event)}
        value={sum}
        kind="number"
        onChoose={({ property }) => choose({ ...question, worth: { sum: property } })}
      />
    </div>
  )
}
