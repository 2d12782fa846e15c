import Button from '@mui/material/Button'
import type { SessionsResult } from '../../../core/analyses/sessions/finish.js'
import {
  sessionMeasures,
  sessionUnits,
  type SessionMeasure,
  type SessionsQuestion,
} from '../../../core/analyses/sessions/question.js'
import { ASKED, MEASURED, MEASURE_UNIT, targetWords } from '../../../core/analyses/sessions/words.js'
import { COMPARED_TO } from '../../../core/time/comparison.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { CompareEditor } from '../../editors/CompareEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { NumberField } from '../../editors/NumberField.js'
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
          onChoose={(measure) => {
            // What is aimed at is of one measure.
            const { target: _of, ...rest } = question
            choose(measure === question.measure ? question : { ...rest, measure })
          }}
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
    case 'compare':
      return (
        <CompareEditor
          choices={COMPARED_TO}
          value={question.compare}
          onChange={(compare, how) => edit(put(question, 'compare', compare), how)}
          close={close}
        />
      )
    case 'target':
      return <TargetEditor question={question} edit={edit} choose={choose} />
    default:
      return null
  }
}

/** What is aimed at, in the measure's own unit. */
function TargetEditor(props: {
  question: SessionsQuestion
  edit: EditorProps<SessionsQuestion, SessionsResult>['edit']
  choose: (next: SessionsQuestion) => void
}) {
  const { question, edit, choose } = props
  const { measure, target } = question
  const unit = MEASURE_UNIT[measure]
  const percent = unit === 'percent'
  const usual = USUAL_TARGET[measure]
  const shown = target ?? usual
  return (
    <div className="stack">
      <fieldset>
        <legend>
          {MEASURED[measure]}: {percent ? 'no more than' : 'at least'}
        </legend>
        <NumberField
          label="Target"
          value={percent ? Number((shown * 100).toPrecision(12)) : shown}
          min={percent ? 0.1 : 0.01}
          max={percent ? 100 : 1e9}
          autoFocus
          onChange={(n) => edit({ ...question, target: percent ? Number((n / 100).toPrecision(12)) : n }, 'type')}
        />
        <span>{unit === 'duration' ? 'minutes' : percent ? '%' : ''}</span>
      </fieldset>
      {target === undefined ? (
        <Button variant="contained" onClick={() => choose({ ...question, target: usual })}>
          Aim at {targetWords(usual, measure)}
        </Button>
      ) : (
        <Remove onPress={() => choose(put(question, 'target', undefined))} />
      )}
    </div>
  )
}

/** What may be aimed at where nobody said: minutes, a part of 1, a number. */
const USUAL_TARGET: Record<SessionMeasure, number> = {
  sessions: 1000,
  'per person': 3,
  'median length': 5,
  'average length': 5,
  'time per person': 30,
  single: 0.2,
  events: 5,
}
