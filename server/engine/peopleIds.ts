import { sharedUint8 } from '../../core/log/log.js'
import { packingIds, type PersonIds } from '../../core/log/personIds.js'
import type { Schema } from '../../core/log/schema.js'
import { STEP, type Steps } from '../../core/steps.js'
import type { Db } from '../store/database.js'

/** Rows that are read at once. */
const PAGE = 4096

/**
 * What people are called: by a known id if there is one, else by an anonymous one; of several by the one that came first.
 * @param personOf who an id belongs to, by its row number; 0 = nobody in this state
 */
export function* readIds(db: Db, people: number, personOf: (id: number) => number): Steps<PersonIds> {
  const page = db.prepare<[number, number], { id: number; space: string; value: string }>(
    'SELECT id, space, value FROM person_ids WHERE id > ? ORDER BY id LIMIT ?',
  )
  const known = new Array<string | undefined>(people)
  const anonymous = new Array<string | undefined>(people)
  for (let last = 0; ;) {
    const rows = page.all(last, PAGE)
    if (rows.length === 0) break
    for (const { id, space, value } of rows) {
      const person = personOf(id)
      if (person === 0 || person >= people) continue
      if (space === 'known') known[person] ??= value
      else anonymous[person] ??= value
    }
    last = rows.at(-1)!.id
    yield
  }
  for (let person = 0; person < people; person++) {
    known[person] ??= anonymous[person]
    if (person % STEP === 0) yield
  }
  return yield* packingIds(known)
}

interface WriteRow {
  id: number
  name: string
  at: number
  timed: number
}

/** Whose first value of a profile property came after a moment without a time of its own: by code, then by person, 1 = it did. */
export function* readLate(
  db: Db,
  { people, schema, after }: { people: number; schema: Schema; after: number },
  personOf: (id: number) => number,
): Steps<Map<number, Uint8Array>> {
  const page = db.prepare<[number, number], WriteRow>(
    `SELECT h.id, p.name, MIN(h.written_ms) AS at, h.timed FROM profile_history h JOIN properties p ON p.id = h.property
     WHERE h.id > ? AND h.id <= ? GROUP BY h.id, h.property`,
  )
  const last = db.prepare<[], { id: number | null }>('SELECT MAX(id) AS id FROM person_ids').get()!.id ?? 0
  // Of several ids of one person the earliest write of all is the first.
  const firsts = new Map<number, Float64Array>()
  const late = new Map<number, Uint8Array>()
  for (let from = 0; from < last; from += PAGE / 8) {
    for (const { id, name, at, timed } of page.all(from, from + PAGE / 8)) {
      const person = personOf(id)
      const code = schema.profileCode(name)
      if (person === 0 || person >= people || code === undefined) continue
      let first = firsts.get(code)
      if (!first) {
        firsts.set(code, (first = new Float64Array(people).fill(Infinity)))
        late.set(code, sharedUint8(people))
      }
      if (at >= first[person]!) continue
      first[person] = at
      late.get(code)![person] = timed === 0 && at > after ? 1 : 0
    }
    yield
  }
  return late
}
