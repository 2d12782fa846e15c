import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useState } from 'react'
import {
  comparisons,
  needsProperty,
  type CountMeasure,
  type CountTest,
  type NumberCompare,
} from '../../core/segments/rule.js'
import { AT_LEAST_ONCE, COMPARE_WORDS } from '../../core/segments/words.js'
import type { EventChoice } from '../../core/questions/parts.js'
import { propertyWords } from '../../core/words/words.js'
import { NumberField } from '../editors/NumberField.js'
import { PropertyPicker } from '../editors/PropertyPicker.js'
import { useWorkspace } from '../page/workspace.js'

const MEASURES: Record<CountMeasure, string> = {
  times: 'times',
  days: 'different days',
  weeks: 'different weeks',
  values: 'different values of a property',
  sum: 'the sum of a property',
  average: 'the average of a property',
  maximum: 'the maximum of a property',
  minimum: 'the minimum of a property',
}

/** How much of it: times, distinct days or weeks, or a figure of a property, compared to a number. */
export function CountEditor(props: {
  event: EventChoice
  value: CountTest | undefined
  onChange: (count: CountTest | undefined, how: 'choose' | 'type') => void
}) {
  const { event, value, onChange } = props
  const { words } = useWorkspace()
  const count = value ?? AT_LEAST_ONCE
  const { measure, property, test } = count
  const [choosing, setChoosing] = useState<CountMeasure | null>(needsProperty(measure) && !property ? measure : null)
  const put = (next: CountTest, how: 'choose' | 'type') =>
    onChange(JSON.stringify(next) === JSON.stringify(AT_LEAST_ONCE) ? undefined : next, how)
  const measured = choosing ?? measure
  if (choosing)
    return (
      <PropertyPicker
        events={[event]}
        value={property ?? null}
        {...(choosing === 'values' ? {} : { kind: 'number' as const })}
        onChoose={({ property: chosen }) => {
          put({ measure: choosing, property: chosen, test }, 'choose')
          setChoosing(null)
        }}
      />
    )
  return (
    <div className="stack">
      <div className="condition-line">
        <Select
          value={test.op}
          aria-label="Comparison"
          onChange={(change) => put({ ...count, test: withOperator(test, change.target.value) }, 'choose')}
        >
          {comparisons.map((op) => (
            <MenuItem key={op} value={op}>
              {COMPARE_WORDS[op]}
            </MenuItem>
          ))}
          <MenuItem value="between">between</MenuItem>
        </Select>
        {test.op === 'between' ? (
          <span className="pair">
            <NumberField
              label="From"
              value={test.numbers[0]}
              onChange={(n) => put({ ...count, test: { op: 'between', numbers: [n, test.numbers[1]] } }, 'type')}
            />
            and
            <NumberField
              label="To"
              value={test.numbers[1]}
              onChange={(n) => put({ ...count, test: { op: 'between', numbers: [test.numbers[0], n] } }, 'type')}
            />
          </span>
        ) : (
          <NumberField
            label="Number"
            value={test.number}
            autoFocus
            onChange={(number) => put({ ...count, test: { op: test.op, number } }, 'type')}
          />
        )}
        <Select
          value={measured}
          aria-label="What is counted"
          onChange={(change) => {
            const next = change.target.value as CountMeasure
            if (needsProperty(next) && !property) return setChoosing(next)
            const { property: _before, ...plain } = count
            put(needsProperty(next) ? { ...count, measure: next } : { ...plain, measure: next }, 'choose')
          }}
        >
          {Object.entries(MEASURES).map(([key, label]) => (
            <MenuItem key={key} value={key}>
              {label}
            </MenuItem>
          ))}
        </Select>
      </div>
      {needsProperty(measure) && property && (
        <div className="row">
          <span>
            of <strong>{propertyWords(property, words)}</strong>
          </span>
          <Button onClick={() => setChoosing(measure)}>Another property</Button>
        </div>
      )}
      <p className="hint">{EXPLAIN[measured]}</p>
    </div>
  )
}

const EXPLAIN: Record<CountMeasure, string> = {
  times: 'Who never did it did it 0 times.',
  days: 'Local days on which it was done, each once.',
  weeks: 'Calendar weeks in which it was done, each once.',
  values: 'How many different values there were; of a list, its elements.',
  sum: 'Added up over the events that carry a number; of none, 0.',
  average: 'Over the events that carry a number; of none there is no average, and nothing holds.',
  maximum: 'Of the events that carry a number; of none there is no maximum, and nothing holds.',
  minimum: 'Of the events that carry a number; of none there is no minimum, and nothing holds.',
}

function withOperator(test: NumberCompare, op: string): NumberCompare {
  const number = test.op === 'between' ? test.numbers[0] : test.number
  return op === 'between' ? { op, numbers: [number, number + 1] } : { op: op as '=', number }
}
