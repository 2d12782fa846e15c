import type { ValueKind } from '../../core/log/values.js'
import { distinctLabels } from '../../core/words/labels.js'
import type { Labels } from '../../core/words/words.js'
import type { Db } from './database.js'
import { bumpDefinitions } from './definitions.js'
import { NotFoundError } from './errors.js'

export const states = ['live', 'deprecated', 'hidden'] as const
export type State = (typeof states)[number]

/** What people say of an event or property; what is left out stays as it is. */
export interface Said {
  description?: string
  display?: string
  /** what it is called otherwise, with commas between */
  synonyms?: string
  owner?: string
  state?: State
  /** events only: does not count as being active */
  passive?: boolean
}

export type Scope = 'event' | 'person'

export interface EventTypeRow {
  id: number
  name: string
  description: string
  display: string
  synonyms: string
  owner: string
  state: State
  passive: number
  planned: number
  policy: string | null
  merged_into: string | null
}

export interface PropertyRow {
  id: number
  scope: Scope
  name: string
  description: string
  display: string
  synonyms: string
  owner: string
  state: State
  merged_into: string | null
  texts: number
  numbers: number
  booleans: number
  dates: number
  lists: number
}

const valuesOf = ({ texts, numbers, booleans, dates, lists }: PropertyRow) => texts + numbers + booleans + dates + lists
/** The commonest first. */
const byCount = (rows: readonly PropertyRow[]) => [...rows].sort((a, b) => valuesOf(b) - valuesOf(a))

/** The kinds of value that a property was seen with. */
export function seenKinds(db: Db, scope: Scope, name: string): ReadonlySet<ValueKind> {
  const row = db
    .prepare<[string, string], Pick<PropertyRow, 'texts' | 'numbers' | 'booleans' | 'dates' | 'lists'>>(
      'SELECT texts, numbers, booleans, dates, lists FROM properties WHERE scope = ? AND name = ?',
    )
    .get(scope, name)
  const kinds: [ValueKind, number | undefined][] = [
    ['text', row?.texts],
    ['number', row?.numbers],
    ['boolean', row?.booleans],
    ['date', row?.dates],
    ['list', row?.lists],
  ]
  return new Set(kinds.flatMap(([kind, many]) => (many ? [kind] : [])))
}

/** Names and what is said of them. How much arrived is counted from the events themselves. */
export function catalogStore(db: Db) {
  const types = db.prepare<[], EventTypeRow>(
    `SELECT id, name, description, display, synonyms, owner, state, passive, planned, policy, merged_into
     FROM event_types ORDER BY name`,
  )
  const properties = db.prepare<[], PropertyRow>('SELECT * FROM properties ORDER BY name')
  const type = db.prepare<[string], EventTypeRow>('SELECT * FROM event_types WHERE name = ?')
  const property = db.prepare<[Scope, string], PropertyRow>('SELECT * FROM properties WHERE scope = ? AND name = ?')
  const setType = db.prepare(
    `UPDATE event_types SET description = ?, display = ?, synonyms = ?, owner = ?, state = ?, deprecated = ?, passive = ?
     WHERE name = ?`,
  )
  const setProperty = db.prepare(
    'UPDATE properties SET description = ?, display = ?, synonyms = ?, owner = ?, state = ? WHERE scope = ? AND name = ?',
  )

  return {
    types: () => types.all(),
    properties: () => properties.all(),
    /** What everything is called in sentences. @param made what is made in the workspace beside what arrives */
    labels(made: { combined: readonly { name: string }[]; derived: readonly { of: Scope; name: string }[] }): Labels {
      return distinctLabels(
        [...types.all(), ...made.combined.map(({ name }) => ({ name, display: '' }))],
        [
          ...byCount(properties.all()).map(({ scope, name, display }) => ({ of: scope, name, display })),
          ...made.derived.map(({ of, name }) => ({ of, name, display: '' })),
        ],
      )
    },
    /** @throws NotFoundError */
    describeEvents(names: readonly string[], said: Said): void {
      db.transaction(() => {
        for (const name of names) {
          const row = type.get(name)
          if (!row) throw new NotFoundError('event', name)
          const { description, display, synonyms, owner, state, passive } = { ...row, ...said }
          setType.run(
            description,
            display,
            synonyms,
            owner,
            state,
            state === 'deprecated' ? 1 : 0,
            passive ? 1 : 0,
            name,
          )
        }
        bumpDefinitions(db)
      }).immediate()
    },
    /** @throws NotFoundError */
    describeProperties(of: Scope, names: readonly string[], said: Said): void {
      db.transaction(() => {
        for (const name of names) {
          const row = property.get(of, name)
          if (!row) throw new NotFoundError('property', name)
          const { description, display, synonyms, owner, state } = { ...row, ...said }
          setProperty.run(description, display, synonyms, owner, state, of, name)
        }
        bumpDefinitions(db)
      }).immediate()
    },
  }
}
