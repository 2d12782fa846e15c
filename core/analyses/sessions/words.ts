import { exactNumber } from '../../words/exact.js'
import { formatDuration, formatNumber, formatPercent, MISSING, type NumberUnit } from '../../words/format.js'
import { bucketWords, eventWords, rangeWords, type Words } from '../../words/words.js'
import { exactBucket, exactDetails, exactGroup, ofGroup } from '../markWords.js'
import type { SessionsMark } from './marks.js'
import { LENGTHS, type SessionMeasure, type SessionsQuestion } from './question.js'

/** What is asked, as the sentence begins. */
export const ASKED: Record<SessionMeasure, string> = {
  sessions: 'How many sessions are there',
  'per person': 'How many sessions does a person have',
  'median length': 'How long is a typical session',
  'average length': 'How long is a session on average',
  'time per person': 'How much time does a person spend',
  single: 'What share of sessions has one event only',
  events: 'How many events does a session have',
}

/** What is counted, as a name of its own. */
export const MEASURED: Record<SessionMeasure, string> = {
  sessions: 'Sessions',
  'per person': 'Sessions a person',
  'median length': 'Median length',
  'average length': 'Average length',
  'time per person': 'Time per person',
  single: 'Sessions of one event only',
  events: 'Events a session',
}

/** A measure's value with its unit. */
export function sayMeasure(value: number | null, measure: SessionMeasure): string {
  if (value === null) return MISSING
  if (measure === 'single') return formatPercent(value)
  return MEASURE_UNIT[measure] === 'duration' ? formatDuration(value) : formatNumber(value)
}

export const MEASURE_UNIT: Record<SessionMeasure, NumberUnit> = {
  sessions: 'count',
  'per person': 'number',
  'median length': 'duration',
  'average length': 'duration',
  'time per person': 'duration',
  single: 'percent',
  events: 'number',
}

/** `5 minutes`, `30 %`, `3`: what is aimed at. */
export function targetWords(target: number, measure: SessionMeasure): string {
  const unit = MEASURE_UNIT[measure]
  if (unit === 'percent') return `no more than ${exactNumber(Number((target * 100).toPrecision(12)))} %`
  return exactNumber(target) + (unit === 'duration' ? ` ${target === 1 ? 'minute' : 'minutes'}` : '')
}

/** A target as values of the measure are given. */
export const targetValue = (target: number, measure: SessionMeasure): number =>
  MEASURE_UNIT[measure] === 'duration' ? target * 60_000 : target

/** `no time at all`, `up to 10 s`, `over 1 h`. */
export function lengthWords(range: number): string {
  if (range === 0) return 'no time at all'
  if (range === LENGTHS.length) return `over ${formatDuration(LENGTHS.at(-1)!)}`
  return range === 1
    ? `up to ${formatDuration(LENGTHS[1])}`
    : `${formatDuration(LENGTHS[range - 1])} to ${formatDuration(LENGTHS[range])}`
}

/** Who a mark's people are, after "who": `had a session of over 1 h in the week of 14 Sep`. */
export function sessionsMarkWords(study: SessionsQuestion, mark: SessionsMark, words: Words): string {
  const range = rangeWords(study.range, words)
  const when =
    mark.bucket === undefined
      ? mark.before
        ? 'in the time it is compared with'
        : `${range.lead}${range.text}`
      : `in ${bucketWords(mark.bucket, study.every, words)}${mark.before ? ' of the time it is compared with' : ''}`
  const name = (event: string) => eventWords({ names: [event] }, words)
  const said = [
    ...(mark.single ? ['of one event only'] : []),
    ...(mark.length === undefined ? [] : [`of ${lengthWords(mark.length)}`]),
    ...(mark.over === undefined ? [] : [`of over ${formatDuration(mark.over * 60_000)}`]),
    ...(study.holds ? [`with ${eventWords(study.holds.event, words)}`] : []),
    ...(mark.entry === undefined ? [] : [`that began with ${name(mark.entry)}`]),
    ...(mark.exit === undefined ? [] : [`that ended with ${name(mark.exit)}`]),
  ]
  return `had a ${study.first ? 'first session' : 'session'}${said.map((each) => ` ${each}`).join('')} ${when}${ofGroup(mark.group)}`
}

/** The same, so that it can be read back: `whose session of length 3 in 14 Sep (Annual)`. */
export function exactSessionsMark(study: SessionsQuestion, mark: SessionsMark, words: Words): string {
  const name = (event: string) => eventWords({ names: [event] }, words)
  return [
    'who had a session',
    mark.bucket === undefined ? '' : ` in ${exactBucket(mark.bucket, study.every, words)}`,
    mark.before ? ' of the time it is compared with' : '',
    mark.single ? ', of one event only' : '',
    mark.length === undefined ? '' : `, of length ${mark.length}`,
    mark.over === undefined ? '' : `, over ${mark.over} minutes`,
    mark.entry === undefined ? '' : `, from ${name(mark.entry)}`,
    mark.exit === undefined ? '' : `, to ${name(mark.exit)}`,
    exactDetails(mark.group && exactGroup(mark.group)),
  ].join('')
}
