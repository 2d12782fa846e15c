import { recorded } from '../../core/questions/named.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { Segmented } from '../ui/Segmented.js'
import { useWorkspace } from '../page/workspace.js'

const CHOICES = [
  { value: 'then', label: 'as it was then' },
  { value: 'now', label: 'as it is now' },
] as const

/** As of when a profile's property is read; nothing where nobody's value has ever changed. */
export function WhenField<P extends PropertyRef>(props: { property: P; onChange: (property: P) => void }) {
  const { property, onChange } = props
  const { catalog } = useWorkspace()
  if (property.of !== 'person') return null
  const now = property.now === true
  const entry = catalog.properties.find(({ property: { of }, name }) => of === 'person' && name === property.name)
  if (!now && !entry?.changes) return null
  return (
    <Segmented
      label="As of when it is read"
      value={now ? 'now' : 'then'}
      options={CHOICES}
      onChange={(when) => onChange({ ...recorded(property), ...(when === 'now' ? { now: true } : {}) } as P)}
    />
  )
}
