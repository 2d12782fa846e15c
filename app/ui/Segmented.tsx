import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import { useEffect, useRef } from 'react'

/** One of a few, side by side. */
export function Segmented<T extends string>(props: {
  label: string
  value: T
  options: readonly { value: T; label: string; disabled?: boolean }[]
  onChange: (value: T) => void
}) {
  const { label, value, options, onChange } = props
  const group = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // On a phone what is chosen may lie beyond the edge.
    const chosen = group.current?.querySelector<HTMLElement>('.Mui-selected')
    if (chosen && group.current!.scrollWidth > group.current!.clientWidth)
      group.current!.scrollLeft = chosen.offsetLeft - 24
  }, [value])
  return (
    <ToggleButtonGroup
      ref={group}
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
