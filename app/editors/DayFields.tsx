import { isLocalDay } from '../../core/time/range.js'
import TextField from '@mui/material/TextField'
import { useState } from 'react'

/** Two days that can be typed; told of once both are days and in order. */
export function DayFields(props: {
  from: string
  to: string
  /** the last day may be left empty: up to now */
  open?: boolean
  /** no first day after this one */
  today?: string
  onChange: (from: string, to: string) => void
}) {
  const { open = false, today, onChange } = props
  const [from, setFrom] = useState(props.from)
  const [to, setTo] = useState(props.to)
  const backwards = from !== '' && to !== '' && to < from
  const apply = (first: string, last: string) => {
    const isLast = last === '' ? open : isLocalDay(last) && first <= last
    if (isLocalDay(first) && isLast) onChange(first, last)
  }
  return (
    <>
      <TextField
        type="date"
        value={from}
        slotProps={{ htmlInput: { 'aria-label': 'First day', ...(today ? { max: today } : {}) } }}
        onChange={(event) => {
          setFrom(event.target.value)
          apply(event.target.value, to)
        }}
      />
      <span>to</span>
      <TextField
        type="date"
        value={to}
        error={backwards}
        helperText={backwards ? 'Before the first day' : undefined}
        slotProps={{ htmlInput: { 'aria-label': open ? 'Last day; empty means up to now' : 'Last day' } }}
        onChange={(event) => {
          setTo(event.target.value)
          apply(from, event.target.value)
        }}
      />
    </>
  )
}
