import fc from 'fast-check'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { afterAll, expect, test } from 'vitest'
import { destinationSchema } from '../../../core/outreach/destination.js'
import { messageSchema } from '../../../core/outreach/message.js'
import { openDatabase } from '../../store/database.js'
import { destinationStore } from '../../store/destinations.js'
import { messageStore } from '../../store/messages.js'
import { enter, release } from './enter.js'
import { messageBox } from './send.js'

const dir = mkdtempSync(path.join(tmpdir(), 'dowser-messages-'))
afterAll(() => rmSync(dir, { recursive: true, force: true }))

const HOUR = 3_600_000
const MANY = 12
let files = 0

/** A workspace of people who each have one id, `p1` … */
function workspace() {
  const db = openDatabase(path.join(dir, `${files++}.db`))
  db.prepare(`INSERT INTO properties (id, scope, name) VALUES (1, 'person', 'opted_out')`).run()
  for (let person = 1; person <= MANY; person++) {
    db.prepare('INSERT INTO people (id, changed) VALUES (?, 1)').run(person)
    db.prepare(`INSERT INTO person_ids (id, space, value, person) VALUES (?, 'known', ?, ?)`).run(
      ...[person, `p${person}`, person],
    )
  }
  return db
}

const people = fc.uniqueArray(fc.integer({ min: 1, max: MANY }), { size: 'max', maxLength: MANY })
const step = fc.oneof(
  fc.record({ kind: fc.constant('look' as const), people }),
  fc.record({ kind: fc.constant('declines' as const), person: fc.integer({ min: 1, max: MANY }) }),
  fc.record({
    kind: fc.constant('merges' as const),
    of: fc.integer({ min: 1, max: MANY }),
    into: fc.integer({ min: 1, max: MANY }),
  }),
  fc.record({ kind: fc.constant('sends' as const), fails: fc.boolean() }),
)

test('whatever happens in whatever order, nobody who has opted out is sent to, and nobody is sent one message twice', () => {
  fc.assert(
    fc.property(fc.array(step, { size: 'max', maxLength: 24 }), fc.integer({ min: 0, max: 50 }), (steps, holdOut) => {
      const db = workspace()
      const setup = destinationSchema.parse({ kind: 'push' })
      const destination = destinationStore(db).create('Push', setup, null, 1)
      const definition = messageSchema.parse({
        ...{ name: 'Hello', segment: 's', destination, trigger: { kind: 'comes in' }, holdOut, wait: 1 },
        variants: [{ name: 'A', text: 'Hello' }],
        ...{ goal: { event: { activity: true } }, within: { count: 1, unit: 'day' } },
      })
      const messages = messageStore(db)
      const id = messages.create(definition, 1)
      messages.begin(id, 1, 1)
      const box = messageBox(db, { optOut: () => 'opted_out', zone: () => 'UTC', propertyOf: (field) => field })
      const ownerOf = new Map(Array.from({ length: MANY }, (_each, i) => [i + 1, i + 1]))
      const declined = new Set<number>()
      const taken = new Set<number>()
      let nowMs = 0
      for (const each of steps) {
        nowMs += HOUR
        if (each.kind === 'look') {
          const owners = Uint32Array.from(new Set(each.people.map((person) => ownerOf.get(person)!)))
          const look = { id, definition, lastDid: null, notAmong: new Uint32Array(0), shares: [1], dueMs: null }
          enter(db, { ...look, people: owners, zone: 'UTC', channel: 'push' }, 'opted_out', nowMs)
        } else if (each.kind === 'declines') {
          const owner = ownerOf.get(each.person)!
          declined.add(owner)
          db.prepare(
            `INSERT OR REPLACE INTO profile_values (person, property, value, written_ms) VALUES (?, 1, 'true', 1)`,
          ).run(owner)
        } else if (each.kind === 'merges') {
          const [from, into] = [ownerOf.get(each.of)!, ownerOf.get(each.into)!]
          if (from === into) continue
          db.prepare('UPDATE person_ids SET person = ? WHERE person = ?').run(into, from)
          for (const [person, owner] of ownerOf) if (owner === from) ownerOf.set(person, into)
          // Whoever declined before is one with the other by now, and so is their wish.
          if (declined.has(from)) {
            declined.add(into)
            db.prepare(
              `INSERT OR REPLACE INTO profile_values (person, property, value, written_ms) VALUES (?, 1, 'true', 1)`,
            ).run(into)
          }
        } else {
          release(db, { id, did: null, what: '' }, nowMs)
          const call = box.open(destination, new Set(), nowMs, 1e15)
          if (!call) continue
          const owners = call.deliveries.map(({ person }) => ownerOf.get(Number(person.slice(1)))!)
          expect(new Set(owners).size).toBe(owners.length)
          for (const owner of owners) {
            expect(declined).not.toContain(owner)
            for (const [other, own] of ownerOf) if (own === owner) expect(taken).not.toContain(other)
          }
          if (each.fails) {
            box.failed(call, 'it answered 503', 0, 1)
            continue
          }
          for (const { person } of call.deliveries) taken.add(Number(person.slice(1)))
          box.answered(
            call,
            call.deliveries.map(({ key }) => ({ key, taken: true as const })),
            0,
            1,
          )
        }
      }
      db.close()
    }),
    { numRuns: 40 },
  )
}, 60_000)
