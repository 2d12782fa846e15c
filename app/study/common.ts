import type { StudyDefinition } from '../../core/questions/study.js'
import type { Among } from '../../core/analyses/people.js'
import type { Catalog, EventEntry } from '../../server/engine/catalog.js'

/** The events an analyst would start from: live, counted as activity, the most frequent of the last 30 days first. */
export function commonEvents(catalog: Catalog): EventEntry[] {
  return catalog.events
    .filter((event) => !event.deprecated && !event.passive && event.events > 0)
    .sort((a, b) => b.recent - a.recent || b.events - a.events || (a.name < b.name ? -1 : 1))
}

/** The people of one study as those of another; they were read by the first one's schema. */
export function withAmong({ among }: StudyDefinition): { among?: Among } {
  return among ? { among: among as Among } : {}
}
