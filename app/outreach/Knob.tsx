import { NumberField } from '../editors/NumberField.js'

/** A number that is turned up or down. */
export function Knob(props: {
  label: string
  unit: string
  value: number
  most?: number
  onChange: (value: number) => void
}) {
  const { label, unit, value, most = 100, onChange } = props
  return (
    <div className="knob">
      <span>{label}</span>
      <span className="row">
        <NumberField label={label} value={value} min={0} max={most} width={80} onChange={onChange} />
        <span className="soft">{unit}</span>
      </span>
    </div>
  )
}
