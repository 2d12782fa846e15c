import AddIcon from '@mui/icons-material/Add'
import CloseIcon from '@mui/icons-material/Close'
import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import IconButton from '@mui/material/IconButton'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import { Temporal } from 'temporal-polyfill'
import { operatorsFor, startCondition } from '../../core/filters/operators.js'
import { recorded } from '../../core/questions/named.js'
import type { Condition, EventChoice, Filter, Operator, PropertyRef } from '../../core/questions/parts.js'
import { valueOptions } from './valueOptions.js'
import { WhenField } from './WhenField.js'
import { units, type Unit } from '../../core/time/range.js'
import { fullFilterWords, propertyWords } from '../../core/words/words.js'
import { useWorkspace } from '../page/workspace.js'
import { NumberField } from './NumberField.js'
import { PropertyPicker } from './PropertyPicker.js'

interface FilterEditorProps {
  events: readonly EventChoice[]
  value: Filter | undefined
  onChange: (filter: Filter | undefined, how: 'choose' | 'type') => void
  /** only properties of people are offered */
  only?: 'person'
}

/** Conditions under one another, all or any of which must hold. Groups inside groups are shown and kept as they are. */
export function FilterEditor({ events, value, onChange, only }: FilterEditorProps) {
  const { catalog, status, zone, words } = useWorkspace()
  const [adding, setAdding] = useState(value === undefined)
  // While the editor is open it has the conditions: one that compares with nothing yet is not part of the question.
  const [mode, setMode] = useState<'all' | 'any'>(value && 'any' in value ? 'any' : 'all')
  const [items, setItems] = useState<Filter[]>(
    !value ? [] : 'all' in value ? value.all : 'any' in value ? value.any : [value],
  )
  const today = Temporal.Instant.fromEpochMilliseconds(status.now).toZonedDateTimeISO(zone).toPlainDate().toString()

  const put = (next: Filter[], how: 'choose' | 'type', as: 'all' | 'any' = mode) => {
    const before = items.filter(isFinished)
    const finished = next.filter(isFinished)
    setItems(next)
    setMode(as)
    if (as === mode && JSON.stringify(before) === JSON.stringify(finished)) return
    if (finished.length === 0) onChange(undefined, how)
    else if (finished.length === 1) onChange(finished[0], how)
    else onChange(as === 'all' ? { all: finished } : { any: finished }, how)
  }
  const kindOf = (property: PropertyRef) =>
    catalog.properties.find((entry) => JSON.stringify(entry.property) === JSON.stringify(recorded(property)))?.kind ??
    'text'

  if (adding)
    return (
      <PropertyPicker
        events={events}
        value={null}
        {...(only ? { only } : {})}
        onChoose={(entry) => {
          setAdding(false)
          put([...items, startCondition(entry.property, operatorsFor(entry.kind)[0], today)], 'choose')
        }}
      />
    )
  return (
    <div className="filter-editor">
      {items.length > 1 && (
        <p className="filter-mode">
          <Select
            value={mode}
            aria-label="How the conditions go together"
            onChange={(event) => put(items, 'choose', event.target.value as 'all' | 'any')}
          >
            <MenuItem value="all">all of these hold</MenuItem>
            <MenuItem value="any">any of these holds</MenuItem>
          </Select>
        </p>
      )}
      {items.map((item, index) => (
        <div className="condition" key={index}>
          {'property' in item ? (
            <ConditionLine
              condition={item}
              operators={operatorsFor(kindOf(item.property))}
              today={today}
              onChange={(next, how) => put(items.with(index, next), how)}
            />
          ) : (
            <span className="condition-words">{fullFilterWords(item, words)}</span>
          )}
          <IconButton
            size="small"
            aria-label="Remove this condition"
            onClick={() => {
              put(items.toSpliced(index, 1), 'choose')
              if (items.length === 1) setAdding(true)
            }}
          >
            <CloseIcon fontSize="small" />
          </IconButton>
        </div>
      ))}
      <Button startIcon={<AddIcon />} onClick={() => setAdding(true)}>
        another condition
      </Button>
    </div>
  )
}

/** Whether a condition has something to compare with. */
export function isFinished(item: Filter): boolean {
  if ('values' in item) return item.values.length > 0
  return 'text' in item ? item.text !== '' : true
}

export function ConditionLine(props: {
  condition: Condition
  operators: readonly Operator[]
  today: string
  onChange: (condition: Condition, how: 'choose' | 'type') => void
}) {
  const { condition, operators, today, onChange } = props
  const { words } = useWorkspace()
  const offered = operators.includes(condition.op) ? operators : [...operators, condition.op]
  return (
    <div className="condition-line">
      <strong>{propertyWords(condition.property, words)}</strong>
      <Select
        value={condition.op}
        aria-label="Comparison"
        onChange={(event) => onChange(changeOperator(condition, event.target.value as Operator, today), 'choose')}
      >
        {offered.map((op) => (
          <MenuItem key={op} value={op}>
            {op === 'between days' ? 'between' : op}
          </MenuItem>
        ))}
      </Select>
      <Operand condition={condition} onChange={onChange} />
      <WhenField
        property={condition.property}
        onChange={(property) => onChange({ ...condition, property } as Condition, 'choose')}
      />
    </div>
  )
}

/** What was typed is kept where the new comparison takes the same. */
function changeOperator(condition: Condition, op: Operator, today: string): Condition {
  const fresh = startCondition(condition.property, op, today)
  for (const key of ['values', 'text', 'number', 'day'] as const)
    if (key in fresh && key in condition) return { ...fresh, [key]: (condition as never)[key] } as Condition
  return fresh
}

function Operand({
  condition,
  onChange,
}: {
  condition: Condition
  onChange: (c: Condition, how: 'choose' | 'type') => void
}) {
  switch (condition.op) {
    case 'is':
    case 'is not':
      return <ValuesField condition={condition} onChange={(next) => onChange(next, 'choose')} />
    case 'contains':
    case 'does not contain':
    case 'starts with':
    case 'ends with':
    case 'matches':
      return (
        <>
          <TextField
            fullWidth
            autoFocus
            value={condition.text}
            placeholder={condition.op === 'matches' ? 'a regular expression' : 'a text'}
            slotProps={{ htmlInput: { 'aria-label': 'Text' } }}
            onChange={(event) => onChange({ ...condition, text: event.target.value }, 'type')}
          />
          <AnyCase condition={condition} onChange={onChange} />
        </>
      )
    case '=':
    case '≠':
    case '<':
    case '≤':
    case '>':
    case '≥':
      return (
        <NumberField
          label="Number"
          value={condition.number}
          autoFocus
          onChange={(number) => onChange({ ...condition, number }, 'type')}
        />
      )
    case 'between': {
      const [low, high] = condition.numbers
      return (
        <span className="pair">
          <NumberField
            label="From"
            value={low}
            onChange={(n) => onChange({ ...condition, numbers: [n, high] }, 'type')}
          />
          and
          <NumberField
            label="To"
            value={high}
            onChange={(n) => onChange({ ...condition, numbers: [low, n] }, 'type')}
          />
        </span>
      )
    }
    case 'before':
    case 'after':
      return <DayField label="Day" value={condition.day} onChange={(day) => onChange({ ...condition, day }, 'type')} />
    case 'between days': {
      const [first, last] = condition.days
      return (
        <span className="pair">
          <DayField
            label="First day"
            value={first}
            onChange={(day) => onChange({ ...condition, days: [day, last] }, 'type')}
          />
          and
          <DayField
            label="Last day"
            value={last}
            onChange={(day) => onChange({ ...condition, days: [first, day] }, 'type')}
          />
        </span>
      )
    }
    case 'in the last':
      return (
        <span className="pair">
          <NumberField
            label="How many"
            value={condition.last}
            min={1}
            max={1000}
            whole
            onChange={(last) => onChange({ ...condition, last }, 'type')}
          />
          <Select
            value={condition.unit}
            aria-label="Unit of time"
            onChange={(event) => onChange({ ...condition, unit: event.target.value as Unit }, 'choose')}
          >
            {units.map((unit) => (
              <MenuItem key={unit} value={unit}>
                {unit}s
              </MenuItem>
            ))}
          </Select>
        </span>
      )
    default:
      return null
  }
}

export function DayField({
  label,
  value,
  onChange,
}: {
  label: string
  value: string
  onChange: (day: string) => void
}) {
  return (
    <TextField
      type="date"
      value={value}
      slotProps={{ htmlInput: { 'aria-label': label } }}
      onChange={(event) => {
        if (/^\d{4}-\d{2}-\d{2}$/.test(event.target.value)) onChange(event.target.value)
      }}
    />
  )
}

type TextCondition = Extract<Condition, { values: string[] } | { text: string }>

function AnyCase({
  condition,
  onChange,
}: {
  condition: TextCondition
  onChange: (c: Condition, how: 'choose' | 'type') => void
}) {
  return (
    <FormControlLabel
      className="any-case"
      control={
        <Checkbox
          size="small"
          checked={condition.ignoreCase === true}
          onChange={(_event, on) => {
            const { ignoreCase: _before, ...rest } = condition
            onChange((on ? { ...rest, ignoreCase: true } : rest) as Condition, 'choose')
          }}
        />
      }
      label="any case"
    />
  )
}

/** Values that have been seen, the commonest first; one that has not can be taken as well, and stands last. */
function ValuesField(props: {
  condition: Extract<Condition, { values: string[] }>
  onChange: (condition: Condition) => void
}) {
  const { condition, onChange } = props
  const { values, property } = condition
  const { catalog } = useWorkspace()
  const fetcher = useFetcher<{ values: { value: string; count: number }[]; search: string }>()
  const [typed, setTyped] = useState('')
  const { load } = fetcher
  const place = JSON.stringify(property)
  useEffect(() => {
    void load(`/ask/values?${new URLSearchParams({ property: place, search: typed }).toString()}`)
  }, [load, place, typed])
  const { data } = fetcher
  const samples = catalog.properties.find(
    (entry) => JSON.stringify(entry.property) === JSON.stringify(recorded(property)),
  )
  const { options, sideOf } = valueOptions(typed, data, samples?.samples ?? [])
  return (
    <>
      <Autocomplete
        multiple
        autoHighlight
        forcePopupIcon={false}
        fullWidth
        openOnFocus
        size="small"
        value={values}
        inputValue={typed}
        options={options}
        filterOptions={(all) => [...all]}
        loading={fetcher.state === 'loading'}
        onInputChange={(_event, text) => setTyped(text)}
        // What is highlighted is taken, never what is only half typed: that stands last, to be chosen.
        noOptionsText={fetcher.state === 'loading' ? 'Looking …' : 'No value has been seen'}
        onChange={(_event, chosen) => onChange({ ...condition, values: [...new Set(chosen)] })}
        renderOption={({ key, ...rest }, option) => (
          <li key={key} {...rest}>
            <span className="option-text">{option}</span>
            <span className="option-side">{sideOf(option)}</span>
          </li>
        )}
        renderInput={(params) => (
          <TextField
            {...params}
            autoFocus
            placeholder={values.length === 0 ? 'choose or type values' : ''}
            helperText={values.length === 0 ? 'Holds from the first value on.' : undefined}
            slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': 'Values' } }}
          />
        )}
      />
      <AnyCase condition={condition} onChange={(next) => onChange(next)} />
    </>
  )
}
