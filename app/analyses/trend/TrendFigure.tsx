import { comparedBuckets } from '../../../core/time/comparison.js'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { formatPercent } from '../../../core/words/format.js'
import { bucketWords, type Words } from '../../../core/words/words.js'
import { seriesVar } from '../../look/palette.js'
import { Sparkline } from '../../charts/Sparkline.js'
import { chartLines, formatValue } from '../../charts/trendSeries.js'

/** The last whole bucket as a figure, with the change since the first and a small curve. */
export function TrendFigure(props: { result: TrendResult; question: TrendQuestion; words: Words }) {
  const { result, question, words } = props
  const lines = chartLines(result, question, words).slice(0, 6)
  const full = result.buckets.flatMap((bucket, i) => (bucket.open || bucket.cut ? [] : [i]))
  const last = full.at(-1) ?? result.buckets.length - 1
  const first = comparedBuckets(result.buckets, question.every)?.first ?? last
  const bucket = result.buckets[last]
  return (
    <div className="figures">
      {lines.map((line) => {
        const { label, values, key, id, place } = line
        const value = values[last] ?? null
        const then = line.before ? (line.before.values[last] ?? null) : first === last ? null : (values[first] ?? null)
        const change = value !== null && then ? value / then - 1 : null
        return (
          <div className="figure" key={id}>
            {(key || lines.length > 1) && <span className="figure-name">{label}</span>}
            <span className="figure-value">{formatValue(value, line, words)}</span>
            <span className="figure-note">
              {change !== null && Math.abs(change) >= 0.0005 && (
                <>
                  <b className={change > 0 ? 'gain' : 'loss'}>
                    {change > 0 ? '+' : '−'}
                    {formatPercent(Math.abs(change))}
                  </b>
                  {line.before ? ' on the time before · ' : ` on ${last - first} ${question.every}s before · `}
                </>
              )}
              {bucket
                ? `${bucket.open ? 'so far in ' : ''}${bucketWords(bucket.key, question.every, words)}`
                : 'nothing yet'}
            </span>
            <Sparkline values={values} open={result.buckets.at(-1)?.open ?? false} colour={seriesVar(place)} />
          </div>
        )
      })}
    </div>
  )
}
