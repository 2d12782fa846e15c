/** The place of an event in its session, and the ranges that it is told by: the first, second and third, then ever wider. */
export const POSITION = { of: 'event' as const, name: 'position in session' }
export const DEPTHS: number[] = [1, 2, 3, 4, 6, 11, 21]
