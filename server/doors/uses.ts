import type { Mending } from '../../core/made/definitions.js'
import { eventsIn, propertiesIn } from '../../core/questions/named.js'
import { inputsOf } from '../../core/made/refs.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import type { dashboardStore } from '../store/dashboards.js'
import type { studyStore } from '../store/studies.js'

/** Where an event or property is used, and so what changes with it. */
export interface Uses {
  studies: { id: string; name: string }[]
  dashboards: { id: string; name: string }[]
  /** derived properties, channel rules and combined events made from it */
  made: { name: string; what: 'derived property' | 'channel rules' | 'combined event' }[]
}

interface Definitions {
  studies: ReturnType<typeof studyStore>
  dashboards: ReturnType<typeof dashboardStore>
  mending: Mending
}

/** Where an event is asked for by name, itself or in a combined event. */
export function usesOfEvent(name: string, definitions: Definitions): Uses {
  const combined = definitions.mending.combined.filter(({ events }) => events.includes(name))
  const names = new Set([name, ...combined.map((event) => event.name)])
  return usesWhere(
    (question) => eventsIn(question).names.some((each) => names.has(each)),
    combined.map((event) => ({ name: event.name, what: 'combined event' as const })),
    definitions,
  )
}

/** Where a property is asked for by name, itself or through what is made from it. */
export function usesOfProperty(ref: { of: 'event' | 'person'; name: string }, definitions: Definitions): Uses {
  const { derived, combined } = definitions.mending
  const names = new Set([keyOf(ref)])
  const made: Uses['made'] = []
  // What is made from something made from it depends on it as well.
  for (let grown = true; grown;) {
    grown = false
    for (const each of derived) {
      if (names.has(keyOf(each)) || !inputsOf(each.recipe, each.of).some((input) => names.has(keyOf(input)))) continue
      names.add(keyOf(each))
      made.push({ name: each.name, what: each.channels ? 'channel rules' : 'derived property' })
      grown = true
    }
  }
  for (const { name, properties } of combined)
    if (ref.of === 'event' && properties.some(({ from }) => Object.values(from).includes(ref.name)))
      made.push({ name, what: 'combined event' })
  return usesWhere((question) => propertiesIn(question).some((each) => names.has(keyOf(each))), made, definitions)
}

function keyOf(ref: PropertyRef): string {
  return ref.of === 'source' ? 'source' : `${ref.of} ${ref.name}`
}

function usesWhere(
  uses: (definition: unknown) => boolean,
  made: Uses['made'],
  { studies, dashboards }: Definitions,
): Uses {
  const using = studies.list().filter(({ question }) => uses(question))
  const ids = new Set(using.map(({ id }) => id))
  return {
    studies: using.map(({ id, name }) => ({ id, name })),
    dashboards: dashboards
      .list()
      .filter(({ id }) => {
        const { cards, among } = dashboards.get(id)
        return uses(among) || cards.some(({ study }) => study !== null && ids.has(study))
      })
      .map(({ id, name }) => ({ id, name })),
    made,
  }
}
