import { z } from 'zod'
import { parseQuestion, type Question } from '../core/analyses/registry.js'
import type { PeopleRef } from '../core/analyses/people.js'
import type { Fault } from '../core/questions/faults.js'
import { markSchema, type Mark } from '../core/questions/parts.js'

/** Reads the definition of an address; null where it has none. What is right in a bad one is kept. */
export function readQuestion(params: URLSearchParams): { question: Question; faults: Fault[] } | null {
  const text = params.get('q')
  if (text === null) return null
  try {
    return parseQuestion(JSON.parse(text))
  } catch {
    const { question } = parseQuestion({ kind: 'trend' })
    return { question, faults: [{ path: [], code: 'unreadable', want: 'it is not JSON' }] }
  }
}

/** Reads a selection of people; null where it makes no sense. */
export function readSelection(params: URLSearchParams): PeopleRef | null {
  const read = readQuestion(params)
  if (!read || read.faults.length > 0) return null
  try {
    const marks = markSchema
      .array()
      .min(1)
      .max(500)
      .safeParse(JSON.parse(params.get('marks') ?? '[]'))
    return marks.success ? { study: read.question, marks: marks.data as Mark[] } : null
  } catch {
    return null
  }
}

/** The profile properties that a list of people shows; null = all that there are. */
export function readColumns(search: URLSearchParams): string[] | null {
  try {
    return z
      .array(z.string().max(200))
      .max(100)
      .parse(JSON.parse(search.get('columns') ?? ''))
  } catch {
    return null
  }
}
