/** Denominators under this are marked as small. */
export const SMALL = 30
