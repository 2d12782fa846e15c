import { z } from 'zod'

/** What a column of a CSV file is. */
export const columnRoleSchema = z.union([
  z.strictObject({ role: z.enum(['id', 'person', 'anonymous', 'event', 'source', 'ignore']) }),
  z.strictObject({
    role: z.literal('time'),
    /** how times are written; local times are read in `zone` of the plan */
    format: z.enum(['iso', 'epoch ms', 'epoch s', 'day first', 'month first']),
  }),
  z.strictObject({
    role: z.literal('property'),
    name: z.string().min(1).max(200),
    type: z.enum(['text', 'number', 'boolean', 'date', 'list']),
  }),
])
export type ColumnRole = z.infer<typeof columnRoleSchema>

export const encodings = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const

export const importPlanSchema = z.union([
  z.strictObject({ format: z.literal('jsonl'), gzip: z.boolean(), encoding: z.enum(encodings) }),
  z.strictObject({
    format: z.literal('csv'),
    gzip: z.boolean(),
    encoding: z.enum(encodings),
    delimiter: z.string().length(1),
    /** names of the columns as the first line has them */
    header: z.array(z.string()).max(500),
    columns: z.array(columnRoleSchema).max(500),
    /** the event's name where no column gives it */
    event: z.string().max(200).optional(),
    /** IANA zone of times without an offset */
    zone: z.string(),
  }),
])
export type ImportPlan = z.infer<typeof importPlanSchema>
export type CsvPlan = Extract<ImportPlan, { format: 'csv' }>

/** What is missing for an import to make sense, in words; empty when it can start. */
export function planProblems(plan: ImportPlan): string[] {
  if (plan.format === 'jsonl') return []
  const problems: string[] = []
  const roles = plan.columns.map((column) => column.role)
  const count = (role: string) => roles.filter((r) => r === role).length
  if (!roles.includes('person') && !roles.includes('anonymous'))
    problems.push('Say which column tells who did it: the person’s id, or an anonymous id.')
  if (!roles.includes('event') && !plan.event)
    problems.push('Say which column names the event, or give one name for all lines.')
  if (!roles.includes('time')) problems.push('Say which column is the time.')
  for (const role of ['id', 'person', 'anonymous', 'event', 'time', 'source'])
    if (count(role) > 1) problems.push(`Only one column can be the ${role}.`)
  const names = plan.columns.flatMap((column) => (column.role === 'property' ? [column.name] : []))
  const twice = names.find((name, index) => names.indexOf(name) !== index)
  if (twice) problems.push(`Two columns make the property “${twice}”: rename one.`)
  return problems
}
