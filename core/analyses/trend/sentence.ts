import type { SentencePart } from '../../words/sentence.js'
import { compareWords, eventWords, filterWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts, tokenOf } from '../splitParts.js'
import { MEASURES, type TrendMeasure } from './measures.js'
import { DEFAULT_DAYS, handleOf, type TrendQuestion, type TrendSeries } from './question.js'

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
