import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { formatNumber } from '../../core/words/format.js'
import { Segmented } from '../ui/Segmented.js'
import type { ColumnRole, RowKind, TablePlan, TimeFormat } from '../door/dowser.shared.js'

const TIMES: { format: TimeFormat; label: string }[] = [
  { format: 'iso', label: 'as 2026-10-08 07:12' },
  { format: 'epoch ms', label: 'epoch milliseconds' },
  { format: 'epoch s', label: 'epoch seconds' },
  { format: 'day first', label: 'day first: 8/10/2026' },
  { format: 'month first', label: 'month first: 10/8/2026' },
]
const TYPES = [
  { type: 'text', label: 'text' },
  { type: 'number', label: 'number' },
  { type: 'boolean', label: 'yes/no' },
  { type: 'date', label: 'date' },
  { type: 'list', label: 'list (a|b|c)' },
] as const

interface RoleChoice {
  value: string
  label: string
  role: (name: string) => ColumnRole
  rows: readonly RowKind[]
}

const PLAIN: [ColumnRole['role'] & ('event' | 'person' | 'anonymous' | 'id' | 'source'), string, RowKind[]][] = [
  ['event', 'the event’s name', ['events']],
  ['person', 'the person’s id', ['events', 'things', 'people']],
  ['anonymous', 'an anonymous id', ['events', 'things']],
  ['id', 'the row’s own id', ['events', 'things']],
  ['source', 'the source', ['events', 'things']],
]

const ROLES: RoleChoice[] = [
  ...PLAIN.map(([role, label, rows]) => ({ value: role, label, rows, role: () => ({ role }) })),
  ...TIMES.map(({ format, label }) => ({
    value: `time ${format}`,
    label: `time, ${label}`,
    rows: ['events' as const, 'people' as const],
    role: (): ColumnRole => ({ role: 'time', format }),
  })),
  ...TIMES.map(({ format, label }) => ({
    value: `happened ${format}`,
    label: `makes an event, ${label}`,
    rows: ['things' as const],
    role: (name: string): ColumnRole => ({ role: 'happened', event: name, format }),
  })),
  ...TYPES.map(({ type, label }) => ({
    value: `property ${type}`,
    label: `property: ${label}`,
    rows: ['events' as const, 'things' as const, 'people' as const],
    role: (name: string): ColumnRole => ({ role: 'property', name, type }),
  })),
  { value: 'ignore', label: 'leave it out', rows: ['events', 'things', 'people'], role: () => ({ role: 'ignore' }) },
]

/** How a column is read, as it is said in the list of choices. */
export function readingWords(column: ColumnRole): string {
  return ROLES.find(({ value }) => value === valueOf(column))?.label ?? column.role
}

function valueOf(column: ColumnRole): string {
  if (column.role === 'time' || column.role === 'happened') return `${column.role} ${column.format}`
  return column.role === 'property' ? `property ${column.type}` : column.role
}

const KINDS: { value: RowKind; label: string }[] = [
  { value: 'events', label: 'Events' },
  { value: 'things', label: 'Things with dates' },
  { value: 'people', label: 'People' },
]

/** Columns shown before one asks for more: a table may have thousands. */
const SHOWN = 60

/** What a table's rows are, and what each of its columns is taken for, beside its first values. */
export function ColumnsEditor(props: { plan: TablePlan; rows: string[][]; onPlan: (plan: TablePlan) => void }) {
  const { plan, rows, onPlan } = props
  const [shown, setShown] = useState(SHOWN)
  const setColumn = (index: number, column: ColumnRole) =>
    onPlan({ ...plan, columns: plan.columns.with(index, column) })
  const named = plan.columns.some(({ role }) => role === 'event')
  return (
    <>
      <div className="row wrap">
        Each row is
        <Segmented
          label="What each row is"
          value={plan.rows}
          options={KINDS}
          onChange={(kind) => onPlan(asKind(plan, kind))}
        />
      </div>
      {plan.rows === 'things' && (
        <div className="row wrap">
          <TextField
            label="What is it, in a word"
            placeholder="order"
            value={plan.thing ?? ''}
            onChange={(event) => onPlan({ ...plan, thing: event.target.value })}
          />
          <span className="hint">
            An account, an order, a subscription: each of its dates makes an event of the person it belongs to.
          </span>
        </div>
      )}
      {plan.rows === 'events' && !named && (
        <TextField
          label="Name of the event on every row"
          value={plan.event ?? ''}
          onChange={(event) => {
            const { event: _before, ...rest } = plan
            onPlan(event.target.value ? { ...rest, event: event.target.value } : rest)
          }}
        />
      )}
      {plan.rows !== 'people' && (
        <label className="row">
          <input
            type="checkbox"
            checked={plan.replace}
            onChange={(event) => onPlan({ ...plan, replace: event.target.checked })}
          />
          A row of the same id takes the earlier one’s place
          {!plan.replace && <span className="hint">else the first one stays</span>}
        </label>
      )}
      <div className="table-scroll import-preview" tabIndex={0} role="region" aria-label="Columns">
        <table className="catalog-table">
          <thead>
            <tr>
              <th scope="col">Column</th>
              <th scope="col">Is</th>
              <th scope="col">Called</th>
              <th scope="col">First values</th>
            </tr>
          </thead>
          <tbody>
            {plan.header.slice(0, shown).map((name, i) => {
              const column = plan.columns[i]
              return (
                <tr key={i} className={column.role === 'ignore' ? 'left-out' : ''}>
                  <th scope="row">{name || `column ${i + 1}`}</th>
                  <td>
                    <Select
                      native
                      value={valueOf(column)}
                      inputProps={{ 'aria-label': `What ${name} is` }}
                      onChange={(event) => {
                        const choice = ROLES.find(({ value }) => value === event.target.value)!
                        setColumn(i, choice.role(name.trim().slice(0, 200) || `column ${i + 1}`))
                      }}
                    >
                      {ROLES.filter(
                        ({ rows: kinds, value }) => kinds.includes(plan.rows) || value === valueOf(column),
                      ).map(({ value, label }) => (
                        <option key={value} value={value}>
                          {label}
                        </option>
                      ))}
                    </Select>
                  </td>
                  <td>
                    {column.role === 'property' && (
                      <TextField
                        value={column.name}
                        slotProps={{ htmlInput: { 'aria-label': `Property of ${name}`, maxLength: 200 } }}
                        onChange={(event) => setColumn(i, { ...column, name: event.target.value })}
                      />
                    )}
                    {column.role === 'happened' && (
                      <TextField
                        value={column.event}
                        slotProps={{ htmlInput: { 'aria-label': `Event of ${name}`, maxLength: 200 } }}
                        onChange={(event) => setColumn(i, { ...column, event: event.target.value })}
                      />
                    )}
                  </td>
                  <td className="soft">
                    {rows
                      .slice(0, 4)
                      .map((row) => row[i] || '–')
                      .join(' · ')
                      .slice(0, 160)}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </div>
      {plan.header.length > shown && (
        <button type="button" className="link-button" onClick={() => setShown(shown + 200)}>
          Show more of the {formatNumber(plan.header.length)} columns
        </button>
      )}
      <p className="hint">Times without an offset are read in {plan.zone}.</p>
    </>
  )
}

/** The plan for rows of another kind: roles that these do not have become properties, or dates that make events. */
function asKind(plan: TablePlan, kind: RowKind): TablePlan {
  const columns = plan.columns.map((column, i): ColumnRole => {
    const name = plan.header[i].trim() || `column ${i + 1}`
    if (kind === 'things' && column.role === 'time') return { role: 'happened', event: name, format: column.format }
    if (kind === 'events' && column.role === 'happened') return { role: 'property', name, type: 'date' }
    const fits = ROLES.find(({ value }) => value === valueOf(column))?.rows.includes(kind)
    if (fits) return column
    return { role: 'property', name, type: column.role === 'time' || column.role === 'happened' ? 'date' : 'text' }
  })
  return { ...plan, rows: kind, columns, replace: kind === 'things' }
}
