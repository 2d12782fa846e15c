import { comparedBuckets } from '../../../core/analyses/trend/compare.js'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { formatPercent } from '../../../core/words/format.js'
import { bucketWords, type Words } from '../../../core/words/words.js'
import { Sparkline } from '../../charts/Sparkline.js'
import { chartSeries, formatValue } from '../../charts/trendSeries.js'

/** The last whole bucket as a figure, with the change since the first and a small curve. */
export function TrendFigure(props: { result: TrendResult; question: TrendQuestion; words: Words }) {
  const { result, question, words } = props
  const series = chartSeries(result, question, words).slice(0, 6)
  const full = result.buckets.flatMap((bucket, i) => (bucket.open || bucket.cut ? [] : [i]))
  const last = full.at(-1) ?? result.buckets.length - 1
  const first = comparedBuckets(result.buckets, question.every)?.first ?? last
  const bucket = result.buckets[last]
  return (
    <div className="figures">
      {series.map(({ label, values, key }, i) => {
        const value = values[last] ?? null
        const before = values[first] ?? null
        const change = value !== null && before && first !== last ? value / before - 1 : null
        return (
          <div className="figure" key={label}>
            {key && <span className="figure-name">{label}</span>}
            <span className="figure-value">{formatValue(value, question)}</span>
            <span className="figure-note">
              {change !== null && Math.abs(change) >= 0.0005 && (
                <>
                  <b className={change > 0 ? 'gain' : 'loss'}>
                    {change > 0 ? '+' : '−'}
                    {formatPercent(Math.abs(change))}
                  </b>
                  {` on ${last - first} ${question.every}s before · `}
                </>
              )}
              {bucket
                ? `${bucket.open ? 'so far in ' : ''}${bucketWords(bucket.key, question.every, words)}`
                : 'nothing yet'}
            </span>
            <Sparkline values={values} open={result.buckets.at(-1)?.open ?? false} colour={`var(--series-${i % 8})`} />
          </div>
        )
      })}
    </div>
  )
}
