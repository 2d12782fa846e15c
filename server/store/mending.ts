import {
  combinedSchema,
  derivedSchema,
  type Combined,
  type Derived,
  type Mending,
} from '../../core/made/definitions.js'
import type { Db } from './database.js'
import { bumpDefinitions } from './definitions.js'

interface MergedRow {
  name: string
  merged_into: string
}

/** What the workspace makes of its events: merged names, combined events, derived properties, channel rules. */
export function mendingStore(db: Db) {
  const mergedTypes = db.prepare<[], MergedRow>(
    'SELECT name, merged_into FROM event_types WHERE merged_into IS NOT NULL ORDER BY name',
  )
  const mergedProperties = db.prepare<[], MergedRow & { scope: 'event' | 'person' }>(
    'SELECT scope, name, merged_into FROM properties WHERE merged_into IS NOT NULL ORDER BY scope, name',
  )
  const combined = db.prepare<[], { definition: string }>('SELECT definition FROM combined_events ORDER BY name')
  const derived = db.prepare<[], { definition: string }>(
    'SELECT definition FROM derived_properties ORDER BY scope, name',
  )
  const mergeType = db.prepare('UPDATE event_types SET merged_into = ? WHERE name = ?')
  const mergeProperty = db.prepare('UPDATE properties SET merged_into = ? WHERE scope = ? AND name = ?')
  const putCombined = db.prepare(
    `INSERT INTO combined_events (name, definition, saved_ms) VALUES (?, ?, ?)
     ON CONFLICT (name) DO UPDATE SET definition = excluded.definition, saved_ms = excluded.saved_ms`,
  )
  const dropCombined = db.prepare('DELETE FROM combined_events WHERE name = ?')
  const putDerived = db.prepare(
    `INSERT INTO derived_properties (scope, name, definition, saved_ms) VALUES (?, ?, ?, ?)
     ON CONFLICT (scope, name) DO UPDATE SET definition = excluded.definition, saved_ms = excluded.saved_ms`,
  )
  const dropDerived = db.prepare('DELETE FROM derived_properties WHERE scope = ? AND name = ?')

  /** Each change is told to whoever reads the definitions. */
  function changing<A extends unknown[]>(change: (...args: A) => void): (...args: A) => void {
    return (...args) =>
      db
        .transaction(() => {
          change(...args)
          bumpDefinitions(db)
        })
        .immediate()
  }

  return {
    get(): Mending {
      return {
        mergedEvents: Object.fromEntries(mergedTypes.all().map((row) => [row.name, row.merged_into])),
        mergedProperties: mergedProperties
          .all()
          .map((row) => ({ of: row.scope, from: row.name, into: row.merged_into })),
        combined: combined.all().map((row) => combinedSchema.parse(JSON.parse(row.definition))),
        derived: derived.all().map((row) => derivedSchema.parse(JSON.parse(row.definition))),
      }
    },
    /** null takes the merging back. */
    mergeEvent: changing((from: string, into: string | null) => mergeType.run(into, from)),
    mergeProperty: changing((of: 'event' | 'person', from: string, into: string | null) =>
      mergeProperty.run(into, of, from),
    ),
    /** @param before the name it had, where it is renamed */
    saveCombined: changing((definition: Combined, nowMs: number, before?: string) => {
      if (before !== undefined && before !== definition.name) dropCombined.run(before)
      putCombined.run(definition.name, JSON.stringify(definition), nowMs)
    }),
    removeCombined: changing((name: string) => dropCombined.run(name)),
    saveDerived: changing((definition: Derived, nowMs: number, before?: { of: 'event' | 'person'; name: string }) => {
      if (before) dropDerived.run(before.of, before.name)
      putDerived.run(definition.of, definition.name, JSON.stringify(definition), nowMs)
    }),
    removeDerived: changing((of: 'event' | 'person', name: string) => dropDerived.run(of, name)),
  }
}
export type MendingStore = ReturnType<typeof mendingStore>
