/** What the types of values are called. */
export const KIND_WORDS = {
  text: 'text',
  number: 'number',
  boolean: 'yes/no',
  date: 'date',
  list: 'list',
  any: 'any type',
} as const
