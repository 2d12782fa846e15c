import type { TimeLimit } from '../../../core/questions/limits.js'
import { windowUnits } from '../../../core/questions/vocabulary.js'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import type { FunnelResult, TimeResult } from '../../../core/analyses/funnel/finish.js'
import { SHARE_BY, showOf, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { rowName, stepName } from '../../../core/analyses/funnel/sentence.js'
import { hasMark } from '../../../core/questions/marks.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { countOf, formatDuration, formatNumber, formatPercent } from '../../../core/words/format.js'
import { limitWords } from '../../../core/words/limitWords.js'
import { NumberField } from '../../editors/NumberField.js'
import type { BodyProps } from '../view.js'

/** How long it takes from one step to another: a histogram whose bars are people, with what half and nine in ten took. */
export function FunnelTimes(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { time: TimeResult }) {
  const { question, result, words, edit, selected, onSelect, time } = props
  const show = showOf(question)
  const asked = show.form === 'time' ? show : { form: 'time' as const }
  const [all, ...groups] = time.lines
  const most = Math.max(1, ...all.bars.map(({ count }) => count))
  const set = (next: Partial<typeof asked>, how: 'choose' | 'type' = 'choose') =>
    edit?.({ ...question, show: { ...asked, ...next } }, how)
  const steps = question.steps.map((_step, i) => ({ i, name: stepName(question, i, words) }))
  const by: TimeLimit = asked.by ?? SHARE_BY
  return (
    <div className="funnel-form">
      {edit && (
        <div className="row wrap form-settings">
          <span>From</span>
          <Select
            value={time.from}
            aria-label="From which step"
            onChange={(event) => set({ from: event.target.value, to: Math.max(event.target.value + 1, time.to) })}
          >
            {steps.slice(0, -1).map(({ i, name }) => (
              <MenuItem key={i} value={i}>
                {i + 1} {name}
              </MenuItem>
            ))}
          </Select>
          <span>to</span>
          <Select value={time.to} aria-label="To which step" onChange={(event) => set({ to: event.target.value })}>
            {steps.slice(time.from + 1).map(({ i, name }) => (
              <MenuItem key={i} value={i}>
                {i + 1} {name}
              </MenuItem>
            ))}
          </Select>
          <span>· share that took at most</span>
          <NumberField
            label="Within how many"
            value={by.count}
            min={1}
            max={1000}
            whole
            width={70}
            onChange={(count) => set({ by: { ...by, count } }, 'type')}
          />
          <Select
            value={by.unit}
            aria-label="Unit of time"
            onChange={(event) => set({ by: { ...by, unit: event.target.value as TimeLimit['unit'] } })}
          >
            {windowUnits.map((unit) => (
              <MenuItem key={unit} value={unit}>
                {by.count === 1 ? unit : `${unit}s`}
              </MenuItem>
            ))}
          </Select>
        </div>
      )}
      {!edit && (
        <p className="hint">
          From {stepName(question, time.from, words)} to {stepName(question, time.to, words)}
        </p>
      )}
      <p className="form-figures">
        <span>
          <strong>{formatDuration(all.median)}</strong> median
        </span>
        <span>
          <strong>{formatDuration(all.p90)}</strong> 90th percentile
        </span>
        <span>
          <strong>{formatPercent(all.by)}</strong> within {limitWords(by)}
        </span>
        <span className="soft">
          {countOf(all.count, result.counts === 'people' ? 'person' : 'attempt', result.counts)}
        </span>
      </p>
      {all.count === 0 ? (
        <p className="soft">Nobody got from the one step to the other.</p>
      ) : (
        <div className="histogram" role="group" aria-label="How many took how long">
          {all.bars.map(({ least, under, count }) => {
            const mark: FunnelMark = {
              ...{ kind: 'took', from: time.from, to: time.to, least },
              ...(under === null ? {} : { under }),
            }
            const name =
              under === null
                ? `${formatDuration(least)} or longer`
                : `${formatDuration(least)} to ${formatDuration(under)}`
            const chosen = hasMark(selected, mark)
            return (
              <button
                key={least}
                type="button"
                className={`histogram-bar${chosen ? ' chosen' : ''}`}
                title={`${name}: ${formatNumber(count)}`}
                aria-pressed={chosen}
                disabled={!onSelect || count === 0}
                onClick={(event) => onSelect?.(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
              >
                <span className="sr-only">
                  {name}: {formatNumber(count)}
                </span>
                <span className="histogram-count" aria-hidden>
                  {count > 0 ? formatNumber(count) : ''}
                </span>
                <span className="histogram-fill" style={{ height: `${(count / most) * 100}%` }} />
                <span className="histogram-from" aria-hidden>
                  {under === null ? `${formatDuration(least)} +` : formatDuration(least)}
                </span>
              </button>
            )
          })}
        </div>
      )}
      {groups.length > 0 && (
        <div className="table-scroll">
          <table className="numbers compact">
            <thead>
              <tr>
                <th>Group</th>
                <th className="number">Got there</th>
                <th className="number">Median</th>
                <th className="number">9 in 10 under</th>
                <th className="number">Within {limitWords(by)}</th>
              </tr>
            </thead>
            <tbody>
              {time.lines.map((line, i) => (
                <tr key={i}>
                  <th scope="row">{rowName(line.key, result.rest)}</th>
                  <td className="number">{formatNumber(line.count)}</td>
                  <td className="number">{formatDuration(line.median)}</td>
                  <td className="number">{formatDuration(line.p90)}</td>
                  <td className="number">{formatPercent(line.by)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  )
}
