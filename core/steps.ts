/**
 * Work that can be done a piece at a time: whoever runs it decides how long it may go on before others have their turn.
 * A step is some thousand rows. What it reads must not change between two steps; what it makes is given at the end.
 */
export type Steps<T> = Generator<undefined, T, undefined>

/** How many rows, values or people make a step: a millisecond or two of the simplest work there is, ten where it is new to the machine. */
export const STEP = 1 << 13

/** Does all of it now. */
export function atOnce<T>(steps: Steps<T>): T {
  for (;;) {
    const { done, value } = steps.next()
    if (done) return value
  }
}
