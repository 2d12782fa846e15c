import type { NumberUnit } from '../../words/format.js'

/** What a series counts or works out in each bucket (how numbers are counted, 5). */
export const trendMeasures = [
  'people',
  'events',
  'events per person',
  'share of active people',
  'sum',
  'average',
  'median',
  'minimum',
  'maximum',
  '90th percentile',
  '99th percentile',
  'per person',
  'distinct values',
  'people in the last days',
  'people so far',
  'sessions',
] as const
export type TrendMeasure = (typeof trendMeasures)[number]

export type MeasureUnit = Exclude<NumberUnit, 'index'>

interface MeasureInfo {
  /** needs a property: of numbers, or of any kind */
  of: 'number' | 'any' | null
  unit: MeasureUnit
  /** an empty bucket is 0; else a gap */
  emptyIsZero: boolean
  /** the parts of a whole add up to it, save where they overlap: shares make sense */
  shares: boolean
  /** adding up the buckets makes sense */
  adds: boolean
}

const count: MeasureInfo = { of: null, unit: 'count', emptyIsZero: true, shares: true, adds: true }
const people: MeasureInfo = { of: null, unit: 'people', emptyIsZero: true, shares: true, adds: false }
const level: MeasureInfo = { of: 'number', unit: 'number', emptyIsZero: false, shares: false, adds: false }

export const MEASURES: Record<TrendMeasure, MeasureInfo> = {
  people,
  events: count,
  'events per person': { ...level, of: null },
  'share of active people': { of: null, unit: 'percent', emptyIsZero: false, shares: false, adds: false },
  sum: { of: 'number', unit: 'number', emptyIsZero: true, shares: true, adds: true },
  average: level,
  median: level,
  minimum: level,
  maximum: level,
  '90th percentile': level,
  '99th percentile': level,
  'per person': level,
  'distinct values': { of: 'any', unit: 'count', emptyIsZero: true, shares: false, adds: false },
  'people in the last days': people,
  'people so far': people,
  sessions: count,
}

/** The rank of a percentile, 0 to 1; null for other measures. */
export function percentileOf(measure: TrendMeasure): number | null {
  switch (measure) {
    case 'median':
      return 0.5
    case '90th percentile':
      return 0.9
    case '99th percentile':
      return 0.99
    default:
      return null
  }
}

/** Which events a bucket's figure is read from. */
export type Reach = 'range' | 'window' | 'ever' | 'sessions'

export function reachOf(measure: TrendMeasure): Reach {
  switch (measure) {
    case 'people in the last days':
      return 'window'
    case 'people so far':
      return 'ever'
    case 'sessions':
      return 'sessions'
    default:
      return 'range'
  }
}
