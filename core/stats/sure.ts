/** A difference is told of as one where its adjusted p is under this. */
export const SURE = 0.05

/**
 * A change over time is told of as one where its p is under this: of a hundred times in which nothing changes at most one
 * says otherwise, with two such sentences to a study, and the same people in many of the buckets.
 */
export const CHANGED = 0.002

/**
 * Of many things that are compared without anybody having asked about one, a difference is told of where its adjusted p is
 * under this: where there is none, at most one study of a hundred tells of one.
 */
export const MANY_SURE = 0.01
