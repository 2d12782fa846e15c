/** So often people are drawn anew, to see how far a figure could be otherwise. */
export const DRAWS = 200

/**
 * Into so many groups people are put by chance, and groups are drawn in place of single people: where there are more
 * people than groups it tells the same of how far figures vary, and needs to keep a group's sums only.
 */
export const GROUPS = 1024

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

/** Two whole numbers mixed into one that looks like chance: the same for the same two, wherever it is worked out. */
function mixed(a: number, b: number): number {
  let x = Math.imul(a ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(b + 0x165667b1, 0xc2b2ae35)
  x ^= x >>> 16
  x = Math.imul(x, 0x7feb352d)
  x ^= x >>> 15
  x = Math.imul(x, 0x846ca68b)
  return (x ^ (x >>> 16)) >>> 0
}

/** The group of a person, by the workspace's number. */
export const groupOfPerson = (person: number): number => mixed(person, 0) % GROUPS

/**
 * How often a group stands in a draw: the number is of the Poisson distribution with mean 1, which for many groups is what
 * drawing them with putting back gives.
 */
export function weightOf(group: number, draw: number): number {
  const x = mixed(group, draw + 1)
  let n = 0
  while (x >= UP_TO[n]) n++
  return n
}

let table: Float64Array[] | undefined

/** The same of all groups, by draw: worked out once. */
export function drawWeights(): readonly Float64Array[] {
  table ??= Array.from({ length: DRAWS }, (_, draw) =>
    Float64Array.from({ length: GROUPS }, (_group, group) => weightOf(group, draw)),
  )
  return table
}
