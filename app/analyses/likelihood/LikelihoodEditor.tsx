import { featureName } from '../../../core/analyses/likelihood/features.js'
import type { LikelihoodResult } from '../../../core/analyses/likelihood/finish.js'
import {
  MOST_DAYS,
  USUAL_BACK,
  type Kept,
  type LikelihoodQuestion,
} from '../../../core/analyses/likelihood/question.js'
import { keptWords } from '../../../core/analyses/likelihood/words.js'
import { Chips } from '../../editors/Chips.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { put, unlessEmpty } from '../../editors/put.js'
import { filtered } from '../../editors/StartEditor.js'
import { Switched } from '../../editors/Switched.js'
import { useWorkspace } from '../../page/workspace.js'
import type { EditorProps } from '../view.js'

type Props = EditorProps<LikelihoodQuestion, LikelihoodResult>

/** The editors of the tokens of a likelihood. */
export function LikelihoodEditor(props: Props) {
  const { token, question, edit, close } = props
  const { goal } = question
  switch (token) {
    case 'goal':
      return (
        <EventPicker
          value={goal.event}
          onChoose={(event) => {
            edit({ ...question, goal: { ...goal, event } })
            close()
          }}
        />
      )
    case 'where':
      return (
        <FilterEditor
          events={[goal.event]}
          value={goal.where}
          onChange={(where, how) => edit({ ...question, goal: filtered(goal, where) }, how)}
        />
      )
    case 'days':
      return (
        <DaysField
          hint="Whether they do it within so many days of 24 hours is foretold. It is learned from the same number of days until now."
          value={question.days}
          onChange={(days) => edit({ ...question, days }, 'type')}
        />
      )
    case 'back':
      return (
        <DaysField
          hint="What they did in so many days of 24 hours before is looked at."
          value={question.back ?? USUAL_BACK}
          onChange={(back) => edit(put(question, 'back', back === USUAL_BACK ? undefined : back), 'type')}
        />
      )
    case 'again':
      return (
        <Switched
          label="Who did it before too"
          is={question.again}
          onChange={(is) => edit(put(question, 'again', is))}
          hint="People who have done it before are asked about as well, and not only those who never have."
        />
      )
    case 'lately':
      return (
        <Switched
          label="Only people seen in those days"
          is={question.lately}
          hint="Who did nothing in the days that are looked at is left out: that they will not do it is plain."
          onChange={(is) => edit(put(question, 'lately', is))}
        />
      )
    case 'retrain':
      return (
        <Switched
          label="Train by hand"
          is={question.retrain && true}
          onChange={(is) => edit(put(question, 'retrain', is && ('by hand' as const)))}
          hint="The model stays until somebody has it trained anew, and is told of people whose time has passed since. Else it is trained anew once a day."
        />
      )
    case 'keep':
      return <KeepEditor {...props} />
    default:
      return null
  }
}

function DaysField(props: { hint: string; value: number; onChange: (days: number) => void }) {
  const { hint, value, onChange } = props
  return (
    <div className="stack">
      <p className="hint">{hint}</p>
      <div className="row">
        <NumberField label="Days" value={value} min={1} max={MOST_DAYS} whole autoFocus onChange={onChange} />
        <span>days</span>
      </div>
    </div>
  )
}

/** What was left out, as it may know what came after, and is looked at all the same. */
function KeepEditor({ question, result, edit }: Props) {
  const { words } = useWorkspace()
  const { keep = [] } = question
  const out = result?.model?.out
  const others: Kept[] = [
    ...(out?.late ?? []).map(({ property }): Kept => ({ property })),
    ...(out?.leaks ?? []).flatMap(({ feature }): Kept[] => {
      const name = featureName(feature)
      return name ? [name] : []
    }),
  ].filter((each, at, all) => all.findIndex((other) => JSON.stringify(other) === JSON.stringify(each)) === at)
  return (
    <div className="stack">
      <p className="hint">
        What tells nearly alone who does it, or came to the profile after the cut-off, is left out: it may know what
        came after. Keep what was known before.
      </p>
      <Chips
        items={keep.map((each) => ({ key: JSON.stringify(each), label: keptWords([each], words) }))}
        verb="Leave out"
        onRemove={(index) => edit(put(question, 'keep', unlessEmpty(keep.toSpliced(index, 1))))}
      />
      {others.length > 0 ? (
        <OptionList
          label="Keep"
          search="Search"
          options={others.map((each) => ({
            key: JSON.stringify(each),
            value: each,
            label: keptWords([each], words),
            chosen: false,
          }))}
          onChoose={(each) => edit({ ...question, keep: [...keep, each] })}
        />
      ) : (
        <p className="soft">Nothing is left out.</p>
      )}
    </div>
  )
}
