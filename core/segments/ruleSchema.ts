import { anyMark, anyStudy } from '../questions/studySchema.js'
import { localDay } from '../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../questions/faults.js'
import {
  eventChoiceSchema,
  filterSchema,
  pickSchema,
  profileConditionSchema,
  propertySchema,
  timeLimitSchema,
  type Filter,
} from '../questions/parts.js'
import { units } from '../time/range.js'
import {
  type Rule,
  type RuleGroup,
  type SegmentCondition,
  countMeasures,
  comparisons,
  type NumberCompare,
  type Window,
  timesAsked,
  MOST_IN_GROUP,
  MOST_GROUPS_DEEP,
  asGroup,
  EVERYBODY,
} from './rule.js'

export const off = z.literal(true).optional()

export const not = z.literal(true).optional()

const dayCount = z.int('a whole number of days').min(1, 'at least 1 day').max(3660, 'at most 3,660 days')

const numberCompareSchema: z.ZodType<NumberCompare> = z.union([
  z.strictObject({ op: z.enum(comparisons), number: z.number() }),
  z.strictObject({ op: z.literal('between'), numbers: z.tuple([z.number(), z.number()]) }),
])

const windowSchema: z.ZodType<Window> = z.union([
  z.strictObject({ last: dayCount }),
  z.strictObject({
    before: z
      .tuple([dayCount, dayCount])
      .refine(([near, far]) => near <= far, 'the nearer day comes first, as in “days 31 to 60 before”'),
  }),
  z
    .strictObject({ from: localDay, to: localDay })
    .refine(({ from, to }) => from <= to, 'the first day must not come after the last'),
  z.strictObject({ after: z.literal('first seen'), days: dayCount }),
  z.strictObject({ after: pickSchema, days: dayCount }),
])

export const filter = (filterSchema as z.ZodType<Filter>).optional()

const conditionSchemas = [
  z.strictObject({ kind: z.literal('profile'), where: profileConditionSchema, off }),
  z
    .strictObject({
      kind: z.literal('did'),
      event: eventChoiceSchema,
      where: filter,
      not,
      count: z
        .strictObject({
          measure: z.enum(countMeasures),
          property: propertySchema.optional(),
          test: numberCompareSchema,
        })
        .optional(),
      window: windowSchema.optional(),
      off,
    })
    .refine((did) => !(did.not && did.count), {
      message: 'what somebody did not do is not counted: ask for “at most” instead',
      path: ['count'],
    }),
  z.strictObject({
    kind: z.literal('sequence'),
    steps: z.array(pickSchema).min(2, 'at least two events').max(10, 'at most ten events'),
    within: timeLimitSchema,
    not,
    off,
  }),
  z.strictObject({
    kind: z.literal('time'),
    asked: z.enum(timesAsked),
    event: eventChoiceSchema.optional(),
    where: filter,
    when: z.union([
      z.strictObject({ before: localDay }),
      z.strictObject({ after: localDay }),
      z.strictObject({ last: z.int().min(1).max(1000), unit: z.enum(units) }),
    ]),
    off,
  }),
  z.strictObject({
    kind: z.literal('study'),
    study: anyStudy,
    marks: z.array(anyMark).min(1, 'at least one mark').max(500),
    not,
    off,
  }),
  z.strictObject({
    kind: z.literal('segment'),
    segment: z.string().min(1).max(40),
    since: localDay.optional(),
    not,
    off,
  }),
] as const

const groupSchema: z.ZodType<RuleGroup> = z.strictObject({
  hold: z.enum(['all', 'any', 'none']),
  of: z.lazy(() => z.array(ruleSchema).max(MOST_IN_GROUP)),
  off,
})

export const ruleSchema: z.ZodType<Rule> = z.lazy(() => z.union([groupSchema, ...conditionSchemas]))

/** Reads a rule, keeping what is right in it: a condition that cannot be read is left out and told of, with its place. */
export function parseRule(input: unknown): { rule: RuleGroup; faults: Fault[] } {
  const faults: Fault[] = []
  const read = (node: unknown, path: (string | number)[], depth: number): Rule | null => {
    const each = node as Record<string, unknown> | null
    if (typeof each === 'object' && each !== null && 'hold' in each && Array.isArray(each.of)) {
      if (depth >= MOST_GROUPS_DEEP) {
        faults.push({ path, code: 'invalid', want: `groups stand at most ${MOST_GROUPS_DEEP} deep` })
        return null
      }
      const known = ['all', 'any', 'none'].includes(each.hold as string)
      const hold = known ? (each.hold as RuleGroup['hold']) : 'all'
      if (!known) faults.push({ path: [...path, 'hold'], code: 'invalid', want: 'all, any or none of its conditions' })
      if (each.of.length > MOST_IN_GROUP)
        faults.push({ path: [...path, 'of'], code: 'invalid', want: `at most ${MOST_IN_GROUP} conditions in a group` })
      for (const key of Object.keys(each))
        if (!['hold', 'of', 'off'].includes(key) || (key === 'off' && each.off !== true))
          faults.push({ path: [...path, key], code: 'invalid', got: key, want: 'this setting is not known' })
      const of = each.of
        .slice(0, MOST_IN_GROUP)
        .flatMap((inner, index) => read(inner, [...path, 'of', index], depth + 1) ?? [])
      return { hold, of, ...(each.off === true ? { off: true as const } : {}) }
    }
    const schema = conditionSchemas.find(({ shape }) => shape.kind.safeParse(each?.kind).success)
    if (!schema) {
      faults.push({ path, code: 'invalid', want: 'not a condition that is known' })
      return null
    }
    const parsed = schema.safeParse(each)
    if (parsed.success) return parsed.data as SegmentCondition
    const issue = parsed.error.issues[0]
    faults.push({ path: [...path, ...issue.path.map(String)], code: 'invalid', want: issue.message })
    return null
  }
  if (typeof input !== 'object' || input === null)
    return { rule: EVERYBODY, faults: [{ path: [], code: 'unreadable', want: 'it is not a rule' }] }
  const rule = read(input, [], 0)
  return { rule: rule ? asGroup(rule) : EVERYBODY, faults }
}
