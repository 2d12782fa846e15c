import { compilePattern } from '../filters/pattern.js'
import { planEventSchema, planKinds, policies, type PlanEvent, type PlanProperty } from './plan.js'

/** A tracking plan as a table: a row for each property, and one without a property for an event that carries none. */
export const PLAN_COLUMNS = [
  'event',
  'property',
  'type',
  'required',
  'allowed',
  'pattern',
  'property_description',
  'event_description',
  'owner',
  'policy',
] as const

/** What a plan from a file came to: the events that could be read, and what could not, with its place. */
export interface ReadPlan {
  events: PlanEvent[]
  problems: { line: number; reason: string }[]
}

export function planToRows(events: readonly PlanEvent[]): string[][] {
  return events.flatMap((event) => {
    const said = [event.description, event.owner, event.policy ?? '']
    if (event.properties.length === 0) return [[event.name, '', '', '', '', '', '', ...said]]
    return event.properties.map((property, i) => [
      event.name,
      property.name,
      property.kind,
      property.required ? 'yes' : 'no',
      (property.allowed ?? []).map((value) => value.replaceAll('|', '\\|')).join('|'),
      property.pattern ?? '',
      property.description,
      // What is said of the event stands once, in its first row.
      ...(i === 0 ? said : ['', '', '']),
    ])
  })
}

/** @param rows with the header first; columns may be in any order, unknown ones are passed over */
export function planFromRows(rows: readonly (readonly string[])[]): ReadPlan {
  const [header, ...lines] = rows
  const problems: ReadPlan['problems'] = []
  if (!header) return { events: [], problems: [{ line: 1, reason: 'the file is empty' }] }
  const at = new Map(header.map((name, i) => [name.trim().toLowerCase(), i]))
  if (!at.has('event'))
    return {
      events: [],
      problems: [{ line: 1, reason: `there is no column “event”; the columns are ${PLAN_COLUMNS.join(', ')}` }],
    }
  const events = new Map<string, PlanEvent>()
  lines.forEach((cells, index) => {
    const line = index + 2
    const cell = (name: (typeof PLAN_COLUMNS)[number]) => (cells[at.get(name) ?? -1] ?? '').trim()
    const refuse = (reason: string) => problems.push({ line, reason })
    const name = cell('event')
    if (name === '') return cells.some((text) => text.trim() !== '') ? refuse('the event’s name is missing') : 0
    const policy = cell('policy')
    if (policy !== '' && !policies.includes(policy as 'flag'))
      return refuse(`the policy “${policy}” is none of ${policies.join(', ')}`)
    const had = events.get(name) ?? planEventSchema.parse({ name: name.slice(0, 200) })
    const event: PlanEvent = {
      ...had,
      description: had.description || cell('event_description'),
      owner: had.owner || cell('owner'),
      ...(policy !== '' ? { policy: policy as 'flag' } : {}),
    }
    events.set(name, event)
    if (cell('property') === '') return
    const property = readProperty(cell)
    if ('reason' in property) return refuse(property.reason)
    if (event.properties.some((each) => each.name === property.name))
      return refuse(`the property “${property.name}” of “${name}” is there twice`)
    events.set(name, { ...event, properties: [...event.properties, property] })
  })
  return { events: [...events.values()], problems }
}

function readProperty(cell: (name: (typeof PLAN_COLUMNS)[number]) => string): PlanProperty | { reason: string } {
  const kind = cell('type').toLowerCase() || 'any'
  if (!planKinds.includes(kind as 'any')) return { reason: `the type “${kind}” is none of ${planKinds.join(', ')}` }
  const required = cell('required').toLowerCase()
  if (!/^(yes|no|true|false|1|0|)$/.test(required)) return { reason: `required must be yes or no, not “${required}”` }
  const pattern = cell('pattern')
  if (pattern !== '') {
    const read = compilePattern(pattern, false)
    if ('problem' in read) return { reason: `the pattern “${pattern}” is not a regular expression: ${read.problem}` }
  }
  const allowed = cell('allowed')
    .split(/(?<!\\)\|/)
    .map((value) => value.replaceAll('\\|', '|').trim())
    .filter((value) => value !== '')
  return {
    ...{ name: cell('property').slice(0, 200), kind: kind as 'any', required: /^(yes|true|1)$/.test(required) },
    description: cell('property_description').slice(0, 1000),
    ...(allowed.length > 0 ? { allowed } : {}),
    ...(pattern !== '' ? { pattern } : {}),
  }
}
