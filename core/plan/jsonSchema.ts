import { own } from '../names.js'
import { compilePattern } from '../filters/pattern.js'
import { planEventSchema, policies, type PlanEvent, type PlanKind, type PlanProperty } from './plan.js'
import type { ReadPlan } from './planRows.js'

const DIALECT = 'https://json-schema.org/draft/2020-12/schema'
type Json = Record<string, unknown>

/** The tracking plan as one JSON Schema document: each event's properties are a schema under `$defs`. */
export function planToJsonSchema(events: readonly PlanEvent[]): Json {
  return {
    $schema: DIALECT,
    title: 'Tracking plan',
    $defs: Object.fromEntries(events.map((event) => [event.name, schemaOf(event)])),
  }
}

function schemaOf({ name, description, owner, policy, properties }: PlanEvent): Json {
  const required = properties.filter((property) => property.required).map((property) => property.name)
  return {
    ...{ title: name, type: 'object' },
    ...(description ? { description } : {}),
    ...(owner ? { 'x-owner': owner } : {}),
    ...(policy ? { 'x-policy': policy } : {}),
    properties: Object.fromEntries(properties.map((property) => [property.name, propertySchema(property)])),
    ...(required.length > 0 ? { required } : {}),
    additionalProperties: false,
  }
}

const TYPES: Record<PlanKind, Json> = {
  text: { type: 'string' },
  number: { type: 'number' },
  boolean: { type: 'boolean' },
  date: { type: 'string', format: 'date-time' },
  list: { type: 'array', items: { type: 'string' } },
  any: {},
}

function propertySchema({ kind, description, allowed, pattern }: PlanProperty): Json {
  const values = allowed ? { enum: kind === 'number' ? allowed.map(Number) : allowed } : {}
  const texts = pattern ? { pattern } : {}
  const said = description ? { description } : {}
  if (kind === 'list') return { type: 'array', items: { type: 'string', ...values, ...texts }, ...said }
  return { ...TYPES[kind], ...values, ...texts, ...said }
}

/**
 * Reads a plan from JSON Schema: events under `$defs` (or `definitions`), or one event as the document itself, named by
 * its `title`. What a schema says beyond type, required, enum and pattern is passed over; a place that cannot be read is
 * told of, and the rest stays. Problems are numbered by event.
 */
export function planFromJsonSchema(input: unknown): ReadPlan {
  const problems: ReadPlan['problems'] = []
  if (!isObject(input)) return { events: [], problems: [{ line: 1, reason: 'it is not a JSON Schema document' }] }
  const defs = isObject(input.$defs) ? input.$defs : isObject(input.definitions) ? input.definitions : null
  const title = typeof input.title === 'string' ? input.title : ''
  const schemas = defs ? Object.entries(defs) : isObject(input.properties) && title ? [[title, input] as const] : []
  if (schemas.length === 0)
    problems.push({ line: 1, reason: 'there are no events: neither $defs, nor a title with properties' })
  const events = schemas.flatMap(([name, schema], index) => {
    const refuse = (reason: string) => void problems.push({ line: index + 1, reason: `${name}: ${reason}` })
    if (!isObject(schema)) {
      refuse('it is not an object')
      return []
    }
    const required = Array.isArray(schema.required) ? schema.required : []
    const properties = Object.entries(isObject(schema.properties) ? schema.properties : {}).flatMap(([key, value]) => {
      const read = readProperty(key, value, required.includes(key))
      if (!('reason' in read)) return [read]
      refuse(read.reason)
      return []
    })
    const policy = policies.find((each) => each === schema['x-policy'])
    const parsed = planEventSchema.safeParse({
      ...{ name, properties, description: textIn(schema, 'description'), owner: textIn(schema, 'x-owner') },
      ...(policy ? { policy } : {}),
    })
    if (parsed.success) return [parsed.data]
    refuse(parsed.error.issues[0]!.message)
    return []
  })
  return { events, problems }
}

function readProperty(name: string, schema: unknown, required: boolean): PlanProperty | { reason: string } {
  if (!isObject(schema)) return { reason: `the property “${name}” is not an object` }
  // A nullable type is its other one: null is no value here.
  const types = (Array.isArray(schema.type) ? schema.type : [schema.type]).filter((type) => type !== 'null')
  const isList = types[0] === 'array'
  const inner = isList && isObject(schema.items) ? schema.items : schema
  const kind = kindOf(types, schema)
  if (kind === null)
    return { reason: `the property “${name}” is of the type ${JSON.stringify(schema.type)}, which events cannot carry` }
  const allowed = Array.isArray(inner.enum) ? inner.enum.filter((value) => value !== null).map(String) : []
  const pattern = typeof inner.pattern === 'string' ? inner.pattern : ''
  if (pattern) {
    const compiled = compilePattern(pattern, false)
    if ('problem' in compiled) return { reason: `the pattern of “${name}” cannot be used: ${compiled.problem}` }
  }
  return {
    ...{ name, kind, required, description: textIn(schema, 'description') },
    ...(allowed.length > 0 ? { allowed } : {}),
    ...(pattern ? { pattern } : {}),
  }
}

function kindOf(types: unknown[], schema: Json): PlanKind | null {
  if (types.length !== 1 || types[0] === undefined) return 'any'
  switch (types[0]) {
    case 'string':
      return schema.format === 'date-time' || schema.format === 'date' ? 'date' : 'text'
    case 'number':
    case 'integer':
      return 'number'
    case 'boolean':
      return 'boolean'
    case 'array':
      return 'list'
    default:
      return null
  }
}

function textIn(schema: Json, key: string): string {
  const text = own(schema, key)
  return typeof text === 'string' ? text.slice(0, 1000) : ''
}

function isObject(value: unknown): value is Json {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
