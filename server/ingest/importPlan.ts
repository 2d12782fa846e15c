import { z } from 'zod'
import { LIMITS } from './limits.js'

/** What the columns are called that stand beside the file's own: a file that is brought in anew is read without them. */
export const LINE_COLUMN = 'line in the file'
export const REASON_COLUMN = 'not taken because'

/** How times are written; local ones are read in the plan's zone. */
export const timeFormats = ['iso', 'epoch ms', 'epoch s', 'day first', 'month first'] as const
export type TimeFormat = (typeof timeFormats)[number]

/** What a column of a table is. */
export const columnRoleSchema = z.union([
  z.strictObject({ role: z.enum(['id', 'person', 'anonymous', 'event', 'source', 'ignore']) }),
  z.strictObject({ role: z.literal('time'), format: z.enum(timeFormats) }),
  /** of a table of things: the day on which something happened to each, which makes an event */
  z.strictObject({
    role: z.literal('happened'),
    event: z.string().max(LIMITS.nameChars),
    format: z.enum(timeFormats),
  }),
  z.strictObject({
    role: z.literal('property'),
    name: z.string().min(1).max(LIMITS.nameChars),
    type: z.enum(['text', 'number', 'boolean', 'date', 'list']),
  }),
])
export type ColumnRole = z.infer<typeof columnRoleSchema>

export const encodings = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const

/** What the rows of a table are. */
export const rowKinds = ['events', 'things', 'people'] as const
export type RowKind = (typeof rowKinds)[number]

export const MOST_COLUMNS = 5000

const table = {
  rows: z.enum(rowKinds).default('events'),
  /** names of the columns */
  header: z.array(z.string().max(1000)).max(MOST_COLUMNS),
  columns: z.array(columnRoleSchema).max(MOST_COLUMNS),
  /** the event's name where no column gives it */
  event: z.string().max(LIMITS.nameChars).optional(),
  /** of things: what they are, in one word; the ids of their events begin with it */
  thing: z.string().max(100).optional(),
  /** a row of the same id takes the earlier one's place */
  replace: z.boolean().default(false),
  /** IANA zone of times without an offset */
  zone: z.string(),
}
const packed = { gzip: z.boolean(), encoding: z.enum(encodings) }

export const importPlanSchema = z.union([
  /** events in the API's own form, one a line or as one array */
  z.strictObject({ format: z.literal('jsonl'), array: z.literal(true).optional(), ...packed }),
  z.strictObject({ format: z.literal('csv'), delimiter: z.string().length(1), ...packed, ...table }),
  /** flat objects of any kind, one a line or as one array */
  z.strictObject({ format: z.literal('json'), array: z.literal(true).optional(), ...packed, ...table }),
  z.strictObject({ format: z.literal('parquet'), ...packed, ...table }),
])
export type ImportPlan = z.infer<typeof importPlanSchema>
export type TablePlan = Exclude<ImportPlan, { format: 'jsonl' }>
export type CsvPlan = Extract<ImportPlan, { format: 'csv' }>

/** A plan with one column read otherwise. */
export const withColumn = <Plan extends TablePlan>(plan: Plan, index: number, role: ColumnRole): Plan => ({
  ...plan,
  columns: plan.columns.with(index, role),
})

/** What is missing for an import to make sense, in words; empty when it can start. */
export function planProblems(plan: ImportPlan): string[] {
  if (plan.format === 'jsonl') return []
  const problems: string[] = []
  const roles = plan.columns.map((column) => column.role)
  const count = (role: string) => roles.filter((r) => r === role).length
  const who = roles.includes('person') || roles.includes('anonymous')
  switch (plan.rows) {
    case 'events':
      if (!who) problems.push('Say which column tells who did it: the person’s id, or an anonymous id.')
      if (!roles.includes('event') && !plan.event)
        problems.push('Say which column names the event, or give one name for all rows.')
      if (!roles.includes('time')) problems.push('Say which column is the time.')
      if (plan.replace && !roles.includes('id'))
        problems.push('Say which column is the event’s id: rows are replaced by it.')
      break
    case 'things': {
      if (!who) problems.push('Say which column tells whose it is: the person’s id, or an anonymous id.')
      if (!roles.includes('id')) problems.push('Say which column is the id of the thing.')
      if (!plan.thing?.trim()) problems.push('Say in a word what each row is: an order, a subscription.')
      const events = plan.columns.flatMap((column) => (column.role === 'happened' ? [column.event.trim()] : []))
      if (events.length === 0) problems.push('Choose at least one column with a date: each makes an event.')
      if (events.includes('')) problems.push('Name the event that each chosen date makes.')
      const twice = events.find((event, i) => event !== '' && events.indexOf(event) !== i)
      if (twice) problems.push(`Two columns make the event “${twice}”: rename one.`)
      break
    }
    case 'people':
      if (!roles.includes('person')) problems.push('Say which column is the person’s id.')
      if (!roles.includes('property')) problems.push('Choose at least one column as a property of the person.')
  }
  for (const role of ['id', 'person', 'anonymous', 'event', 'time', 'source'])
    if (count(role) > 1) problems.push(`Only one column can be the ${role}.`)
  const names = plan.columns.flatMap((column) => (column.role === 'property' ? [column.name] : []))
  const twice = findTwice(names)
  if (twice) problems.push(`Two columns make the property “${twice}”: rename one.`)
  if (names.length > LIMITS.properties)
    problems.push(
      `${names.length} columns would be properties; at most ${LIMITS.properties} can be. Leave the others out.`,
    )
  return problems
}

function findTwice(names: readonly string[]): string | undefined {
  const seen = new Set<string>()
  return names.find((name) => seen.size === seen.add(name).size)
}
