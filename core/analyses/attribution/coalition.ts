/** Up to so many values all sets of them are gone through; of more, orders are drawn. */
export const MOST_EXACT = 12
const ORDERS = 1000

/** By the set of values touched, as bits: people, and those who converted. */
export type Sets = ReadonlyMap<number, readonly [people: number, converted: number]>

/**
 * The Shapley value of each value touched (L. S. Shapley, A value for n-person games, 1953): what it adds, on average
 * over all orders in which values could join, to the part of people who convert among those who touched nothing else.
 * Of nobody the part is 0.
 * @param values how many there are
 * @returns by value; parts of people, which may be below 0
 */
export function shapleyValues(sets: Sets, values: number): Float64Array {
  const found = new Float64Array(values)
  // Values that nobody touched add nothing to anything.
  const members = [...sets.keys()].map((set) => membersOf(set, values))
  const used = [...new Set(members.flat())].sort((a, b) => a - b)
  const placeOf = new Map(used.map((value, place) => [value, place]))
  const narrow = new Map(
    [...sets.values()].map((counts, i) => [setOf(members[i].map((value) => placeOf.get(value)!)), counts]),
  )
  const own = used.length <= MOST_EXACT ? exact(narrow, used.length) : sampled(narrow, used.length)
  used.forEach((value, place) => (found[value] = own[place]))
  return found
}

const setOf = (members: readonly number[]) => members.reduce((set, value) => set + 2 ** value, 0)

function exact(sets: Sets, values: number): Float64Array {
  const size = 2 ** values
  const people = new Float64Array(size)
  const converted = new Float64Array(size)
  for (const [set, [all, own]] of sets) {
    people[set] += all
    converted[set] += own
  }
  // Sums over all subsets, one value after the other.
  for (let bit = 1; bit < size; bit *= 2)
    for (let set = 0; set < size; set++)
      if ((set & bit) !== 0) {
        people[set] += people[set ^ bit]
        converted[set] += converted[set ^ bit]
      }
  const worth = (set: number) => (people[set] > 0 ? converted[set] / people[set] : 0)
  // By how many are there before it: (k! × (n − k − 1)!) ÷ n!
  const weights = Array.from({ length: values }, (_, k) => 1 / (values * choose(values - 1, k)))
  const found = new Float64Array(values)
  for (let set = 0; set < size; set++) {
    const before = countBits(set)
    for (let value = 0; value < values; value++) {
      const bit = 2 ** value
      if ((set & bit) === 0) found[value] += weights[before] * (worth(set | bit) - worth(set))
    }
  }
  return found
}

function choose(n: number, k: number): number {
  let ways = 1
  for (let i = 1; i <= k; i++) ways = (ways * (n - k + i)) / i
  return ways
}

function countBits(set: number): number {
  let n = 0
  for (let left = set; left > 0; left &= left - 1) n++
  return n
}

function sampled(sets: Sets, values: number): Float64Array {
  const random = seeded(1953)
  const groups = [...sets].map(([set, [people, converted]]) => ({ members: membersOf(set, values), people, converted }))
  const order = Array.from({ length: values }, (_, value) => value)
  const place = new Uint32Array(values)
  const found = new Float64Array(values)
  const people = new Float64Array(values)
  const converted = new Float64Array(values)
  for (let round = 0; round < ORDERS; round++) {
    for (let i = values - 1; i > 0; i--) {
      const other = Math.floor(random() * (i + 1))
      ;[order[i], order[other]] = [order[other], order[i]]
    }
    order.forEach((value, at) => (place[value] = at))
    people.fill(0)
    converted.fill(0)
    // A set is whole once the last of its values has joined.
    for (const group of groups) {
      let last = 0
      for (const value of group.members) if (place[value] > last) last = place[value]
      people[last] += group.people
      converted[last] += group.converted
    }
    let [all, own, before] = [0, 0, 0]
    for (let at = 0; at < values; at++) {
      all += people[at]
      own += converted[at]
      const now = all > 0 ? own / all : 0
      found[order[at]] += (now - before) / ORDERS
      before = now
    }
  }
  return found
}

function membersOf(set: number, values: number): number[] {
  return Array.from({ length: values }, (_, value) => value).filter((value) => Math.floor(set / 2 ** value) % 2 === 1)
}

/** The same numbers for the same start (S. K. Park and K. W. Miller, 1988). */
function seeded(start: number): () => number {
  let state = start
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
}
