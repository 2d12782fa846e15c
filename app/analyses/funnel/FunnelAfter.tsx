import type { TimeLimit } from '../../../core/questions/limits.js'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { AfterResult } from '../../../core/analyses/funnel/lookResult.js'
import { requiredSteps, showOf, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import { withinWords } from '../../../core/analyses/funnel/words.js'
import { hasMark } from '../../../core/questions/marks.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { countOf } from '../../../core/words/format.js'
import { eventWords } from '../../../core/words/words.js'
import type { BodyProps } from '../view.js'
import { ShareRow } from './ShareRow.js'

const WITHINS: (TimeLimit | 'session')[] = [
  { count: 10, unit: 'minute' },
  { count: 1, unit: 'hour' },
  { count: 1, unit: 'day' },
  { count: 7, unit: 'day' },
  'session',
]

/** What those lost at a step did instead, and the commonest way there. */
export function FunnelAfter(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { after: AfterResult }) {
  const { question, words, edit, selected, onSelect, after } = props
  const show = showOf(question)
  const asked = show.form === 'after' ? show : { form: 'after' as const, step: after.step, within: 'session' as const }
  const steps = requiredSteps(question.steps).slice(0, -1)
  const choices = WITHINS.some((each) => JSON.stringify(each) === JSON.stringify(asked.within))
    ? WITHINS
    : [...WITHINS, asked.within]
  const name = (event: string) => eventWords({ names: [event] }, words)
  const row = (event: string | null, people: number, label: React.ReactNode, note?: React.ReactNode) => {
    const mark: FunnelMark = { kind: 'after', step: asked.step, event, within: asked.within }
    return (
      <ShareRow
        key={event ?? ' nothing'}
        name={label}
        note={note}
        part={people}
        whole={after.people}
        chosen={hasMark(selected, mark)}
        onPress={onSelect && people > 0 ? (add) => onSelect(mark, add) : undefined}
      />
    )
  }
  return (
    <div className="funnel-form">
      {edit && (
        <div className="row wrap form-settings">
          <span>Lost after</span>
          <Select
            value={asked.step}
            aria-label="Lost after which step"
            onChange={(event) => edit({ ...question, show: { ...asked, step: event.target.value } })}
          >
            {steps.map((step) => (
              <MenuItem key={step} value={step}>
                {step + 1} {stepName(question, step, words)}
              </MenuItem>
            ))}
          </Select>
          <span>what they did</span>
          <Select
            value={JSON.stringify(asked.within)}
            aria-label="Within how long"
            onChange={(event) =>
              edit({ ...question, show: { ...asked, within: JSON.parse(event.target.value) as TimeLimit | 'session' } })
            }
          >
            {choices.map((each) => (
              <MenuItem key={JSON.stringify(each)} value={JSON.stringify(each)}>
                {withinWords(each)}
              </MenuItem>
            ))}
          </Select>
        </div>
      )}
      <p className="hint">
        {after.people === 0
          ? `Nobody was lost for good after ${stepName(question, asked.step, words)}.`
          : `Of ${countOf(after.people, 'person', 'people')} lost for good after ${stepName(question, asked.step, words)}, ${withinWords(asked.within)}. One person may have done several of these; those who may still go on are left out.`}
      </p>
      {after.people > 0 && (
        <ul className="share-rows">
          {row(null, after.nothing, <em>Did nothing more</em>)}
          {after.events.map(({ event, people, way }) =>
            row(
              event,
              people,
              name(event),
              way && way.events.length > 1
                ? `mostly: ${way.cut ? '… › ' : ''}${way.events.map(name).join(' › ')}`
                : way && way.people < people
                  ? 'mostly at once'
                  : 'at once',
            ),
          )}
        </ul>
      )}
    </div>
  )
}
