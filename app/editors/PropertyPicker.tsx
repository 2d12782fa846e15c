import { useState } from 'react'
import { recorded } from '../../core/questions/named.js'
import type { EventChoice, PropertyRef } from '../../core/questions/parts.js'
import { propertyWords } from '../../core/words/words.js'
import type { PropertyEntry } from '../../server/engine/catalog.js'
import { useWorkspace } from '../page/workspace.js'
import { KIND_WORDS } from '../catalog/kindWords.js'
import { OptionList } from './OptionList.js'
import { noteUse, recentNames } from './recent.js'

/** The properties that the chosen events carry, what is made here, and those of people; deprecated ones are left out. */
export function propertiesFor(
  properties: readonly PropertyEntry[],
  carried: ReadonlySet<string> | null,
): PropertyEntry[] {
  return properties.filter(
    ({ property, made, deprecated }) =>
      !deprecated && (made || property.of !== 'event' || !carried || carried.has(property.name)),
  )
}

export function useProperties(events: readonly EventChoice[]): PropertyEntry[] {
  const { catalog } = useWorkspace()
  if (events.some((event) => 'activity' in event)) return propertiesFor(catalog.properties, null)
  const names = new Set(events.flatMap((event) => ('names' in event ? event.names : [])))
  const carried = new Set(catalog.events.filter(({ name }) => names.has(name)).flatMap(({ properties }) => properties))
  return propertiesFor(catalog.properties, carried)
}

function groupOf({ property, made }: PropertyEntry): string {
  if (property.of === 'person') return 'Of the person'
  return made ? 'Made here' : 'Of the event'
}

export function PropertyPicker(props: {
  events: readonly EventChoice[]
  value: PropertyRef | null
  onChoose: (entry: PropertyEntry) => void
  only?: 'person' | 'event'
  /** only properties of this kind are offered */
  kind?: PropertyEntry['kind']
}) {
  const { events, value, onChoose, only, kind: wanted } = props
  const properties = useProperties(events).filter(
    ({ property, kind }) => (!only || property.of === only) && (!wanted || kind === wanted),
  )
  const { words } = useWorkspace()
  const order = { source: 0, event: 1, person: 2 }
  const [recent] = useState(() => recentNames('properties'))
  const rank = (name: string) => (recent.includes(name) ? recent.indexOf(name) : recent.length)
  const sorted = [...properties].sort(
    (a, b) => order[a.property.of] - order[b.property.of] || rank(a.name) - rank(b.name),
  )
  return (
    <OptionList
      label="Properties"
      search="Search names, meanings, values"
      empty={wanted === 'number' ? 'The event carries no number by that name.' : 'No property by that name here.'}
      options={sorted.map((entry) => ({
        key: JSON.stringify(entry.property),
        label: propertyWords(entry.property, words),
        note: entry.description || entry.samples.slice(0, 3).join(', '),
        side: KIND_WORDS[entry.kind],
        find: [entry.name, ...entry.synonyms, ...entry.samples],
        value: entry,
        chosen: value !== null && JSON.stringify(recorded(value)) === JSON.stringify(entry.property),
        group: groupOf(entry),
      }))}
      onChoose={(entry) => {
        noteUse('properties', entry.name)
        onChoose(entry)
      }}
    />
  )
}
