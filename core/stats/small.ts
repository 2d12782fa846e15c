/** Denominators under this are marked as small. */
export const SMALL = 30

/** So many a bucket are enough to compare one with another. */
export const ENOUGH = 30
