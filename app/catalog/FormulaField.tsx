import type { FormulaFault } from '../../core/formula/formula.js'
import { ArithmeticField } from '../editors/ArithmeticField.js'
import { useWorkspace } from '../page/workspace.js'

/** Arithmetic on number properties. */
export function FormulaField(props: {
  value: string
  of: 'event' | 'person'
  fault: FormulaFault | null
  onChange: (formula: string) => void
}) {
  const { value, of, fault, onChange } = props
  const { catalog } = useWorkspace()
  const numbers = catalog.properties.filter(
    ({ kind, property }) => kind === 'number' && (property.of === of || (of === 'event' && property.of === 'person')),
  )
  return (
    <ArithmeticField
      value={value}
      label="Arithmetic on properties"
      placeholder="fare / minutes"
      names={numbers.map(({ name }) => name)}
      fault={fault}
      hint="+ − × ÷ (or * and /), parentheses, min, max, abs, round. A name with spaces stands in quotes. Dividing by zero, and what is not a number, gives no value."
      onChange={onChange}
    />
  )
}
