import { measureWords } from '../analyses/trend/sentence.js'
import { MEASURES, trendMeasures, type TrendMeasure } from '../analyses/trend/measures.js'
import { DEFAULT_DAYS, type TrendSeries } from '../analyses/trend/question.js'
import type { EventPick, PropertyRef } from '../questions/parts.js'
import { count } from './atoms.js'
import { chain, either, literal, map, names, after, type Reader } from './reader.js'

/** What is measured: `people`, `times`, `median`, `people in the last 28 days`. */
const measures: Reader<Pick<TrendSeries, 'measure' | 'days'>> = either<Pick<TrendSeries, 'measure' | 'days'>>(
  map(chain<[number, string]>(after('people in the last ', count), literal(' days')), ([days]) => ({
    measure: 'people in the last days' as const,
    ...(days === DEFAULT_DAYS ? {} : { days }),
  })),
  names(
    trendMeasures
      .filter((measure) => measure !== 'people in the last days')
      .map((measure) => ({ words: measureWords({ measure }), value: { measure } })),
  ),
)

/** What joins a measure to its event, in the one question and in a line of its own. */
const JOINTS: Partial<Record<TrendMeasure, readonly [string, string]>> = {
  people: [' did ', ' who did '],
  'people in the last days': [' did ', ' who did '],
  'people so far': [' did ', ' who did '],
  events: [' did people do ', ' people did '],
  'events per person': [' did people do ', ' people did '],
  'share of active people': [' did ', ' who did '],
  sessions: [' held ', ' with '],
}

export interface SeriesReaders {
  /** "How many people did X", of the one series */
  asked: Reader<TrendSeries>
  /** "people who did X", on a line of its own */
  line: Reader<TrendSeries>
}

export function seriesOf(picked: Reader<EventPick>, property: Reader<PropertyRef>): SeriesReaders {
  const measured = (place: 0 | 1): Reader<TrendSeries> =>
    function* (text, at) {
      for (const [measure, end] of measures(text, at)) {
        const joint = JOINTS[measure.measure]?.[place]
        const ofProperty = MEASURES[measure.measure].of !== null
        const tail: Reader<TrendSeries> = ofProperty
          ? map(chain<[PropertyRef, EventPick]>(after(' of ', property), after(' in ', picked)), ([of, pick]) => ({
              ...{ ...pick, ...measure, of },
            }))
          : map(after(joint ?? ' ', picked), (pick) => ({ ...pick, ...measure }))
        yield* tail(text, end)
      }
    }
  return {
    asked: either<TrendSeries>(
      after('How many ', measured(0)),
      after('What is the ', measured(0)),
      after('What ', measured(0)),
    ),
    line: measured(1),
  }
}
