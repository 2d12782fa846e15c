import { z } from 'zod'
import type { Value } from '../../core/log/values.js'
import { contentId } from '../ids.js'
import { LIMITS } from './limits.js'

/** An event that has passed every check. */
export interface IncomingEvent {
  id: string
  known: string | null
  anonymous: string | null
  event: string
  timeMs: number
  source: string | null
  properties: Record<string, Value>
}

export interface IncomingPerson {
  known: string
  /** null takes a property away */
  properties: Record<string, Value | null>
  /** epoch ms from which they hold */
  writtenMs: number
  /** whether that was said with them, rather than being the time of receipt */
  timed?: boolean
}

/** Why a line was not taken, in words. */
export interface Refusal {
  reason: string
  /** what is right but for a clock that is ahead: the time it says is the one it was sent with */
  ahead?: IncomingEvent
}

const value = z.union([z.string(), z.number(), z.boolean(), z.array(z.string()), z.null()])

/** The event as programs send it. The fast check below takes and refuses the same; the schema is the API's contract. */
export const eventSchema = z
  .strictObject({
    id: z.union([z.string().min(1).max(LIMITS.idChars), z.int()]).optional(),
    person: z.union([z.string().min(1).max(LIMITS.idChars), z.int()]).optional(),
    anonymous: z.union([z.string().min(1).max(LIMITS.idChars), z.int()]).optional(),
    event: z.string().min(1).max(LIMITS.nameChars),
    time: z.union([z.string(), z.number()]).optional(),
    source: z.string().max(LIMITS.nameChars).optional(),
    properties: z.record(z.string().min(1).max(LIMITS.nameChars), value).optional(),
    test: z.boolean().optional(),
  })
  .meta({
    id: 'Event',
    description:
      'One event. `person` or `anonymous` must be there; an event with both merges the two ids for good. `time` is ISO 8601 or epoch milliseconds; left out, it is the time of receipt. `id` makes sending again harmless; left out, it is derived from the content. With `test` it is checked and shown on the page Live, and counted nowhere.',
  })

export const personSchema = z
  .strictObject({
    person: z.union([z.string().min(1).max(LIMITS.idChars), z.int()]),
    time: z.union([z.string(), z.number()]).optional(),
    properties: z.record(z.string().min(1).max(LIMITS.nameChars), value),
  })
  .meta({
    id: 'Person',
    description:
      'Profile properties of one person. `time` is when they came to hold, ISO 8601 or epoch milliseconds: before it, what was written earlier holds, or no value. Left out, they hold from receipt on, and a first value as if it had always been so. null takes a property away.',
  })

const EVENT_FIELDS = new Set(['id', 'person', 'anonymous', 'event', 'time', 'source', 'properties', 'test'])
const PERSON_FIELDS = new Set(['person', 'time', 'properties'])

class Refused extends Error {}

/**
 * Checks one event.
 * @param content gives the text it was sent as, from which an event without an id gets one
 * @param receivedMs stands in for a missing time, and tells what lies in the future
 * @param earliestMs epoch ms of the first moment that is taken
 */
export function readEvent(
  input: unknown,
  content: () => string,
  receivedMs: number,
  earliestMs: number = LIMITS.earliestMs,
): IncomingEvent | Refusal {
  return refusing(() => {
    const fields = objectOf(input, EVENT_FIELDS, 'event')
    const known = idOf(fields.person, 'person')
    const anonymous = idOf(fields.anonymous, 'anonymous')
    if (known === null && anonymous === null) throw new Refused('neither "person" nor "anonymous" says who did it')
    const { event, source } = fields
    if (typeof event !== 'string' || event.trim() === '') throw new Refused('"event", the event’s name, is missing')
    if (event.length > LIMITS.nameChars)
      throw new Refused(`the event’s name has ${event.length} characters, at most ${LIMITS.nameChars} are taken`)
    if (source !== undefined && source !== null && (typeof source !== 'string' || source.length > LIMITS.nameChars))
      throw new Refused(`"source" must be a text of at most ${LIMITS.nameChars} characters`)
    const read: IncomingEvent = {
      id: idOf(fields.id, 'id') ?? contentId(content()),
      known,
      anonymous,
      event,
      timeMs: timeOf(fields.time, receivedMs, earliestMs),
      source: (source as string | null | undefined) || null,
      properties: propertiesOf(fields.properties, false) as Record<string, Value>,
    }
    if (read.timeMs <= receivedMs + LIMITS.aheadMs) return read
    return { reason: `the time ${isoOf(read.timeMs)} lies more than a day in the future`, ahead: read }
  })
}

/** Checks one person's profile properties. */
export function readPerson(input: unknown, receivedMs: number): IncomingPerson | Refusal {
  return refusing(() => {
    const fields = objectOf(input, PERSON_FIELDS, 'person')
    const known = idOf(fields.person, 'person')
    if (known === null) throw new Refused('"person", the person’s id, is missing')
    if (fields.properties === undefined) throw new Refused('"properties" is missing')
    const timed = fields.time !== undefined && fields.time !== null && fields.time !== ''
    const writtenMs = timeOf(fields.time, receivedMs)
    if (writtenMs > receivedMs + LIMITS.aheadMs)
      throw new Refused(`the time ${isoOf(writtenMs)} lies more than a day in the future`)
    return { known, properties: propertiesOf(fields.properties, true), writtenMs, timed }
  })
}

function refusing<T>(read: () => T): T | Refusal {
  try {
    return read()
  } catch (error) {
    if (error instanceof Refused) return { reason: error.message }
    throw error
  }
}

function objectOf(input: unknown, fields: ReadonlySet<string>, what: string): Record<string, unknown> {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    throw new Refused(`not a JSON object: ${what}s look like {"person": "…", …}`)
  for (const key in input)
    if (!fields.has(key)) throw new Refused(`the field "${short(key)}" is not known; put it inside "properties"`)
  return input as Record<string, unknown>
}

function idOf(input: unknown, field: string): string | null {
  if (input === undefined || input === null || input === '') return null
  const text = typeof input === 'number' && Number.isSafeInteger(input) ? String(input) : input
  if (typeof text !== 'string') throw new Refused(`"${field}" must be a text or a whole number`)
  if (text.length > LIMITS.idChars)
    throw new Refused(`"${field}" has ${text.length} characters, at most ${LIMITS.idChars} are taken`)
  return text
}

const SINCE_2000 = Date.UTC(2000, 0, 1)
const ISO = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d{1,9})?)?)(Z|[+-]\d{2}:?\d{2})?)?$/

/** Reads a time: epoch ms, or ISO 8601; without an offset it is UTC. Anything finer than a millisecond is cut off. */
export function timeOf(input: unknown, receivedMs: number, earliestMs: number = LIMITS.earliestMs): number {
  if (input === undefined || input === null || input === '') return receivedMs
  const ms = typeof input === 'number' ? Math.floor(input) : typeof input === 'string' ? parseIso(input) : NaN
  if (!(Math.abs(ms) <= LIMITS.latestMs))
    throw new Refused(
      `the time "${short(textOf(input))}" cannot be read: use 2026-10-08T07:12:03Z or epoch milliseconds`,
    )
  // A number that would be a time of our days as seconds is hardly one of January 1970.
  if (typeof input === 'number' && ms * 1000 >= SINCE_2000 && ms * 1000 <= receivedMs + LIMITS.aheadMs)
    throw new Refused(`the time ${ms} would be ${isoOf(ms)}: are these seconds? Milliseconds are expected`)
  if (ms < earliestMs)
    throw new Refused(
      `the time ${isoOf(ms)} lies before ${isoOf(earliestMs).slice(0, 10)}, the oldest that this workspace takes`,
    )
  return ms
}

function isoOf(ms: number): string {
  return new Date(ms).toISOString()
}

/** What was sent, for whoever has to find it: an object has no text that can be relied on. */
function textOf(input: unknown): string {
  return typeof input === 'object' ? (JSON.stringify(input) ?? '') : String(input)
}

function parseIso(text: string): number {
  const match = ISO.exec(text.trim())
  if (!match) return NaN
  const [, day, time = '00:00', offset = 'Z'] = match
  // Date.parse would carry 31 February over into March.
  const start = Date.parse(`${day}T00:00:00Z`)
  if (Number.isNaN(start) || new Date(start).toISOString().slice(0, 10) !== day) return NaN
  const millis = time.replace(/(\.\d{3})\d+$/, '$1')
  return Date.parse(`${day}T${millis}${offset}`)
}

/**
 * Checks properties in place: the object was parsed for this event alone.
 * @param keepNull for profiles, where null takes a property away; from an event, what is null is dropped
 */
function propertiesOf(input: unknown, keepNull: boolean): Record<string, Value | null> {
  if (input === undefined || input === null) return {}
  if (typeof input !== 'object' || Array.isArray(input))
    throw new Refused('"properties" must be an object of names and values')
  const properties = input as Record<string, unknown>
  let count = 0
  for (const name in properties) {
    if (++count > LIMITS.properties)
      throw new Refused(`${Object.keys(input).length} properties, at most ${LIMITS.properties} are taken`)
    if (name === '') throw new Refused('a property has an empty name')
    if (name.length > LIMITS.nameChars)
      throw new Refused(`a property’s name has ${name.length} characters, at most ${LIMITS.nameChars} are taken`)
    const value = properties[name]
    if (value !== null) checkValue(name, value)
    else if (!keepNull) delete properties[name]
  }
  return properties as Record<string, Value | null>
}

function checkValue(name: string, value: unknown): void {
  switch (typeof value) {
    case 'boolean':
      return
    case 'number':
      if (!Number.isFinite(value)) throw new Refused(`property "${short(name)}" is not a finite number`)
      return
    case 'string':
      tooLong(name, value)
      return
    default:
      if (Array.isArray(value) && value.every((element) => typeof element === 'string')) {
        tooLong(name, value.join(''))
        return
      }
      throw new Refused(
        Array.isArray(value)
          ? `property "${short(name)}" is a list of something other than texts`
          : `property "${short(name)}" is an object: send its parts as properties of their own`,
      )
  }
}

function tooLong(name: string, text: string): void {
  // Three bytes a character at most, so short texts need no counting.
  if (text.length * 3 <= LIMITS.valueBytes) return
  const bytes = Buffer.byteLength(text)
  if (bytes > LIMITS.valueBytes)
    throw new Refused(`property "${short(name)}" has ${bytes} bytes, at most ${LIMITS.valueBytes} are taken`)
}

function short(text: string): string {
  return text.length > 60 ? `${text.slice(0, 60)}…` : text
}
