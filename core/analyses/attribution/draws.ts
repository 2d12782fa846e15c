/** So often people are drawn anew, to see how far a figure could be otherwise. */
export const DRAWS = 200

/** Chances of 0, 1, 2 … of a Poisson number of mean 1, added up, in parts of 2³². */
const UP_TO = (() => {
  const sums: number[] = []
  let chance = Math.exp(-1)
  for (let n = 0, sum = 0; n < 12; n++) {
    sum += chance
    sums.push(Math.floor(sum * 2 ** 32))
    chance /= n + 1
  }
  return sums
})()

/** M. E. O'Neill's mixing of a counter, as in PCG: the same for the same person and draw, wherever it is worked out. */
function mixed(a: number, b: number): number {
  let x = Math.imul(a ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(b + 0x165667b1, 0xc2b2ae35)
  x ^= x >>> 16
  x = Math.imul(x, 0x7feb352d)
  x ^= x >>> 15
  x = Math.imul(x, 0x846ca68b)
  return (x ^ (x >>> 16)) >>> 0
}

/**
 * How often a person stands in each draw: the number is of the Poisson distribution with mean 1, which for many people is
 * what drawing them with putting back gives, and needs nothing but the person.
 */
export function weightsOf(person: number, into: Uint8Array): void {
  for (let draw = 0; draw < DRAWS; draw++) {
    const x = mixed(person, draw)
    let n = 0
    while (x >= UP_TO[n]) n++
    into[draw] = n
  }
}
