import type { SessionsResult } from '../../../core/analyses/sessions/finish.js'
import { sessionMeasures, sessionUnits, type SessionsQuestion } from '../../../core/analyses/sessions/question.js'
import { ASKED, MEASURED } from '../../../core/analyses/sessions/words.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { OptionList } from '../../editors/OptionList.js'
import { put } from '../../editors/put.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import { Remove } from '../../editors/Remove.js'
import { filtered } from '../../editors/StartEditor.js'
import type { EditorProps } from '../view.js'

/** The editors of the tokens of a study of sessions. */
export function SessionsEditor(props: EditorProps<SessionsQuestion, SessionsResult>) {
  const { token, question, result, edit, close } = props
  const { holds } = question
  const choose = (next: SessionsQuestion) => {
    edit(next)
    close()
  }
  switch (token.replace(/ \d+$/, '')) {
    case 'measure':
      return (
        <OptionList
          label="What is asked of sessions"
          options={sessionMeasures.map((value) => ({
            ...{
              key: value,
              value,
              label: `${ASKED[value]}?`,
              note: MEASURED[value],
              chosen: value === question.measure,
            },
          }))}
          onChoose={(measure) => choose({ ...question, measure })}
        />
      )
    case 'every':
      return (
        <OptionList
          label="By"
          options={sessionUnits.map((value) => ({
            ...{ key: value, value, label: `each ${value}`, chosen: value === question.every },
          }))}
          onChoose={(every) => choose({ ...question, every })}
        />
      )
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    case 'holds':
      return (
        <div className="stack">
          <p className="hint">Only sessions with at least one such event. All of their events count.</p>
          <EventPicker
            value={holds?.event ?? null}
            activity={false}
            onChoose={(event) => choose({ ...question, holds: filtered({ event }, holds?.where) })}
          />
          {holds && <Remove onPress={() => choose(put(question, 'holds', undefined))} />}
        </div>
      )
    case 'where':
      return holds ? (
        <FilterEditor
          events={[holds.event]}
          value={holds.where}
          onChange={(where, how) => edit({ ...question, holds: filtered(holds, where) }, how)}
        />
      ) : null
    case 'first':
      return (
        <OptionList
          label="Which sessions"
          options={[
            { key: 'all', value: false, label: 'all sessions', chosen: !question.first },
            {
              ...{
                key: 'first',
                value: true,
                label: 'only the first session of each person',
                chosen: question.first === true,
              },
              note: 'Their very first, where it begins in the time asked about.',
            },
          ]}
          onChoose={(first) => choose(put(question, 'first', first ? (true as const) : undefined))}
        />
      )
    case 'breakdown':
      return (
        <BreakdownsEditor
          token={token}
          events={[{ activity: true }]}
          value={question.breakdowns}
          found={result?.groups.map(({ key }) => key) ?? []}
          onChange={(breakdowns, how) => edit(put(question, 'breakdowns', breakdowns), how)}
          onDone={close}
        />
      )
    default:
      return null
  }
}
