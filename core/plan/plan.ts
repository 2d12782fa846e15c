import { z } from 'zod'

/** What is to happen to data that does not fit the plan. */
export const policies = ['accept', 'flag', 'set aside'] as const
export type Policy = (typeof policies)[number]

export const planKinds = ['text', 'number', 'boolean', 'date', 'list', 'any'] as const
export type PlanKind = (typeof planKinds)[number]

export const planPropertySchema = z.strictObject({
  name: z.string().trim().min(1, 'give the property a name').max(200),
  kind: z.enum(planKinds).default('any'),
  required: z.boolean().default(false),
  /** the values it may have, as text; left out = any */
  allowed: z.array(z.string().max(500)).min(1).max(500).optional(),
  /** a regular expression that a text must match somewhere */
  pattern: z.string().min(1).max(1000).optional(),
  description: z.string().max(1000).default(''),
})
export type PlanProperty = z.infer<typeof planPropertySchema>

export const planEventSchema = z.strictObject({
  name: z.string().trim().min(1, 'give the event a name').max(200),
  description: z.string().max(1000).default(''),
  owner: z.string().max(200).default(''),
  /** left out = the workspace's */
  policy: z.enum(policies).optional(),
  properties: z
    .array(planPropertySchema)
    .max(200)
    .superRefine((list, context) => {
      const names = list.map(({ name }) => name)
      const twice = names.findIndex((name, at) => names.indexOf(name) < at)
      if (twice >= 0)
        context.addIssue({ code: 'custom', path: [twice, 'name'], message: `“${names[twice]}” is there twice` })
    })
    .default([]),
})
export type PlanEvent = z.infer<typeof planEventSchema>

/** The tracking plan: the events that are meant to arrive, and what each is meant to carry. */
export interface Plan {
  policy: Policy
  events: PlanEvent[]
  /** events outside the plan with a policy of their own */
  others: Record<string, Policy>
}

export const NO_PLAN: Plan = { policy: 'flag', events: [], others: {} }

export const rules = [
  'unknown event',
  'unknown property',
  'missing property',
  'wrong type',
  'value not allowed',
  'pattern not matched',
] as const
export type Rule = (typeof rules)[number]

/** One way in which an event does not fit. */
export interface Violation {
  rule: Rule
  /** null for an unknown event */
  property: string | null
  /** the value, as text; null where there is none */
  got: string | null
}
