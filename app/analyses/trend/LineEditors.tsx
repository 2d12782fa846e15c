import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import {
  formulaUnits,
  handleOf,
  handlesOf,
  withoutSeries,
  type FormulaUnit,
  type TrendFormula,
  type TrendQuestion,
} from '../../../core/analyses/trend/question.js'
import { parseFormula } from '../../../core/formula/formula.js'
import { ArithmeticField } from '../../editors/ArithmeticField.js'
import { NumberField } from '../../editors/NumberField.js'

type Edit = (question: TrendQuestion, how?: 'choose' | 'type') => void

/** A series' short name, whether it is shown, and taking it away. */
export function SeriesEditor(props: { question: TrendQuestion; index: number; edit: Edit; close: () => void }) {
  const { question, index, edit, close } = props
  const series = question.series[index]
  const [text, setText] = useState(handleOf(question, index))
  const others = handlesOf(question).filter((_, i) => i !== index)
  const name = text.trim()
  const problem = name === '' ? 'A short name' : others.includes(name) ? 'Another series has this name' : null
  const uses = question.formulas?.some(({ formula }) => {
    const read = parseFormula(formula)
    return !('fault' in read) && read.names.includes(handleOf(question, index))
  })
  const put = (next: TrendQuestion['series'][number], how: 'choose' | 'type') =>
    edit({ ...question, series: question.series.with(index, next) }, how)
  return (
    <div className="stack">
      <TextField
        value={text}
        label="Short name"
        autoFocus
        error={problem !== null}
        helperText={problem ?? 'Formulas use it; with spaces, in quotes'}
        onChange={(event) => {
          setText(event.target.value)
          const next = event.target.value.trim()
          if (next === '' || others.includes(next) || next.length > 40) return
          // Formulas keep meaning the same series under its new name.
          const renamed = renameIn(question, handleOf(question, index), next)
          edit({ ...renamed, series: renamed.series.with(index, { ...series, name: next }) }, 'type')
        }}
      />
      {(question.formulas?.length ?? 0) > 0 && (
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={!series.hidden}
              onChange={(_event, on) => {
                const { hidden: _hidden, ...rest } = series
                put(on ? rest : { ...rest, hidden: true }, 'choose')
              }}
            />
          }
          label="Show its own line"
        />
      )}
      {question.series.length > 1 && (
        <>
          <Button
            color="error"
            disabled={uses === true}
            onClick={() => {
              edit(withoutSeries(question, index))
              close()
            }}
          >
            Remove this series
          </Button>
          {uses && <p className="hint">A formula uses it: change the formula first.</p>}
        </>
      )}
    </div>
  )
}

function renameIn(question: TrendQuestion, from: string, to: string): TrendQuestion {
  if (!question.formulas || from === to) return question
  const written = (name: string) => (/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `"${name}"`)
  const escape = from.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
  const pattern = new RegExp(`"${escape}"|(?<![\\p{L}\\p{N}_."])${escape}(?![\\p{L}\\p{N}_."])`, 'gu')
  return {
    ...question,
    formulas: question.formulas.map((each) => ({ ...each, formula: each.formula.replace(pattern, written(to)) })),
  }
}

const UNITS: Record<FormulaUnit, string> = {
  number: 'a number',
  percent: 'a percentage',
  money: 'money',
  duration: 'a time, from seconds',
}

/** Arithmetic on the series' short names; taken over as soon as it can be worked out. */
export function FormulaEditor(props: { question: TrendQuestion; index: number; edit: Edit; close: () => void }) {
  const { question, index, edit, close } = props
  const had = question.formulas?.[index]
  const [draft, setDraft] = useState<TrendFormula>(had ?? { formula: '', unit: 'number' })
  const handles = handlesOf(question)
  const read = parseFormula(draft.formula, new Set(handles))
  const put = (next: TrendFormula, how: 'choose' | 'type') => {
    setDraft(next)
    if ('fault' in parseFormula(next.formula, new Set(handles))) return
    const formulas = question.formulas ?? []
    edit({ ...question, formulas: had ? formulas.with(index, next) : [...formulas, next] }, how)
  }
  return (
    <div className="stack">
      <ArithmeticField
        value={draft.formula}
        label="Formula on short names"
        placeholder={handles.length > 1 ? `${handles[0]} / ${handles[1]}` : `${handles[0]} * 100`}
        names={handles}
        autoFocus
        fault={'fault' in read ? read.fault : null}
        hint="+ − × ÷ (or * and /), parentheses, min, max, abs, round. Dividing by zero gives a gap."
        onChange={(formula) => put({ ...draft, formula }, 'type')}
      />
      <TextField
        value={draft.name ?? ''}
        label="Its name (may be left out)"
        onChange={(event) => {
          const { name: _name, ...rest } = draft
          const name = event.target.value.slice(0, 40)
          put(name.trim() === '' ? rest : { ...rest, name }, 'type')
        }}
      />
      <label className="inline-field">
        Write it as
        <Select
          value={draft.unit}
          aria-label="How the result is written"
          onChange={(event) => put({ ...draft, unit: event.target.value as FormulaUnit }, 'choose')}
        >
          {formulaUnits.map((unit) => (
            <MenuItem key={unit} value={unit}>
              {UNITS[unit]}
            </MenuItem>
          ))}
        </Select>
      </label>
      {had && (
        <Button
          color="error"
          onClick={() => {
            const left = question.formulas!.toSpliced(index, 1)
            const { formulas: _formulas, ...rest } = question
            // A hidden series that nothing uses any more would be lost to sight.
            const series = left.length > 0 ? rest.series : rest.series.map(({ hidden: _hidden, ...each }) => each)
            edit(left.length > 0 ? { ...rest, series, formulas: left } : { ...rest, series })
            close()
          }}
        >
          Remove this formula
        </Button>
      )}
    </div>
  )
}

/** Trailing mean of so many buckets. */
export function SmoothEditor(props: { question: TrendQuestion; edit: Edit; close: () => void }) {
  const { question, edit, close } = props
  const { smooth, ...rest } = question
  return (
    <div className="stack">
      <label className="inline-field">
        Mean of
        <NumberField
          label={`How many ${question.every}s`}
          value={smooth ?? (question.every === 'day' ? 7 : 3)}
          min={2}
          max={60}
          whole
          autoFocus
          width={80}
          onChange={(count) => edit({ ...rest, smooth: count }, 'type')}
        />
        {question.every}s
      </label>
      <p className="hint">Each point becomes the mean of its {question.every} and the ones before it.</p>
      <div className="row">
        {!smooth && (
          <Button
            variant="contained"
            onClick={() => {
              edit({ ...rest, smooth: question.every === 'day' ? 7 : 3 })
              close()
            }}
          >
            Smooth
          </Button>
        )}
        {smooth && (
          <Button
            color="error"
            onClick={() => {
              edit(rest)
              close()
            }}
          >
            Do not smooth
          </Button>
        )}
      </div>
    </div>
  )
}
