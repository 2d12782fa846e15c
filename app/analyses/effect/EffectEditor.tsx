import { useEffect } from 'react'
import { Link, useFetcher } from 'react-router'
import type { EffectResult } from '../../../core/analyses/effect/finish.js'
import type { EffectQuestion } from '../../../core/analyses/effect/question.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { OptionList } from '../../editors/OptionList.js'
import { put } from '../../editors/put.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { filtered } from '../../editors/StartEditor.js'
import { WindowEditor } from '../../editors/WindowEditor.js'
import type { EditorProps } from '../view.js'

type Props = EditorProps<EffectQuestion, EffectResult>

/** The editors of the tokens of an effect. */
export function EffectEditor(props: Props) {
  const { token, question, result, edit, close } = props
  const { goal } = question
  if (token.startsWith('breakdown'))
    return (
      <BreakdownsEditor
        token={token}
        events={[]}
        value={question.breakdowns}
        found={(result?.groups ?? []).map(({ key }) => key)}
        people
        onChange={(breakdowns, how) => edit(put(question, 'breakdowns', breakdowns), how)}
        onDone={close}
      />
    )
  switch (token) {
    case 'message':
      return <MessageChoice {...props} />
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
    case 'goalWhere':
      return (
        <FilterEditor
          events={[goal.event]}
          value={goal.where}
          onChange={(where, how) => edit({ ...question, goal: filtered(goal, where) }, how)}
        />
      )
    case 'within':
      return (
        <WindowEditor
          legend="After coming in, at most"
          value={question.within}
          onChange={(within, how) => edit({ ...question, within }, how)}
        />
      )
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    default:
      return null
  }
}

/** The messages there are, with their own goals. */
function MessageChoice({ question, edit, close }: Props) {
  const { data, load } = useFetcher<EffectQuestion[]>()
  useEffect(() => {
    void load('/choices/messages')
  }, [load])
  return (
    <OptionList
      label="Messages"
      search="Search names"
      empty="No message by that name has been started."
      options={(data ?? [question]).map((each) => ({
        ...{ key: each.message, label: each.message, value: each, chosen: each.message === question.message },
      }))}
      onChoose={(each) => {
        edit({ ...each, show: question.show })
        close()
      }}
      footer={
        <p className="hint">
          <Link to="/outreach/messages/new">Write a new message</Link>
        </p>
      }
    />
  )
}
