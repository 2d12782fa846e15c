import { MessageChannel, receiveMessageOnPort, type MessagePort } from 'node:worker_threads'
import type { Dictionary } from '../../core/log/dictionary.js'
import type { EventBlock } from '../../core/log/log.js'
import { LogSchema, type Schema } from '../../core/log/schema.js'
import type { ProfileColumns } from '../../core/log/profiles.js'
import type { Steps } from '../../core/steps.js'

/** All that a keeper knows but what values mean, at one moment. */
export interface KeptState {
  layers: { block: EventBlock; hidden: Uint8Array | null }[]
  owner: Uint32Array<ArrayBuffer>
  mergedInto: Map<number, number>
  profiles: ProfileColumns[]
  people: number
  lastSeq: number
  lastChange: number
  lastSplit: number
  lastEventChange: number
  oldestMs: number
  newestMs: number
}

type Names = { name: string; dated: boolean; changing: boolean }[]
type Message =
  | { kind: 'state'; state: KeptState; types: Schema['types']; properties: Names; profile: Names }
  | { kind: 'values'; of: 'properties' | 'profile' | 'sources'; at: number; values: unknown[] }
  | { kind: 'end' }

/** So many values make one message: writing them out takes some milliseconds. */
const VALUES = 5000

/**
 * Writes down a keeper's state for whoever comes after it, in case its thread dies: reading all events again would take
 * many times as long. The blocks are shared memory and are not copied. Nobody reads the port before that: what waits in
 * it costs no thread anything.
 * @returns the port that the next one reads it from
 */
export function* handOver(state: KeptState, schema: Schema): Steps<MessagePort> {
  const { port1, port2 } = new MessageChannel()
  const send = (message: Message) => port1.postMessage(message)
  const names = (list: Schema['properties']): Names =>
    list.map(({ name, dated, changing }) => ({ name, dated, changing }))
  const dictionaries = [
    ...schema.properties.map(({ dictionary }, at) => ({ of: 'properties' as const, at, dictionary })),
    ...schema.profile.map(({ dictionary }, at) => ({ of: 'profile' as const, at, dictionary })),
    { of: 'sources' as const, at: 0, dictionary: schema.sources },
  ]
  const { types } = schema
  send({ kind: 'state', state, types, properties: names(schema.properties), profile: names(schema.profile) })
  yield
  for (const { of, at, dictionary } of dictionaries)
    for (let from = 1; from < dictionary.size; from += VALUES) {
      send({ kind: 'values', of, at, values: dictionary.values.slice(from, from + VALUES) })
      yield
    }
  send({ kind: 'end' })
  // What has been sent stays until it is read, also when the sender's end is gone.
  port1.unref()
  return port2
}

/** Reads what was handed over; null where it is not whole. */
export function takeOver(port: MessagePort): { state: KeptState; schema: LogSchema } | null {
  let found: { state: KeptState; schema: LogSchema } | null = null
  for (;;) {
    const message = (receiveMessageOnPort(port) as { message: Message } | undefined)?.message
    if (!message) return null
    switch (message.kind) {
      case 'state':
        found = { state: message.state, schema: schemaOf(message) }
        break
      case 'values': {
        const { of, at, values } = message
        const { schema } = found!
        const dictionary = of === 'sources' ? schema.sources : schema[of][at]!.dictionary
        // Codes are given in order of first sight: the same order gives the same codes.
        for (const value of values) dictionary.code(value as Parameters<Dictionary['code']>[0])
        break
      }
      case 'end':
        port.close()
        return found
    }
  }
}

function schemaOf({ types, properties, profile }: Extract<Message, { kind: 'state' }>): LogSchema {
  const schema = new LogSchema()
  for (const { name, passive, hidden } of types) schema.addType(name, passive, hidden)
  for (const { name, ...info } of properties) Object.assign(schema.properties[schema.addProperty(name)]!, info)
  for (const { name, ...info } of profile) Object.assign(schema.profile[schema.addProfile(name)]!, info)
  return schema
}
