import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'

/** A number that is handed on as soon as what is typed is one; anything else is marked and handed on to nobody. */
export function NumberField(props: {
  label: string
  value: number
  onChange: (value: number) => void
  min?: number
  max?: number
  whole?: boolean
  width?: number
  autoFocus?: boolean
}) {
  const { label, value, onChange, min = -Infinity, max = Infinity, whole = false, width = 92, autoFocus } = props
  const [text, setText] = useState(String(value))
  useEffect(() => setText((typed) => (Number(typed) === value ? typed : String(value))), [value])
  const read = (typed: string) => (typed.trim() === '' ? NaN : Number(typed))
  const isRight = (x: number) => Number.isFinite(x) && x >= min && x <= max && (!whole || Number.isInteger(x))
  const right = isRight(read(text))
  return (
    <TextField
      value={text}
      error={!right}
      autoFocus={autoFocus ?? false}
      helperText={right ? undefined : `${min > -Infinity && max < Infinity ? `${min} to ${max}` : 'a number'}`}
      onChange={(event) => {
        setText(event.target.value)
        const x = read(event.target.value)
        if (isRight(x)) onChange(x)
      }}
      sx={{ width }}
      slotProps={{ htmlInput: { 'aria-label': label, inputMode: 'decimal' } }}
    />
  )
}
