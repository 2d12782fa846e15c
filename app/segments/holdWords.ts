/** How the lines of a group go together. */
export const HOLD_WORDS = { all: 'all of these', any: 'any of these', none: 'none of these' } as const
