import OutlinedInput from '@mui/material/OutlinedInput'

/** A field that narrows what stands below it; without the menus that a general text field would bring along. */
export function FindField(props: {
  /** What is looked for, in words; shown while nothing is typed, unless `placeholder` says it better. */
  label: string
  placeholder?: string
  value: string
  onChange: (value: string) => void
  type?: 'text' | 'search'
  className?: string
}) {
  const { label, placeholder = label, value, onChange, type = 'text', className } = props
  return (
    <OutlinedInput
      size="small"
      type={type}
      value={value}
      placeholder={placeholder}
      inputProps={{ 'aria-label': label }}
      onChange={(event) => onChange(event.target.value)}
      {...(className && { className })}
    />
  )
}
