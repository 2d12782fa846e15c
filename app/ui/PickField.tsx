import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'

export interface PickFieldProps {
  label: string
  value: string
  options: readonly { value: string; label: string }[]
  onChange: (value: string) => void
}

/** One of a list, that opens from a small field. */
export function PickField({ label, value, options, onChange }: PickFieldProps) {
  return (
    <Select
      size="small"
      value={value}
      inputProps={{ 'aria-label': label }}
      onChange={({ target }) => onChange(target.value)}
    >
      {options.map((option) => (
        <MenuItem key={option.value} value={option.value}>
          {option.label}
        </MenuItem>
      ))}
    </Select>
  )
}
