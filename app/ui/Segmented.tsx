import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'

/** One of a few, side by side. */
export function Segmented<T extends string>(props: {
  label: string
  value: T
  options: readonly { value: T; label: string; disabled?: boolean }[]
  onChange: (value: T) => void
}) {
  const { label, value, options, onChange } = props
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      className="segmented"
      aria-label={label}
      value={value}
      onChange={(_event, next: T | null) => next && onChange(next)}
    >
      {options.map((option) => (
        <ToggleButton key={option.value} value={option.value} disabled={option.disabled ?? false}>
          {option.label}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  )
}
