import type { Value } from '../../core/log/values.js'
import type { Db } from './database.js'

export interface PersonProfile {
  person: number
  /** a known id if there is one, else an anonymous one */
  id: string
  anonymous: boolean
  profile: Record<string, Value>
}

/** From when a person had what: epoch ms, null = from the first; the newest first. */
export interface ProfileHistory {
  name: string
  held: { sinceMs: number | null; value: Value | null }[]
}

export function peopleStore(db: Db) {
  const ids = db.prepare<[number], { space: 'known' | 'anonymous'; value: string }>(
    `SELECT space, value FROM person_ids WHERE person = ? ORDER BY space DESC, id LIMIT 1`,
  )
  const profile = db.prepare<[number], { name: string; value: string }>(
    `SELECT p.name, v.value FROM profile_values v JOIN properties p ON p.id = v.property
     WHERE v.person = ? ORDER BY p.id`,
  )
  const history = db.prepare<[number], { name: string; value: string | null; at: number; timed: number }>(
    `SELECT p.name, h.value, h.written_ms AS at, h.timed FROM profile_history h JOIN properties p ON p.id = h.property
     WHERE h.id IN (SELECT id FROM person_ids WHERE person = ?) ORDER BY p.id, h.written_ms, h.arrival`,
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
    /** What of a person's profile has changed, or is known to hold from a moment on only. */
    history(person: number): ProfileHistory[] {
      const found = new Map<string, { sinceMs: number | null; text: string | null }[]>()
      for (const { name, value, at, timed } of history.all(person)) {
        let held = found.get(name)
        if (!held) found.set(name, (held = []))
        if (held.at(-1)?.text === value && held.length > 0) continue
        held.push({ sinceMs: held.length === 0 && timed === 0 ? null : at, text: value })
      }
      return [...found].flatMap(([name, held]) =>
        held.length === 1 && held[0]!.sinceMs === null
          ? []
          : {
              name,
              held: held
                .reverse()
                .map(({ sinceMs, text }) => ({ sinceMs, value: text === null ? null : (JSON.parse(text) as Value) })),
            },
      )
    },
    /** The people, each once, one of whose ids holds the text; ids that begin with it first. */
    find: (text: string, limit: number): number[] =>
      [...new Set(matching.all({ text, limit: limit * 4 }).map((row) => row.person))].slice(0, limit),
    /** names of all profile properties, in order of first sight */
    propertyNames: (): string[] => names.all().map((row) => row.name),
  }
}
