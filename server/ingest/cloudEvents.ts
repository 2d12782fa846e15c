import { flatten } from './tableRow.js'

/** Attributes of the open JSON event format (CloudEvents 1.0) that have a meaning of their own. */
const KNOWN = new Set([
  ...['specversion', 'id', 'source', 'type', 'subject', 'time', 'data', 'datacontenttype', 'dataschema'],
  ...['data_base64', 'anonymous'],
])

export function isCloudEvent(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && 'specversion' in value && 'type' in value
}

/**
 * An event of the open format as one of ours: its type is the event, its subject the person, the fields of its data the
 * properties (nested ones under dotted names), and so are extension attributes. The format says that source and id
 * together tell events apart. Whose it is may also be said by an extension attribute `anonymous`.
 */
export function fromCloudEvent(event: Record<string, unknown>): Record<string, unknown> {
  const { id, source, type, subject, time, data, anonymous } = event
  const isObject = typeof data === 'object' && data !== null && !Array.isArray(data)
  const properties = Object.fromEntries([
    ...(isObject ? flatten(data) : data !== undefined && data !== null ? [['data', data] as const] : []),
    ...Object.entries(event).filter(([name]) => !KNOWN.has(name)),
  ])
  return {
    ...(id === undefined ? {} : { id: `${text(source)} ${text(id)}` }),
    ...(subject === undefined ? {} : { person: subject }),
    ...(anonymous === undefined ? {} : { anonymous }),
    event: type,
    ...(time === undefined ? {} : { time }),
    ...(typeof source === 'string' ? { source } : {}),
    properties,
  }
}

function text(value: unknown): string {
  return typeof value === 'string' || typeof value === 'number' ? String(value) : ''
}

/**
 * The binary form of the format: attributes in headers `ce-…`, the body is the data.
 * @returns null where the headers do not say that it is one
 */
export function fromHeaders(
  headers: Readonly<Record<string, string | string[] | undefined>>,
  body: Uint8Array,
): Record<string, unknown> | null {
  if (headers['ce-specversion'] === undefined) return null
  const event: Record<string, unknown> = Object.fromEntries(
    Object.entries(headers).flatMap(([name, value]): [string, string][] =>
      name.startsWith('ce-') && typeof value === 'string' ? [[name.slice(3), decoded(value)]] : [],
    ),
  )
  const content = Buffer.from(body).toString('utf8')
  if (content !== '') {
    try {
      event.data = JSON.parse(content) as unknown
    } catch {
      event.data = content
    }
  }
  return event
}

/** Header values are percent-encoded where they are not plain ASCII. */
function decoded(value: string): string {
  try {
    return decodeURIComponent(value)
  } catch {
    return value
  }
}
