import { lazy, Suspense } from 'react'
import type { FunnelResult, OverTime } from '../../../core/analyses/funnel/finish.js'
import { requiredSteps, showOf, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName, targetWords } from '../../../core/analyses/funnel/sentence.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { units, type Unit } from '../../../core/time/range.js'
import { formatNumber, formatPercent } from '../../../core/words/format.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'
import { Mounted } from '../../ui/Mounted.js'
import { Segmented } from '../../ui/Segmented.js'
import type { BodyProps } from '../view.js'
import { rateLines, type RateLine } from './rateLines.js'

const Drawn = lazy(() => import('../../charts/LinesChart.js'))

/** Conversion by when attempts began: the whole way, for each group, or step by step. */
export function FunnelOverTime(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { over: OverTime }) {
  const { question, result, words, edit, selected, onSelect, over } = props
  const show = showOf(question)
  const asked = show.form === 'over time' ? show : { form: 'over time' as const }
  const way = asked.way ?? 'whole'
  const lines = rateLines(question, result, over, way, words)
  const open = over.lines[0].open.flat().reduce((sum, x) => sum + x, 0)
  const [first, last] = [stepName(question, 0, words), stepName(question, requiredSteps(question.steps).at(-1)!, words)]
  const aim = way === 'whole' ? question.target : undefined
  const select = (line: number, at: number, add: boolean) => {
    const { step, key, parts } = lines[line]
    if (parts[at] === 0) return
    const mark: FunnelMark = { kind: 'step', step, what: 'reached', bucket: over.buckets[at].key }
    onSelect?.(key ? { ...mark, group: key } : mark, add)
  }
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
              axis={over.buckets.map(({ key }) => bucketLabel(key, over.every, words))}
              titles={over.buckets.map(({ key }) => bucketTitle(key, over.every, words))}
              lines={lines.map(drawnLine)}
              unit="percent"
              currency=""
              target={aim === undefined ? null : { at: aim, text: `target ${targetWords(aim)}` }}
              label="Conversion over time. Arrow keys move from point to point, Enter selects the people who got there."
              chosen={selected.length > 0}
              {...(onSelect ? { onPoint: select } : {})}
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

function drawnLine({ label, rates, parts, wholes, open, rest }: RateLine): ChartLine {
  const tells = rates.map((rate, at) => {
    const still = open[at] > 0 ? `, ${formatNumber(open[at])} still open` : ''
    return `${formatPercent(rate)}, ${formatNumber(parts[at])} of ${formatNumber(wholes[at])}${still}`
  })
  return { label, values: rates, tells, dashed: open.map((n) => n > 0), rest }
}

const PLURAL: Record<Unit, string> = {
  ...{ hour: 'Hours', day: 'Days', week: 'Weeks', month: 'Months' },
  ...{ quarter: 'Quarters', year: 'Years' },
}
