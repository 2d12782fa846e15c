/** How a list of sessions is sorted: by when they began, how long they lasted, or how many events they have. */
export const SESSION_SORTS = ['start', 'length', 'events'] as const
export interface SessionSort {
  by: (typeof SESSION_SORTS)[number]
  up?: true | undefined
}
