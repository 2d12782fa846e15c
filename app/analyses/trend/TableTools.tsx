import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { tableColumns, type TableColumn, type TrendQuestion } from '../../../core/analyses/trend/question.js'

const COLUMNS: Record<TableColumn, string> = {
  total: 'Whole time',
  before: 'Before',
  difference: 'Difference',
  change: 'Change',
  contribution: 'Share of the change',
  buckets: 'Each point of time',
}

/** Shading of the table, its columns, and all lines back into the chart. */
export function TableTools(props: {
  question: TrendQuestion
  /** whether there is a time beside it to compare with */
  beside: boolean
  edit: (question: TrendQuestion) => void
}) {
  const { question, beside, edit } = props
  const { show } = question
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const ofComparison = ['before', 'difference', 'contribution']
  const columns = tableColumns.filter((column) => beside || !ofComparison.includes(column))
  const toggle = (column: TableColumn) => {
    const { without: before = [], ...rest } = show
    const next = before.includes(column) ? before.filter((other) => other !== column) : [...before, column]
    edit({ ...question, show: next.length > 0 ? { ...rest, without: next } : rest })
  }
  return (
    <>
      <FormControlLabel
        className="log-switch"
        control={
          <Checkbox
            size="small"
            checked={show.heat === true}
            onChange={(_event, on) => {
              const { heat: _heat, ...rest } = show
              edit({ ...question, show: on ? { ...rest, heat: true } : rest })
            }}
          />
        }
        label="Shade by size"
      />
      <Button size="small" onClick={(event) => setAnchor(event.currentTarget)}>
        Columns
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {columns.map((column) => (
          <MenuItem key={column} dense onClick={() => toggle(column)}>
            <Checkbox size="small" checked={!show.without?.includes(column)} tabIndex={-1} disableRipple />
            {COLUMNS[column]}
          </MenuItem>
        ))}
      </Menu>
      {show.off && (
        <Button
          size="small"
          onClick={() => {
            const { off: _off, ...rest } = show
            edit({ ...question, show: rest })
          }}
        >
          All lines into the chart
        </Button>
      )}
    </>
  )
}
