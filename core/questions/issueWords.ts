import { z } from 'zod'
import { countOf, formatNumber } from '../words/format.js'

const TYPE_WORDS: Record<string, string> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'yes or no',
  array: 'a list',
  tuple: 'a list',
  object: 'a group of settings',
  record: 'a group of settings',
  null: 'nothing',
  undefined: 'nothing',
}

/** What was found, as a reader knows it. */
function found(input: unknown): string {
  if (input === undefined || input === null) return 'nothing is there'
  if (Array.isArray(input)) return 'a list is there'
  // What was no number at all, and was read as one.
  if (Number.isNaN(input)) return 'something else is there'
  if (typeof input === 'number') return Number.isInteger(input) ? 'a number is there' : 'a fraction is there'
  if (typeof input === 'object') return 'a group of settings is there'
  return typeof input === 'string' ? 'a text is there' : 'yes or no is there'
}

/**
 * What would have been taken, in words that follow "Step 2: ", where a schema does not say it in words of its own.
 * @returns undefined for what no schema of a definition asks
 */
function issueWords(issue: z.core.$ZodRawIssue): string | undefined {
  switch (issue.code) {
    case 'invalid_type':
      return `${TYPE_WORDS[issue.expected] ?? 'something else'} is wanted, and ${found(issue.input)}`
    case 'too_small':
    case 'too_big': {
      const [edge, limit] =
        issue.code === 'too_small' ? ['at least', Number(issue.minimum)] : ['at most', Number(issue.maximum)]
      if (issue.origin === 'string') return `${edge} ${countOf(limit, 'character', 'characters')}`
      return `${edge} ${formatNumber(limit)}${issue.origin === 'array' ? ' of them' : ''}`
    }
    case 'invalid_value': {
      const values = issue.values.map(String)
      return values.length === 1 ? `only “${values[0]}” can stand here` : `one of ${values.join(', ')}`
    }
    case 'invalid_format':
      return 'it is not written in the form that is read here'
    case 'unrecognized_keys':
      return `not known here: ${issue.keys.join(', ')}`
    case 'invalid_union':
      return 'not a value that can be used here'
    default:
      return undefined
  }
}

/** From then on schemas without words of their own say what is wrong in these, wherever they are used. */
z.config({ customError: issueWords })
