import Button from '@mui/material/Button'
import { useState } from 'react'
import { MEASURES, trendMeasures, type TrendMeasure } from '../../../core/analyses/trend/measures.js'
import { DEFAULT_DAYS, type TrendSeries } from '../../../core/analyses/trend/question.js'
import { measureWords } from '../../../core/analyses/trend/sentence.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'

const NOTES: Record<TrendMeasure, string> = {
  people: 'Distinct people who did it at least once',
  events: 'How many times it happened',
  'events per person': 'Times it happened, divided by the people who did it',
  'share of active people': 'People who did it, of all who did anything in that time',
  sum: 'Of a number that the events carry, added up',
  average: 'Of a number that the events carry',
  median: 'The number in the middle: half are below',
  minimum: 'The smallest number',
  maximum: 'The largest number',
  '90th percentile': 'Nine tenths of the numbers are below',
  '99th percentile': 'All but one in a hundred are below',
  'per person': 'A number added up for each person, then the average over people',
  'distinct values': 'How many different values a property has',
  'people in the last days': 'Who did it in the days up to the end of each column, such as the last 7 or 28',
  'people so far': 'Everyone who ever did it up to then: growth',
  sessions: 'Visits in which it happened at least once',
}

const GROUPS: { name: string; measures: readonly TrendMeasure[] }[] = [
  { name: 'People', measures: ['people', 'share of active people', 'people in the last days', 'people so far'] },
  { name: 'How often', measures: ['events', 'events per person', 'sessions'] },
  { name: 'Of a property', measures: trendMeasures.filter((measure) => MEASURES[measure].of !== null) },
]

/** What a series counts; where that is of a property, which one. */
export function MeasureEditor(props: {
  series: TrendSeries
  onChange: (series: TrendSeries, how: 'choose' | 'type') => void
  onDone: () => void
}) {
  const { series, onChange, onDone } = props
  const [picking, setPicking] = useState<TrendMeasure | null>(null)
  const [days, setDays] = useState(false)
  const put = (measure: TrendMeasure, of?: TrendSeries['of']) => {
    const { of: _of, days: before, ...rest } = series
    onChange(
      {
        ...rest,
        measure,
        ...(of ? { of } : {}),
        ...(measure === 'people in the last days' && before ? { days: before } : {}),
      },
      'choose',
    )
  }
  if (picking)
    return (
      <PropertyPicker
        events={[series.event]}
        value={series.of ?? null}
        {...(MEASURES[picking].of === 'number' ? { kind: 'number' as const } : {})}
        onChoose={({ property }) => {
          put(picking, property)
          onDone()
        }}
      />
    )
  if (days)
    return (
      <div className="stack">
        <label className="inline-field">
          People in the last
          <NumberField
            label="Days to look back"
            value={series.days ?? DEFAULT_DAYS}
            min={1}
            max={366}
            whole
            autoFocus
            width={84}
            onChange={(count) => onChange({ ...series, days: count }, 'type')}
          />
          days
        </label>
        <div className="row">
          {[7, 28, 90].map((count) => (
            <Button key={count} variant="outlined" onClick={() => onChange({ ...series, days: count }, 'choose')}>
              {count} days
            </Button>
          ))}
        </div>
        <p className="hint">Each column counts the people of the days that end with its last day.</p>
        <Button variant="outlined" onClick={() => setDays(false)}>
          Another measure
        </Button>
      </div>
    )
  return (
    <OptionList
      label="Measure"
      search="Search measures"
      options={GROUPS.flatMap(({ name, measures }) =>
        measures.map((measure) => ({
          key: measure,
          label: measureWords({ measure, days: series.days }),
          note: NOTES[measure],
          value: measure,
          chosen: measure === series.measure,
          group: name,
        })),
      )}
      onChoose={(measure) => {
        const { of } = MEASURES[measure]
        if (of !== null && !(series.of && (of === 'any' || MEASURES[series.measure].of === 'number')))
          return setPicking(measure)
        put(measure, of === null ? undefined : series.of)
        if (measure === 'people in the last days') setDays(true)
        else onDone()
      }}
    />
  )
}
