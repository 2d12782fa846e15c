import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import type { ColumnRole, CsvPlan } from '../dowser.shared.js'

const ROLES: { value: string; label: string; role: (name: string) => ColumnRole }[] = [
  { value: 'event', label: 'the event’s name', role: () => ({ role: 'event' }) },
  { value: 'time iso', label: 'time, as 2026-10-08 07:12', role: () => ({ role: 'time', format: 'iso' }) },
  { value: 'time epoch ms', label: 'time, epoch milliseconds', role: () => ({ role: 'time', format: 'epoch ms' }) },
  { value: 'time epoch s', label: 'time, epoch seconds', role: () => ({ role: 'time', format: 'epoch s' }) },
  { value: 'time day first', label: 'time, day first: 8/10/2026', role: () => ({ role: 'time', format: 'day first' }) },
  {
    value: 'time month first',
    label: 'time, month first: 10/8/2026',
    role: () => ({ role: 'time', format: 'month first' }),
  },
  { value: 'person', label: 'the person’s id', role: () => ({ role: 'person' }) },
  { value: 'anonymous', label: 'an anonymous id', role: () => ({ role: 'anonymous' }) },
  { value: 'id', label: 'the event’s own id', role: () => ({ role: 'id' }) },
  { value: 'source', label: 'the source', role: () => ({ role: 'source' }) },
  { value: 'property text', label: 'property: text', role: (name) => ({ role: 'property', name, type: 'text' }) },
  { value: 'property number', label: 'property: number', role: (name) => ({ role: 'property', name, type: 'number' }) },
  {
    value: 'property boolean',
    label: 'property: yes/no',
    role: (name) => ({ role: 'property', name, type: 'boolean' }),
  },
  { value: 'property date', label: 'property: date', role: (name) => ({ role: 'property', name, type: 'date' }) },
  {
    value: 'property list',
    label: 'property: list (a|b|c)',
    role: (name) => ({ role: 'property', name, type: 'list' }),
  },
  { value: 'ignore', label: 'leave it out', role: () => ({ role: 'ignore' }) },
]

function valueOf(column: ColumnRole): string {
  if (column.role === 'time') return `time ${column.format}`
  return column.role === 'property' ? `property ${column.type}` : column.role
}

/** The first rows of a CSV file, with what each column is taken for. */
export function ColumnsEditor(props: { plan: CsvPlan; rows: string[][]; onPlan: (plan: CsvPlan) => void }) {
  const { plan, rows, onPlan } = props
  const setColumn = (index: number, column: ColumnRole) =>
    onPlan({ ...plan, columns: plan.columns.with(index, column) })
  const named = plan.columns.some(({ role }) => role === 'event')
  return (
    <>
      {!named && (
        <TextField
          label="Name of the event on every line"
          value={plan.event ?? ''}
          onChange={(event) => {
            const { event: _before, ...rest } = plan
            onPlan(event.target.value ? { ...rest, event: event.target.value } : rest)
          }}
        />
      )}
      <div className="table-scroll" tabIndex={0} role="region" aria-label="First rows">
        <table className="numbers import-preview">
          <thead>
            <tr>
              {plan.header.map((name, i) => (
                <th key={i} scope="col">
                  <div>{name}</div>
                  <Select
                    value={valueOf(plan.columns[i])}
                    aria-label={`What ${name} is`}
                    onChange={(event) =>
                      setColumn(
                        i,
                        ROLES.find(({ value }) => value === event.target.value)!.role(name.trim() || `column ${i + 1}`),
                      )
                    }
                  >
                    {ROLES.map(({ value, label }) => (
                      <MenuItem key={value} value={value}>
                        {label}
                      </MenuItem>
                    ))}
                  </Select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, 8).map((row, r) => (
              <tr key={r} className={row.length === plan.header.length ? '' : 'ragged'}>
                {plan.header.map((_name, i) => (
                  <td key={i}>{row[i] ?? '–'}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="hint">Times without an offset are read in {plan.zone}.</p>
    </>
  )
}
