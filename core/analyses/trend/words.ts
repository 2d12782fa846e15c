import { eventWords, bucketWords, rangeWords, type Words } from '../../words/words.js'
import { exactBucket, exactDetails, exactGroup, ofGroup } from '../markWords.js'
import type { TrendMark } from './marks.js'
import { DEFAULT_DAYS, type TrendQuestion, type TrendSeries } from './question.js'

/** How points, and when they were, are said. */

/** `did Ride completed in the week of 14 Sep and not in the week of 21 Sep (Annual)`. */
export function pointWords(study: TrendQuestion, mark: TrendMark, words: Words): string {
  const group = ofGroup(mark.group)
  const series = study.series[mark.series ?? 0] ?? study.series[0]
  const what =
    mark.formula === undefined
      ? `did ${eventWords(series.event, words)}${series.where ? ', as filtered,' : ''}`
      : `are counted in ${study.formulas?.[mark.formula]?.name ?? study.formulas?.[mark.formula]?.formula ?? 'the formula'}`
  if (mark.before && mark.bucket === undefined) return `${what} in the time it is compared with${group}`
  const when =
    mark.formula === undefined ? whenWords(series, study, mark.bucket, words) : plainWhen(study, mark.bucket, words)
  return `${what} ${when}${mark.not === undefined ? '' : ` and not ${whenWords(series, study, mark.not, words)}`}${group}`
}

/** The same, so that it can be read back: `in the week of 14 Sep (series 2; Annual)`. */
export function exactPoint({ every }: TrendQuestion, mark: TrendMark, words: Words): string {
  const bucket = (key: string) => exactBucket(key, every, words)
  const time = mark.bucket === undefined ? 'at any time' : `in ${bucket(mark.bucket)}`
  const before = mark.before ? ' of the time it is compared with' : ''
  const not = mark.not === undefined ? '' : ` and not in ${bucket(mark.not)}`
  const line = mark.series ? `series ${mark.series + 1}` : undefined
  const formula = mark.formula === undefined ? undefined : `formula ${mark.formula + 1}`
  return time + before + not + exactDetails(line, formula, mark.group && exactGroup(mark.group))
}

/** When what a series counts was done: in a bucket, or in the whole range. */
export function whenWords(series: TrendSeries, study: Timed, bucket: string | undefined, words: Words): string {
  const last =
    bucket !== undefined
      ? `the end of ${bucketWords(bucket, study.every, words)}`
      : 'to' in study.range
        ? `the end of ${rangeWords(study.range, words).text}`
        : 'now'
  if (series.measure === 'people so far') return `up to ${last}`
  if (series.measure === 'people in the last days') return `in the ${series.days ?? DEFAULT_DAYS} days up to ${last}`
  return plainWhen(study, bucket, words)
}

type Timed = Pick<TrendQuestion, 'every' | 'range'>

/** `in the week of 14 Sep`, `over the last 12 weeks`. */
function plainWhen({ every, range }: Timed, bucket: string | undefined, words: Words): string {
  const whole = rangeWords(range, words)
  if (bucket === undefined) return `${whole.lead}${whole.text}`
  return `${every === 'hour' ? 'at' : every === 'day' ? 'on' : 'in'} ${bucketWords(bucket, every, words)}`
}
