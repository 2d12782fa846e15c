import Button from '@mui/material/Button'
import { Remove } from './Remove.js'

/** A setting that is either on or not. */
export function Switched(props: {
  is: true | undefined
  hint: string
  label: string
  onChange: (is: true | undefined) => void
}) {
  const { is, hint, label, onChange } = props
  return (
    <div className="stack">
      <p className="hint">{hint}</p>
      {is ? (
        <Remove onPress={() => onChange(undefined)} />
      ) : (
        <Button variant="contained" onClick={() => onChange(true)}>
          {label}
        </Button>
      )}
    </div>
  )
}
