import TextField from '@mui/material/TextField'
import { useEffect, useRef, useState } from 'react'

/** A text that is handed on with each key. What is typed stands at once: what it is handed to may take a moment to answer. */
export function TypedField(props: {
  label: string
  value: string
  most: number
  lines?: number
  onChange: (value: string) => void
  onDone: () => void
}) {
  const { label, value, most, lines, onChange, onDone } = props
  const [text, setText] = useState(value)
  const typing = useRef(false)
  useEffect(() => {
    if (!typing.current) setText(value)
  }, [value])
  return (
    <TextField
      label={label}
      value={text}
      multiline={lines !== undefined}
      {...(lines !== undefined && { minRows: lines })}
      onChange={(event) => {
        typing.current = true
        setText(event.target.value)
        onChange(event.target.value)
      }}
      onBlur={() => {
        typing.current = false
        onDone()
      }}
      slotProps={{ htmlInput: { maxLength: most } }}
    />
  )
}
