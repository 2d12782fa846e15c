export const textOperators = [
  'is',
  'is not',
  'contains',
  'does not contain',
  'starts with',
  'ends with',
  'matches',
] as const

export const numberOperators = ['=', '≠', '<', '≤', '>', '≥', 'between'] as const

export const dateOperators = ['before', 'after', 'between days', 'in the last'] as const

export const plainOperators = ['has a value', 'has no value', 'is true', 'is false'] as const

export const windowUnits = ['second', 'minute', 'hour', 'day', 'week', 'month'] as const

/** Studies within studies: deeper than this is refused. */
export const MOST_DEPTH = 6

/** So many stand side by side at most. */
export const MOST_SIDES = 6

/** Up to so many breakdowns at once: a group is a combination of one group of each. */
export const MOST_SPLITS = 3
