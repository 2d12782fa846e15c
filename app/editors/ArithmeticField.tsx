import TextField from '@mui/material/TextField'
import { useRef, useState } from 'react'
import type { FormulaFault } from '../../core/formula/formula.js'

/** A formula, with names completed while one types and the fault shown where it is. */
export function ArithmeticField(props: {
  value: string
  label: string
  placeholder: string
  names: readonly string[]
  fault: FormulaFault | null
  hint: string
  onChange: (formula: string) => void
  autoFocus?: boolean
}) {
  const { value, label, placeholder, names, fault, hint, onChange, autoFocus = false } = props
  const input = useRef<HTMLInputElement>(null)
  const [caret, setCaret] = useState(value.length)
  const word = /[\p{L}\p{N}_]*$/u.exec(value.slice(0, caret))?.[0] ?? ''
  const offered = names.filter((name) => name.toLowerCase().startsWith(word.toLowerCase()) && name !== word).slice(0, 8)
  const complete = (name: string) => {
    const written = /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `"${name}"`
    const next = value.slice(0, caret - word.length) + written + value.slice(caret)
    const at = caret - word.length + written.length
    onChange(next)
    setCaret(at)
    requestAnimationFrame(() => {
      input.current?.focus()
      input.current?.setSelectionRange(at, at)
    })
  }
  return (
    <div className="stack">
      <TextField
        inputRef={input}
        value={value}
        label={label}
        placeholder={placeholder}
        className="formula"
        autoFocus={autoFocus}
        error={fault !== null && value !== ''}
        slotProps={{ htmlInput: { spellCheck: false, autoComplete: 'off' } }}
        onChange={(event) => {
          setCaret(event.target.selectionStart ?? event.target.value.length)
          onChange(event.target.value)
        }}
        onSelect={(event) => setCaret((event.target as HTMLInputElement).selectionStart ?? 0)}
        onKeyDown={(event) => {
          if (event.key === 'Tab' && !event.shiftKey && word !== '' && offered[0]) {
            event.preventDefault()
            complete(offered[0])
          }
        }}
      />
      {fault && value !== '' && (
        <p className="formula-fault" role="alert">
          <code>
            {value.slice(0, fault.at)}
            <mark>{value.slice(fault.at, fault.at + Math.max(1, fault.length)) || '␣'}</mark>
            {value.slice(fault.at + Math.max(1, fault.length))}
          </code>
          {fault.message}
        </p>
      )}
      <p className="hint">{hint}</p>
      <div className="row wrap" aria-label="Names that fit">
        {offered.map((name) => (
          <button key={name} type="button" className="chip" onClick={() => complete(name)}>
            {name}
          </button>
        ))}
      </div>
    </div>
  )
}
