import { peopleSchema } from '../../core/analyses/peopleSchema.js'
import { parseRule } from '../../core/segments/ruleSchema.js'
import type { PeopleSort } from '../../server/engine/peopleSort.js'
import { SESSION_SORTS, type SessionSort } from '../../core/sessions/listSort.js'
import { z } from 'zod'
import type { PeopleRef } from '../../core/analyses/people.js'
import { parseQuestion, type Question } from '../../core/analyses/registry.js'
import type { Fault } from '../../core/questions/faults.js'
import { readJson } from '../../core/questions/readJson.js'
import type { RuleGroup } from '../../core/segments/rule.js'

/** Reads the definition of an address; null where it has none. What is right in a bad one is kept. */
export function readQuestion(params: URLSearchParams): { question: Question; faults: Fault[] } | null {
  const text = params.get('q')
  if (text === null) return null
  try {
    return parseQuestion(readJson(text))
  } catch {
    const { question } = parseQuestion({ kind: 'trend' })
    return { question, faults: [{ path: [], code: 'unreadable', want: 'it is not JSON' }] }
  }
}

/** Reads the rule of an address; null where it has none. */
export function readRule(params: URLSearchParams): { rule: RuleGroup; faults: Fault[] } | null {
  const text = params.get('rule')
  if (text === null) return null
  try {
    return parseRule(readJson(text))
  } catch {
    return { rule: { hold: 'all', of: [] }, faults: [{ path: [], code: 'unreadable', want: 'it is not JSON' }] }
  }
}

/** Reads which people are meant; null where the address does not say, or makes no sense. */
export function readPeople(params: URLSearchParams): PeopleRef | null {
  try {
    const text = params.get('people')
    // Addresses of before had the study and its marks apart.
    const input: unknown = text
      ? readJson(text)
      : {
          study: readJson(params.get('q') ?? 'null'),
          marks: readJson(params.get('marks') ?? '[]'),
        }
    const read = peopleSchema.safeParse(input)
    return read.success ? read.data : null
  } catch {
    return null
  }
}

/** The people that others stand beside; null = everybody. */
export function readBeside(params: URLSearchParams): PeopleRef | null {
  const text = params.get('beside')
  return text === null ? null : readPeople(new URLSearchParams({ people: text }))
}

/** The profile properties that a list of people shows; null = all that there are. */
export function readColumns(search: URLSearchParams): string[] | null {
  try {
    return z
      .array(z.string().max(200))
      .max(100)
      .parse(readJson(search.get('columns') ?? ''))
  } catch {
    return null
  }
}

const sortSchema = z.strictObject({
  by: z.union([z.enum(['events', 'last seen']), z.strictObject({ profile: z.string().max(200) })]),
  up: z.literal(true).optional(),
})

/** How a list of people is sorted; null = in no order of meaning. */
export function readSort(search: URLSearchParams): PeopleSort | null {
  try {
    return sortSchema.parse(readJson(search.get('sort') ?? ''))
  } catch {
    return null
  }
}

const sessionSortSchema = z.strictObject({ by: z.enum(SESSION_SORTS), up: z.literal(true).optional() })

/** How a list of sessions is sorted: the latest first where nothing else is said. */
export function readSessionSort(search: URLSearchParams): SessionSort {
  try {
    return sessionSortSchema.parse(readJson(search.get('sort') ?? ''))
  } catch {
    return { by: 'start' }
  }
}
