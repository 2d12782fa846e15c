import type { Delivery, Outcome } from '../../../core/outreach/destination.js'
import { nextWithin } from '../../../core/outreach/hours.js'
import { fieldsIn, fillText, readText, type TextPart } from '../../../core/outreach/fields.js'
import type { Message } from '../../../core/outreach/message.js'
import { USUAL_REACTIONS } from '../../../core/outreach/simulated.js'
import { DAY_MS } from '../../../core/outreach/entering.js'
import { MOST_TRIES, waitMs } from '../../../core/outreach/sync.js'
import { limitMs } from '../../../core/questions/limits.js'
import type { Db } from '../../store/database.js'
import { destinationStore } from '../../store/destinations.js'
import { messageStore } from '../../store/messages.js'
import { CALL_PEOPLE, peopleReader } from '../decide.js'
import { MOST_CALLS, type Call } from '../sending.js'
import { zoneOf } from './enter.js'
import { ownEvents } from './ownEvents.js'

/** A call that carries messages. */
export interface MessageCall extends Call {
  /** by key */
  entries: Map<string, Ready>
  sentMs: number
}

interface Ready {
  seq: number
  message: string
  id: number
  entry: number
  at_ms: number
  variant: number
  tries: number
}

interface Around {
  optOut: () => string
  zone: () => string
  /** the profile property that a field in a text means */
  propertyOf: (field: string) => string
}

/** Texts of a variant, read once. */
interface Texts {
  title: TextPart[]
  text: TextPart[]
}

/** What is to be sent, and what became of it. A message is sent at least once, and taken once by whoever knows its key. */
export function messageBox(db: Db, { optOut, zone, propertyOf }: Around) {
  const messages = messageStore(db)
  const destinations = destinationStore(db)
  const own = ownEvents(db)
  const places = db
    .prepare<[number], string>(
      `SELECT DISTINCT m.destination FROM message_entries e JOIN messages m ON m.id = e.message
       WHERE e.state = 'ready' AND e.retry_ms <= ? AND m.state = 'running' AND m.deleted_ms IS NULL`,
    )
    .pluck()
  const ready = db.prepare<[string, number], Ready>(
    `SELECT e.seq, e.message, e.id, e.entry, e.at_ms, e.variant, e.tries
     FROM message_entries e JOIN messages m ON m.id = e.message
     WHERE m.destination = ? AND e.state = 'ready' AND e.retry_ms <= ? AND m.state = 'running' AND m.deleted_ms IS NULL
     ORDER BY e.message, e.seq LIMIT 2000`,
  )
  const nextRetry = db
    .prepare<[], number | null>(
      `SELECT MIN(e.retry_ms) FROM message_entries e JOIN messages m ON m.id = e.message
       WHERE e.state = 'ready' AND m.state = 'running' AND m.deleted_ms IS NULL`,
    )
    .pluck()
  const others = db
    // A person has a few ids: from them to their entries, not the other way round.
    .prepare<[number, string, number, number], number>(
      `SELECT COUNT(*) FROM person_ids i CROSS JOIN message_entries e ON e.id = i.id
       WHERE i.person = ? AND e.message = ? AND e.seq < ? AND e.state IN ('sent', 'ready', 'waiting') AND e.at_ms > ?`,
    )
    .pluck()
  const drop = db.prepare(`UPDATE message_entries SET state = 'dropped', why = ? WHERE seq = ?`)
  const later = db.prepare(`UPDATE message_entries SET state = 'waiting', due_ms = ? WHERE seq = ?`)
  const sent = db.prepare(
    `UPDATE message_entries SET state = 'sent', sent_ms = ?, why = NULL WHERE seq = ? AND state IN ('ready', 'dropped')`,
  )
  const retry = db.prepare(
    `UPDATE message_entries SET tries = tries + 1, retry_ms = ?, why = ? WHERE seq = ? AND state = 'ready'`,
  )

  /** Why somebody is not sent it any more; null = they are. */
  function hindrance(row: Ready, definition: Message, read: ReturnType<typeof peopleReader>): string | null {
    const person = read.ownerOf(row.id)
    if (person === undefined) return 'is not known any more'
    if (read.isOptedOut(person)) return 'opted out in between'
    const againMs = definition.again === undefined ? -Infinity : row.at_ms - definition.again * DAY_MS
    if (others.get(person, row.message, row.seq, againMs)! > 0) return 'is one with somebody who is sent it'
    return null
  }

  return {
    /** Destinations that something is to go to now. */
    places: (machineMs: number): string[] => places.all(machineMs),
    /** When something is tried again; null = nothing waits. */
    nextMs: (): number | null => nextRetry.get() ?? null,

    /**
     * The next call to a destination: of one message, its people read at this moment. What must not be sent, or not now,
     * is put away first.
     * @param nowMs of the workspace's clock
     */
    open(destination: string, underWay: ReadonlySet<number>, nowMs: number, machineMs: number): MessageCall | null {
      const rows = ready.all(destination, machineMs).filter(({ seq }) => !underWay.has(seq))
      const message = rows[0]?.message
      if (message === undefined) return null
      const { definition } = messages.get(message)
      const { setup } = destinations.get(destination)
      const model = ('people' in setup ? setup.people : undefined) ?? USUAL_REACTIONS
      const read = peopleReader(db, optOut())
      const texts: Texts[] = definition.variants.map(({ title, text }) => ({
        ...{ title: readText(title).parts, text: readText(text).parts },
      }))
      const fields = fieldsIn(definition.variants.flatMap(({ title, text }) => [title, text]))
      const properties = new Map(fields.map((field) => [field, propertyOf(field)]))
      const deliveries: Delivery[] = []
      const entries = new Map<string, Ready>()
      db.transaction(() => {
        for (const row of rows) {
          if (row.message !== message || deliveries.length === CALL_PEOPLE) break
          const why = hindrance(row, definition, read)
          if (why !== null) {
            drop.run(why, row.seq)
            continue
          }
          const person = read.ownerOf(row.id)!
          const { hours } = definition
          const fromMs = nextWithin(nowMs, hours, zoneOf(person, hours, read, zone()))
          if (fromMs > nowMs) {
            later.run(fromMs, row.seq)
            continue
          }
          const variant = definition.variants[row.variant]!
          const valueOf = (field: string) => read.text(person, properties.get(field) ?? field)
          const title = fillText(texts[row.variant]!.title, valueOf)
          const text = fillText(texts[row.variant]!.text, valueOf)
          const [missing] = [...title.missing, ...text.missing]
          if (missing !== undefined) {
            drop.run(`has no ${missing}`, row.seq)
            continue
          }
          const known = read.shown(person)!
          const key = keyOf(row)
          entries.set(key, row)
          const said = { title: title.text, text: text.text, link: variant.link, picture: variant.picture }
          deliveries.push({
            ...{ key, change: 'message', person: known.value },
            properties: Object.fromEntries(Object.entries(said).filter(([, value]) => value !== '')),
            simulated: {
              ...{ message: definition.name, variant: variant.name, entry: row.entry, place: row.variant },
              ...{ space: known.space, sentMs: nowMs, untilMs: row.at_ms + limitMs(definition.within) },
              ...{ goal: definition.goal, kind: model.by === '' ? null : read.text(person, model.by) },
            },
          })
        }
      }).immediate()
      if (deliveries.length === 0) return null
      const key = `${message}.${deliveries[0]!.key}.${deliveries.length}`
      return {
        ...{ id: 0, key, destination, sync: message, run: 0, deliveries, ids: new Map(), entries, sentMs: nowMs },
        tries: Math.max(...[...entries.values()].map(({ tries }) => tries)),
      }
    },

    /** The channel has answered: what it took is sent, and known. */
    answered(call: MessageCall, outcomes: readonly Outcome[], machineMs: number, tookMs: number): void {
      const { definition } = messages.get(call.sync)
      const { setup } = destinations.get(call.destination)
      const told = new Map(call.deliveries.map((delivery) => [delivery.key, delivery]))
      let refused: string | null = null
      db.transaction(() => {
        for (const outcome of outcomes) {
          const row = call.entries.get(outcome.key)
          const delivery = told.get(outcome.key)
          if (!row || !delivery) continue
          if (outcome.taken) {
            // It arrived, whatever became of the message in the meantime.
            if (sent.run(call.sentMs, row.seq).changes === 0) continue
            own.note('sent', {
              ...{ key: `sent.${outcome.key}`, atMs: call.sentMs, entry: row.entry, channel: setup.kind },
              person: { value: delivery.person, space: delivery.simulated!.space },
              ...{ message: definition.name, variant: definition.variants[row.variant]!.name },
            })
          } else {
            refused ??= outcome.reason
            if (row.tries + 1 >= MOST_TRIES) drop.run(outcome.reason, row.seq)
            else retry.run(machineMs + waitMs(row.tries + 1), outcome.reason, row.seq)
          }
        }
        note(call, machineMs, tookMs, refused === null ? null : `not all taken: ${String(refused)}`)
      }).immediate()
    },

    /** The call failed as a whole: nobody knows whether it was taken, so it is made again, under the same keys. */
    failed(call: MessageCall, why: string, machineMs: number, tookMs: number): void {
      db.transaction(() => {
        for (const row of call.entries.values())
          if (row.tries + 1 >= MOST_CALLS) drop.run(why, row.seq)
          else retry.run(machineMs + waitMs(row.tries + 1), why, row.seq)
        note(call, machineMs, tookMs, why)
      }).immediate()
    },
  }

  function note(call: MessageCall, atMs: number, tookMs: number, why: string | null): void {
    destinations.note(call.destination, { atMs, sync: call.sync, people: call.deliveries.length, tookMs, why })
  }
}

/** The same for every try, and for nobody else. */
const keyOf = ({ message, id, entry }: Ready) => `${message}.${id}.${entry}`
