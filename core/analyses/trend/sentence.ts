import type { SentencePart } from '../../words/sentence.js'
import { formatDay } from '../../words/format.js'
import { eventWords, filterWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts, tokenOf } from '../splitParts.js'
import { MEASURES, type TrendMeasure } from './measures.js'
import { DEFAULT_DAYS, handleOf, type Comparison, type TrendQuestion, type TrendSeries } from './question.js'

/** The question in plain words; its tokens are edited where they stand. Several series have a line each. */
export function trendSentence(question: TrendQuestion, words: Words): SentencePart[] {
  if (question.series.length === 1 && !question.formulas?.length)
    return [
      ...askParts(question.series[0], words),
      ...timeParts(question, words),
      ...moreParts(question, words),
      { text: '?' },
    ]
  const parts: SentencePart[] = [
    ...leadParts(question, words),
    ...moreParts(question, words),
    { text: ':' },
    ...lineParts(question, words),
  ]
  question.formulas?.forEach(({ name, formula, unit }, index) => {
    parts.push(
      ...(name === undefined
        ? [{ text: '', line: 'formula' as const }]
        : [
            { text: name, token: tokenOf('formula', index), tone: 'hazel' as const, line: 'formula' as const },
            { text: ' = ' },
          ]),
      { text: formula || '…', token: tokenOf('formula', index), tone: 'water', path: `formulas.${index}` },
      ...(unit === 'number' ? [] : [{ text: `, ${FORMULA_UNIT[unit]}` }]),
    )
  })
  return parts
}

/** "Each week over the last 12 weeks", where the series have lines of their own. */
export function leadParts({ every, range }: Pick<TrendQuestion, 'every' | 'range'>, words: Words): SentencePart[] {
  const said = rangeWords(range, words)
  return [
    { text: `Each ${every}`, token: 'every', tone: 'water', path: 'every' },
    { text: ` ${said.lead}` },
    { text: said.text, token: 'range', tone: 'hazel', path: 'range' },
  ]
}

/** "a = people who did X", a line for each series. */
export function lineParts(question: Pick<TrendQuestion, 'series'>, words: Words): SentencePart[] {
  return question.series.flatMap((series, index): SentencePart[] => [
    {
      text: handleOf(question, index),
      token: tokenOf('name', index),
      tone: 'hazel',
      path: `series.${index}.name`,
      line: 'series',
    },
    { text: series.hidden ? ' (not shown) = ' : ' = ' },
    ...seriesParts(series, index, words),
  ])
}

/** How the result of a formula is written, where that is not a plain number. */
export const FORMULA_UNIT = { percent: 'as a percentage', money: 'as money', duration: 'as a duration' } as const

/** What a measure is called in a sentence. */
export function measureWords({ measure, days }: Pick<TrendSeries, 'measure' | 'days'>): string {
  switch (measure) {
    case 'events':
      return 'times'
    case 'events per person':
      return 'times per person'
    case 'per person':
      return 'sum per person'
    case 'distinct values':
      return 'different values'
    case 'people in the last days':
      return `people in the last ${days ?? DEFAULT_DAYS} days`
    default:
      return measure
  }
}

function measurePart(series: TrendSeries, index: number): SentencePart {
  return {
    text: measureWords(series),
    token: tokenOf('measure', index),
    tone: 'water',
    path: `series.${index}.measure`,
  }
}

function ofPart(series: TrendSeries, index: number, words: Words): SentencePart {
  const text = series.of ? propertyWords(series.of, words) : 'a property'
  return { text, token: tokenOf('of', index), tone: 'water', path: `series.${index}.of` }
}

function eventParts(series: TrendSeries, index: number, words: Words): SentencePart[] {
  const path = `series.${index}`
  const parts: SentencePart[] = [
    { text: eventWords(series.event, words), token: tokenOf('event', index), tone: 'water', path: `${path}.event` },
  ]
  if (series.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(series.where, words), token: tokenOf('where', index), tone: 'water', path: `${path}.where` },
    )
  return parts
}

/** "How many people did X", of the one series. */
export function askParts(series: TrendSeries, words: Words): SentencePart[] {
  const [measure, event] = [measurePart(series, 0), eventParts(series, 0, words)]
  switch (series.measure) {
    case 'people':
    case 'people in the last days':
    case 'people so far':
      return [{ text: 'How many ' }, measure, { text: ' did ' }, ...event]
    case 'events':
    case 'events per person':
      return [{ text: 'How many ' }, measure, { text: ' did people do ' }, ...event]
    case 'share of active people':
      return [{ text: 'What ' }, measure, { text: ' did ' }, ...event]
    case 'sessions':
      return [{ text: 'How many ' }, measure, { text: ' held ' }, ...event]
    case 'distinct values':
      return [{ text: 'How many ' }, measure, { text: ' of ' }, ofPart(series, 0, words), { text: ' in ' }, ...event]
    default:
      return [{ text: 'What is the ' }, measure, { text: ' of ' }, ofPart(series, 0, words), { text: ' in ' }, ...event]
  }
}

/** "sum of Fare in Ride completed", of the one figure of a study of another kind. */
export function figureParts(series: TrendSeries, words: Words): SentencePart[] {
  return seriesParts(series, 0, words)
}

/** "people who did X", on a line of its own. */
function seriesParts(series: TrendSeries, index: number, words: Words): SentencePart[] {
  const [measure, event] = [measurePart(series, index), eventParts(series, index, words)]
  const joint: Partial<Record<TrendMeasure, string>> = {
    people: ' who did ',
    'people in the last days': ' who did ',
    'people so far': ' who did ',
    'share of active people': ' who did ',
    events: ' people did ',
    'events per person': ' people did ',
    sessions: ' with ',
  }
  const between = joint[series.measure]
  if (between !== undefined) return [measure, { text: between }, ...event]
  return [measure, { text: ' of ' }, ofPart(series, index, words), { text: ' in ' }, ...event]
}

/** A series or formula by name: its own short name, or what it counts. */
export function lineWords(question: TrendQuestion, of: { series: number } | { formula: number }, words: Words): string {
  if ('formula' in of) {
    const { name, formula } = question.formulas![of.formula]
    return name ?? formula
  }
  const series = question.series[of.series]
  if (series.name !== undefined) return series.name
  if (question.series.length > 1) return handleOf(question, of.series)
  return MEASURES[series.measure].of === null
    ? eventWords(series.event, words)
    : `${measureWords(series)} of ${series.of ? propertyWords(series.of, words) : '…'}`
}

export function timeParts(question: Pick<TrendQuestion, 'every' | 'range'>, words: Words): SentencePart[] {
  const range = rangeWords(question.range, words)
  return [
    { text: ' ' },
    { text: `each ${question.every}`, token: 'every', tone: 'water', path: 'every' },
    { text: ` ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
  ]
}

function moreParts(question: TrendQuestion, words: Words): SentencePart[] {
  const parts = breakdownParts(question.breakdowns, words)
  parts.push(...amongParts(question, words))
  if (question.compare)
    parts.push(
      { text: ', compared with ' },
      { text: compareWords(question.compare, words), token: 'compare', tone: 'hazel', path: 'compare' },
    )
  const reading = {
    number: '',
    share: 'shares of all',
    index: 'an index with the first as 100',
    'running total': 'a running total',
  }[question.show.as]
  if (reading) parts.push({ text: ', as ' }, { text: reading, token: 'reading', tone: 'water', path: 'show.as' })
  if (question.smooth)
    parts.push(
      { text: ', smoothed over ' },
      { text: `${question.smooth} ${question.every}s`, token: 'smooth', tone: 'hazel', path: 'smooth' },
    )
  return parts
}

export function compareWords(compare: Comparison, words: Words): string {
  if ('from' in compare) return `${formatDay(compare.from, words.thisYear)} to ${formatDay(compare.to, words.thisYear)}`
  switch (compare.to) {
    case 'before':
      return 'the time just before'
    default:
      return `the same dates a ${compare.to} earlier`
  }
}

/** Exactly how the numbers are counted, with the settings in force. */
export function explainTrend(question: TrendQuestion, zone: string, words: Words): string[] {
  const text = question.series.map((series, index) => {
    const name = question.series.length > 1 ? `${handleOf(question, index)}: ` : ''
    return name + explainSeries(series, question.every, words)
  })
  if (question.formulas?.length)
    text.push(
      'A formula is worked out in each column and for the whole time from the figures there. Division by zero, and a gap in any of its parts, give a gap.',
    )
  text.push(
    `Each ${question.every} is a calendar ${question.every} in ${zone}. One that is not over yet is still open: it is drawn dashed and left out of comparisons.`,
  )
  text.push('The figure for the whole time is worked out on the whole time: it is not the sum of the columns.')
  if (question.compare)
    text.push(
      'What it is compared with is counted by the same rules, and stands beside it column by column. Where the time runs up to now, the earlier time ends at the same moment, so that what is still open stands beside an equally long part.',
    )
  if (question.breakdowns?.length) {
    text.push(
      'A property of the event is read from the event counted; a profile property is read from the person, as it was then. What carries no value is a group of its own.',
      'The largest groups over the whole time are kept, by the first series; Everything else counts the others together, each person once.',
    )
    text.push('A share is the group’s number divided by that of all groups together.')
  }
  if (question.every === 'day' || question.every === 'week')
    text.push(
      `A point is marked as unusual when it lies outside the 99\u202f% prediction interval of the same ${question.every === 'day' ? 'weekdays' : 'figure'} in the eight weeks before it, as far as they are in the time asked about.`,
    )
  if (question.smooth)
    text.push(
      `Smoothed: each point is the mean of its ${question.every} and the ${question.smooth - 1} before it. Gaps are passed over. The figure for the whole time is not smoothed.`,
    )
  return text
}

export function explainSeries(series: TrendSeries, every: string, words: Words): string {
  const event = eventWords(series.event, words)
  const of = series.of ? propertyWords(series.of, words) : 'the property'
  const overNumbers = `over the ${event} events whose ${of} is a number. Where there is none, there is a gap, not 0.`
  switch (series.measure) {
    case 'people':
      return `A person counts once in each ${every} in which they did ${event} at least once. Ids known to be the same person are one person.`
    case 'events':
      return `Every ${event} event counts. An event sent twice with the same id counts once.`
    case 'events per person':
      return `${event} events divided by the distinct people who did at least one, in each ${every}. Where nobody did, there is a gap, not 0.`
    case 'share of active people':
      return `The people who did ${event}, divided by the people with any activity in the same ${every}, whatever their group and whether or not the filter holds.`
    case 'sum':
      return `The sum of ${of} over the ${event} events that carry a number there.`
    case 'per person':
      return `${of} is added up for each person; then the average over the people who have a number there, in each ${every}.`
    case 'distinct values':
      return `How many different values of ${of} the ${event} events carry; of a list, its elements.`
    case 'people in the last days': {
      const days = series.days ?? DEFAULT_DAYS
      return `A person counts in a ${every} when they did ${event} in the ${days} days that end with its last day; for the whole time, with its last day or today.`
    }
    case 'people so far':
      return `Everyone who did ${event} at any time before the end of the ${every}, also before the time asked about.`
    case 'sessions':
      return `Sessions that hold at least one ${event}, counted in the ${every} in which the session starts.`
    case 'median':
    case '90th percentile':
    case '99th percentile':
      return `The ${series.measure} of ${of} ${overNumbers} Between two values it is interpolated.`
    default:
      return `The ${series.measure} of ${of} ${overNumbers}`
  }
}
