import { lazy, Suspense } from 'react'
import type { FunnelResult, OverTime } from '../../../core/analyses/funnel/finish.js'
import { requiredSteps, showOf, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import type { Mark } from '../../../core/questions/parts.js'
import { units, type Unit } from '../../../core/time/range.js'
import { formatNumber } from '../../../core/words/format.js'
import { Mounted } from '../../ui/Mounted.js'
import { Segmented } from '../../ui/Segmented.js'
import type { BodyProps } from '../view.js'
import { rateLines } from './rateLines.js'

const Drawn = lazy(() => import('./RateChart.js'))

/** Conversion by when attempts began: the whole way, for each group, or step by step. */
export function FunnelOverTime(props: BodyProps<FunnelQuestion, FunnelResult> & { over: OverTime }) {
  const { question, result, words, edit, selected, onSelect, over } = props
  const show = showOf(question)
  const asked = show.form === 'over time' ? show : { form: 'over time' as const }
  const way = asked.way ?? 'whole'
  const lines = rateLines(question, result, over, way, words)
  const open = over.lines[0].open.flat().reduce((sum, x) => sum + x, 0)
  const [first, last] = [stepName(question, 0, words), stepName(question, requiredSteps(question.steps).at(-1)!, words)]
  return (
    <div className="funnel-form">
      <div className="row wrap form-settings">
        {edit && (
          <Segmented
            label="Which rates"
            value={way}
            options={[
              { value: 'whole', label: `${first} to ${last}` },
              { value: 'steps', label: 'Step by step' },
            ]}
            onChange={(next) => {
              const { way: _before, ...rest } = asked
              edit({ ...question, show: next === 'steps' ? { ...rest, way: next } : rest })
            }}
          />
        )}
        {edit && (
          <Segmented
            label="By what time"
            value={over.every}
            options={units.map((unit) => ({ value: unit, label: PLURAL[unit] }))}
            onChange={(every) => edit({ ...question, show: { ...asked, every } })}
          />
        )}
      </div>
      <div className="chart-space">
        <Mounted>
          <Suspense>
            <Drawn
              over={over}
              lines={lines}
              target={way === 'whole' ? (question.target ?? null) : null}
              words={words}
              selected={selected}
              {...(onSelect ? { onSelect: (mark: Mark, add: boolean) => onSelect(mark, add) } : {})}
            />
          </Suspense>
        </Mounted>
      </div>
      {open > 0 && (
        <p className="hint">
          {formatNumber(open)} {result.counts} that began in the dashed part may still go on; so far they count as not
          converted.
        </p>
      )}
    </div>
  )
}

const PLURAL: Record<Unit, string> = { hour: 'Hours', day: 'Days', week: 'Weeks', month: 'Months', quarter: 'Quarters' }
