import { kindOf, type Value } from '../../core/log/values.js'
import type { Db } from '../store/database.js'
import { NotFoundError } from '../store/errors.js'
import type { IncomingEvent } from './event.js'

/** Ids kept in memory at most; beyond it the file is asked again. */
const MOST_CACHED = 400_000

export type IdSpace = 'known' | 'anonymous'

/** One number for two row numbers: exact up to sixty million ids and more. */
const pairOf = (known: number, anonymous: number) => known * 134_217_728 + anonymous

/** What a person's ids wrote. */
const OWN = 'id IN (SELECT id FROM person_ids WHERE person = ?)'

/** When a profile was written: epoch ms, whether that is a time of its own, and its place among all that arrived. */
export interface ProfileWrite {
  ms: number
  timed: boolean
  arrival: number
}

/** Row numbers of the ids an event carries. */
export interface EventIds {
  knownRow: number | null
  anonymousRow: number | null
}

/**
 * Who is who. An event that carries a known and an anonymous id merges the two for good, unless somebody has taken that
 * pair apart. To be used inside a transaction, by one thread: ids are remembered between calls.
 */
export function identities(db: Db) {
  const findId = db.prepare<[string, string], { id: number; person: number }>(
    'SELECT id, person FROM person_ids WHERE space = ? AND value = ?',
  )
  const personOfId = db.prepare<[number], { person: number }>('SELECT person FROM person_ids WHERE id = ?')
  const idsOf = db.prepare<[number], { id: number }>('SELECT id FROM person_ids WHERE person = ? ORDER BY id')
  const insertId = db.prepare('INSERT INTO person_ids (space, value, person) VALUES (?, ?, ?)')
  const insertPerson = db.prepare('INSERT INTO people (changed) VALUES (?)')
  const touchPerson = db.prepare('UPDATE people SET changed = ? WHERE id = ?')
  const moveIds = db.prepare('UPDATE person_ids SET person = ? WHERE person = ?')
  const moveId = db.prepare('UPDATE person_ids SET person = ? WHERE id = ?')
  const mergePerson = db.prepare('UPDATE people SET merged_into = ?, changed = ? WHERE id = ?')
  const moveMerged = db.prepare('UPDATE people SET merged_into = ? WHERE merged_into = ?')
  const addLink = db.prepare('INSERT INTO id_links (known, anonymous) VALUES (?, ?) ON CONFLICT DO NOTHING')
  const linkCut = db.prepare<[number, number], { cut: number }>(
    'SELECT cut FROM id_links WHERE known = ? AND anonymous = ?',
  )
  const linksOf = db.prepare<[number, number], { known: number; anonymous: number; cut: number }>(
    'SELECT known, anonymous, cut FROM id_links WHERE known = ? UNION SELECT known, anonymous, cut FROM id_links WHERE anonymous = ?',
  )
  const dropLink = db.prepare('DELETE FROM id_links WHERE known = ? AND anonymous = ?')
  const setCut = db.prepare('UPDATE id_links SET cut = ? WHERE known = ? AND anonymous = ?')
  const noteSplit = db.prepare('INSERT INTO split_people (person) VALUES (?)')
  const dropProfile = db.prepare('DELETE FROM profile_values WHERE person = ?')
  const hasHistory = db.prepare<[number], unknown>(`SELECT 1 FROM profile_history WHERE ${OWN} LIMIT 1`)
  const profileFromHistory = db.prepare(
    `INSERT INTO profile_values (person, property, value, dated, written_ms)
     SELECT person, property, value, dated, written_ms FROM (
       SELECT ? AS person, property, value, dated, written_ms,
         ROW_NUMBER() OVER (PARTITION BY property ORDER BY written_ms DESC, arrival DESC) AS place
       FROM profile_history WHERE ${OWN})
     WHERE place = 1 AND value IS NOT NULL`,
  )
  const putHistory = db.prepare(
    `INSERT INTO profile_history (id, property, written_ms, arrival, value, dated, timed) VALUES (?, ?, ?, ?, ?, ?, ?)
     ON CONFLICT (id, property, written_ms) DO UPDATE SET
       arrival = excluded.arrival, value = excluded.value, dated = excluded.dated, timed = MAX(timed, excluded.timed)`,
  )
  const laterWrite = db.prepare<[number, number, number], unknown>(
    `SELECT 1 FROM profile_history WHERE ${OWN} AND property = ? AND written_ms > ? LIMIT 1`,
  )
  const putProfile = db.prepare(
    `INSERT INTO profile_values (person, property, value, dated, written_ms) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (person, property) DO UPDATE SET
       value = excluded.value, dated = excluded.dated, written_ms = excluded.written_ms`,
  )
  const dropValue = db.prepare('DELETE FROM profile_values WHERE person = ? AND property = ?')

  const known = new Map<string, number>()
  const anonymous = new Map<string, number>()
  /** pairs of ids about which nothing is left to do */
  const joined = new Set<number>()

  function idRow(space: IdSpace, value: string, changed: number, person?: number): number {
    const cache = space === 'known' ? known : anonymous
    const cached = cache.get(value)
    if (cached !== undefined) return cached
    if (cache.size >= MOST_CACHED) cache.clear()
    let id = findId.get(space, value)?.id
    if (id === undefined) {
      const owner = person ?? Number(insertPerson.run(changed).lastInsertRowid)
      if (person !== undefined) touchPerson.run(changed, person)
      id = Number(insertId.run(space, value, owner).lastInsertRowid)
    }
    cache.set(value, id)
    return id
  }

  const personOf = (id: number): number => personOfId.get(id)!.person

  /** Makes two people one: the older number stays. Their profiles are put in one order. */
  function merge(a: number, b: number, changed: number): void {
    if (a === b) return
    const stays = Math.min(a, b)
    const goes = Math.max(a, b)
    const withProfile = hasHistory.get(goes) !== undefined
    moveIds.run(stays, goes)
    dropProfile.run(goes)
    if (withProfile) rebuildProfile(stays)
    moveMerged.run(stays, goes)
    mergePerson.run(stays, changed, goes)
    touchPerson.run(changed, stays)
  }

  /** Two ids are one person from here on, unless somebody has taken the pair apart. */
  function seenTogether(knownRow: number, anonymousRow: number, changed: number): void {
    addLink.run(knownRow, anonymousRow)
    if (linkCut.get(knownRow, anonymousRow)!.cut === 0) merge(personOf(knownRow), personOf(anonymousRow), changed)
  }

  /** What hangs together among some ids by the links that are not cut. */
  function groupsOf(ids: readonly number[]): number[][] {
    const left = new Set(ids)
    const groups: number[][] = []
    for (const start of ids) {
      if (!left.delete(start)) continue
      const group = [start]
      for (const at of group)
        for (const { known: k, anonymous: a, cut } of linksOf.all(at, at)) {
          const other = k === at ? a : k
          if (cut === 0 && left.delete(other)) group.push(other)
        }
      groups.push(group)
    }
    return groups
  }

  function rebuildProfile(person: number): void {
    dropProfile.run(person)
    profileFromHistory.run(person, person)
  }

  /**
   * What no longer hangs together becomes people of its own.
   * @param stays keeps the person's number
   */
  function split(person: number, groups: readonly number[][], stays: readonly number[], changed: number): void {
    for (const group of groups) {
      if (group === stays) continue
      const fresh = Number(insertPerson.run(changed).lastInsertRowid)
      for (const each of group) moveId.run(fresh, each)
      rebuildProfile(fresh)
    }
    rebuildProfile(person)
    touchPerson.run(changed, person)
    noteSplit.run(person)
  }

  return {
    /** After a transaction that failed, the caches may name rows that were rolled back. */
    forget(): void {
      for (const cache of [known, anonymous, joined]) cache.clear()
    },
    idRow,
    personOf,

    /** The rows of an event's ids where all is known of them already, so that writing the event changes nothing else. */
    knownIds(event: IncomingEvent): EventIds | null {
      const knownRow = event.known === null ? null : known.get(event.known)
      const anonymousRow = event.anonymous === null ? null : anonymous.get(event.anonymous)
      if (knownRow === undefined || anonymousRow === undefined) return null
      if (knownRow !== null && anonymousRow !== null && !joined.has(pairOf(knownRow, anonymousRow))) return null
      return { knownRow, anonymousRow }
    },

    /** The rows of an event's ids, made and merged as need be. */
    joinIds(event: IncomingEvent, changed: number): EventIds {
      if (event.known === null) return { knownRow: null, anonymousRow: idRow('anonymous', event.anonymous!, changed) }
      const knownRow = idRow('known', event.known, changed)
      if (event.anonymous === null) return { knownRow, anonymousRow: null }
      // A new anonymous id goes straight to the known person.
      const fresh = !anonymous.has(event.anonymous) && !findId.get('anonymous', event.anonymous)
      const anonymousRow = idRow('anonymous', event.anonymous, changed, fresh ? personOf(knownRow) : undefined)
      const pair = pairOf(knownRow, anonymousRow)
      if (!joined.has(pair)) {
        seenTogether(knownRow, anonymousRow, changed)
        if (joined.size >= MOST_CACHED) joined.clear()
        joined.add(pair)
      }
      return { knownRow, anonymousRow }
    },

    /**
     * Writes one profile value for a known id, to hold from a moment on; null takes it away from the whole person.
     * @param timed whether the write carried that moment itself, rather than being received then
     */
    writeProfile(id: number, property: number, value: Value | null, { ms, timed, arrival }: ProfileWrite): void {
      const person = personOf(id)
      const text = value === null ? null : JSON.stringify(value)
      const dated = value === null ? null : kindOf(value) === 'date' ? 1 : 0
      putHistory.run(id, property, ms, arrival, text, dated, timed ? 1 : 0)
      if (laterWrite.get(person, property, ms) !== undefined) return
      if (text === null) dropValue.run(person, property)
      else putProfile.run(person, property, text, dated, ms)
    },
    touch(id: number, changed: number): void {
      touchPerson.run(changed, personOf(id))
    },

    /**
     * Takes an id out of its person: its links are cut, for events to come as well. What no longer hangs together
     * becomes people of its own; the largest part that is left keeps the person's number. Each part's profile is what
     * its own ids wrote.
     * @returns the person that the id is now; null where the id is all there is of its person
     */
    unmerge(id: number, changed: number): number | null {
      const row = personOfId.get(id)
      if (!row) throw new NotFoundError('id', String(id))
      const { person } = row
      const ids = idsOf.all(person).map((each) => each.id)
      if (ids.length < 2) return null
      for (const link of linksOf.all(id, id)) setCut.run(1, link.known, link.anonymous)
      joined.clear()
      const groups = groupsOf(ids)
      const [largest] = groups.filter((group) => !group.includes(id)).sort((a, b) => b.length - a.length)
      split(person, groups, largest!, changed)
      return personOf(id)
    },

    /** Whether two ids are one person's because they were seen together. */
    isLinked: (known: number, anonymous: number): boolean => linkCut.get(known, anonymous)?.cut === 0,

    /** Forgets that two ids were seen together: no event says so any more. */
    loosen(known: number, anonymous: number, changed: number): void {
      dropLink.run(known, anonymous)
      joined.clear()
      const person = personOf(known)
      const groups = groupsOf(idsOf.all(person).map((each) => each.id))
      if (groups.length > 1)
        split(
          person,
          groups,
          groups.find((group) => group.includes(known))!,
          changed,
        )
    },

    /** Two ids are seen together again. */
    tie(known: number, anonymous: number, changed: number): void {
      joined.clear()
      seenTogether(known, anonymous, changed)
    },

    /** Puts a person's profile together anew from what was written. */
    profileAnew(person: number, changed: number): void {
      rebuildProfile(person)
      touchPerson.run(changed, person)
    },

    /** Takes an unmerging back: the id is again one with all it was seen together with. */
    remerge(id: number, changed: number): number {
      if (!personOfId.get(id)) throw new NotFoundError('id', String(id))
      for (const link of linksOf.all(id, id)) {
        setCut.run(0, link.known, link.anonymous)
        merge(personOf(link.known), personOf(link.anonymous), changed)
      }
      joined.clear()
      return personOf(id)
    },
  }
}
