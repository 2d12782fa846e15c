import { readsEvent } from '../../../core/questions/groupedBy.js'
import Button from '@mui/material/Button'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { ORDER_WORDS, stepName, targetWords } from '../../../core/analyses/funnel/sentence.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { CompareEditor } from '../../editors/CompareEditor.js'
import { WindowEditor } from '../../editors/WindowEditor.js'
import { put } from '../../editors/put.js'
import { Remove } from '../../editors/Remove.js'
import { useWorkspace } from '../../page/workspace.js'
import type { EditorProps } from '../view.js'
import { lastBreakdown } from '../additions.js'

type Order = NonNullable<FunnelQuestion['order']> | 'one after another'

const ORDERS: { value: Order; note: string }[] = [
  { value: 'one after another', note: 'Anything may happen between the steps.' },
  { value: 'back to back', note: 'The very next thing a person does must be the next step.' },
  { value: 'any order', note: 'All steps within the time, however they come.' },
]

/** What the field of a target starts with. */
const USUAL_TARGET = 0.5

/** The editors of a funnel's tokens, save those of its steps. */
export function FunnelEditor({
  token,
  question,
  result,
  edit,
  close,
  open,
}: EditorProps<FunnelQuestion, FunnelResult>) {
  const { words } = useWorkspace()
  const choose = (next: FunnelQuestion) => {
    edit(next)
    close()
  }
  switch (token.replace(/ \d+$/, '')) {
    case 'count':
      return (
        <OptionList
          label="What is counted"
          options={[
            {
              ...{ key: 'people', label: 'people', value: undefined, chosen: !question.count },
              note: 'Each person once, by their deepest attempt.',
            },
            {
              ...{ key: 'attempts', label: 'attempts', value: 'attempts' as const, chosen: !!question.count },
              note: 'Every start by itself; an event counts for one attempt only.',
            },
          ]}
          onChoose={(count) => choose(put(question, 'count', count))}
        />
      )
    case 'order':
      return (
        <OptionList
          label="In what order"
          options={ORDERS.map(({ value, note }) => ({
            ...{ key: value, label: ORDER_WORDS[value], note, value },
            chosen: value === (question.order ?? 'one after another'),
          }))}
          onChoose={(order) => choose(inOrder(question, order))}
        />
      )
    case 'window':
      return <WindowEditor value={question.window} onChange={(window, how) => edit({ ...question, window }, how)} />
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    case 'same':
      return (
        <div className="stack">
          <p className="hint">Every step must carry the value that the start carries.</p>
          <PropertyPicker
            events={question.steps.map(({ event }) => event)}
            value={question.same ?? null}
            onChoose={({ property }) => choose({ ...question, same: property })}
          />
          {question.same && <Remove onPress={() => choose(put(question, 'same', undefined))} />}
        </div>
      )
    case 'first':
      return (
        <div className="stack">
          <p className="hint">
            Only each person’s first {stepName(question, 0, words)} ever begins an attempt. Left out: every one does.
          </p>
          {question.first ? (
            <Remove onPress={() => choose(put(question, 'first', undefined))} />
          ) : (
            <Button variant="contained" onClick={() => choose({ ...question, first: true })}>
              Only the first time ever
            </Button>
          )}
        </div>
      )
    case 'compare':
      return (
        <CompareEditor
          choices={['before', 'year']}
          value={question.compare}
          onChange={(compare, how) => edit(put(question, 'compare', compare), how)}
          close={close}
          onGroups={open && (() => open(lastBreakdown(question)))}
        />
      )
    case 'target':
      return (
        <div className="stack">
          <fieldset>
            <legend>At least so many should get through</legend>
            <NumberField
              label="Target in %"
              value={Number(((question.target ?? USUAL_TARGET) * 100).toPrecision(12))}
              min={0.1}
              max={100}
              autoFocus
              onChange={(percent) => edit({ ...question, target: Number((percent / 100).toPrecision(12)) }, 'type')}
            />
            <span>%</span>
          </fieldset>
          {question.target === undefined && (
            <Button variant="contained" onClick={() => choose({ ...question, target: USUAL_TARGET })}>
              Aim at {targetWords(USUAL_TARGET)}
            </Button>
          )}
          {question.target !== undefined && <Remove onPress={() => choose(put(question, 'target', undefined))} />}
        </div>
      )
    case 'breakdown': {
      const { breakdowns, readAt = 0 } = question
      return (
        <div className="stack">
          {(!breakdowns || readsEvent(breakdowns)) && (
            <fieldset>
              <legend>What makes the groups is read at</legend>
              <div className="chips">
                {question.steps.map((_step, i) => (
                  <Button
                    key={i}
                    size="small"
                    variant={i === readAt ? 'contained' : 'outlined'}
                    aria-pressed={i === readAt}
                    onClick={() => edit(put(question, 'readAt', i === 0 ? undefined : i))}
                  >
                    {i + 1} {stepName(question, i, words)}
                  </Button>
                ))}
              </div>
            </fieldset>
          )}
          <BreakdownsEditor
            token={token}
            events={[question.steps[readAt]?.event ?? question.steps[0].event]}
            value={breakdowns}
            found={result ? result.groups.map(({ key }) => key) : []}
            onChange={(next, how) => {
              const { readAt: at, ...rest } = put(question, 'breakdowns', next)
              edit(at && readsEvent(next) ? { ...rest, readAt: at } : rest, how)
            }}
            onDone={close}
          />
        </div>
      )
    }
    default:
      return null
  }
}

/** Where the order does not matter no step is optional or compared with the start, and nothing is done before going on. */
function inOrder(question: FunnelQuestion, order: Order): FunnelQuestion {
  const next = put(question, 'order', order === 'one after another' ? undefined : order)
  if (order !== 'any order') return next
  const plain = question.show?.form === 'repeats' ? put(next, 'show', undefined) : next
  return { ...plain, steps: next.steps.map(({ entry: _entry, optional: _optional, ...step }) => step) }
}
