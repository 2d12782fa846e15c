import type { Value } from '../../core/log/values.js'
import type { Db } from './database.js'

export interface PersonProfile {
  person: number
  /** a known id if there is one, else an anonymous one */
  id: string
  anonymous: boolean
  profile: Record<string, Value>
}

export function peopleStore(db: Db) {
  const ids = db.prepare<[number], { space: 'known' | 'anonymous'; value: string }>(
    `SELECT space, value FROM person_ids WHERE person = ? ORDER BY space DESC, id LIMIT 1`,
  )
  const profile = db.prepare<[number], { name: string; value: string }>(
    `SELECT p.name, v.value FROM profile_values v JOIN properties p ON p.id = v.property
     WHERE v.person = ? ORDER BY p.id`,
  )
  const matching = db.prepare<{ text: string; limit: number }, { person: number }>(
    `SELECT person FROM person_ids WHERE instr(lower(value), lower(@text)) > 0
     ORDER BY lower(value) = lower(@text) DESC, instr(lower(value), lower(@text)), value LIMIT @limit`,
  )
  const names = db.prepare<[], { name: string }>(`SELECT name FROM properties WHERE scope = 'person' ORDER BY id`)
  return {
    describe(person: number): PersonProfile {
      const id = ids.get(person)
      const values = profile.all(person).map((row) => [row.name, JSON.parse(row.value) as Value] as const)
      return {
        person,
        id: id?.value ?? String(person),
        anonymous: id?.space === 'anonymous',
        profile: Object.fromEntries(values),
      }
    },
    /** The people, each once, one of whose ids holds the text; ids that begin with it first. */
    find: (text: string, limit: number): number[] =>
      [...new Set(matching.all({ text, limit: limit * 4 }).map((row) => row.person))].slice(0, limit),
    /** names of all profile properties, in order of first sight */
    propertyNames: (): string[] => names.all().map((row) => row.name),
  }
}
