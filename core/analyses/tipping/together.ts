import jStat from 'jstat'
import type { CodedValue } from '../../log/dictionary.js'
import { differenceInterval } from '../../stats/difference.js'
import { correlation, type Correlation } from '../../stats/phi.js'
import { benjaminiHochberg, twoProportions, type Interval } from '../../stats/proportion.js'
import { withinStrata, type Stratum } from '../../stats/strata.js'
import type { CloserPart } from './closer.js'
import { MOST_TIMES, type Done } from './question.js'
import type { TippingPlan } from './plan.js'

/** People, and of them those the outcome came for. */
export interface Counted {
  people: number
  came: number
}

export interface Reached extends Done {
  times: number
}

/** Two of the best together; the first is the one that goes with the outcome better. */
export interface Pair {
  one: Reached
  other: Reached
  both: Counted
  onlyOne: Counted
  onlyOther: Counted
  none: Counted
  /** of having done both with the outcome */
  phi: Correlation | null
  /**
   * Both against the one alone: the difference of the rates with its 95 % interval, and p of the pooled two-proportion
   * test, adjusted over the pairs; null where a group is empty
   */
  more: (Interval & { difference: number; p: number }) | null
}

/** What is left of a difference when like is compared with like. */
export interface Within {
  of: Reached
  /** a property of people, or how often they did the best one, whose counts are its values */
  by: { property: string } | { often: Done }
  groups: { value: CodedValue | number | null; did: Counted; others: Counted }[]
  /** over everybody, and put together over the groups, with an interval that holds for all that were looked at together */
  difference: number
  left: Interval & { difference: number }
  /** at least half of it is left, less than half is, or neither can be told */
  holds: 'yes' | 'no' | 'unclear'
}

/** That any of the intervals misses what it is of. */
const ERROR = 0.05

/**
 * The best behaviours two by two, and each within kinds of people and among those who did the best one
 * just as often.
 * A bit of a mask stands for each of the best, so that every figure follows from how many have which bits.
 */
export function lookCloser(
  { people, came, often, kinds }: CloserPart,
  plan: TippingPlan,
): { pairs: Pair[]; within: Within[] } {
  const top = plan.closer!.top.map(({ place, times }): Reached => ({ ...plan.behaviours[place], times }))
  const where = (holds: (mask: number) => boolean, all = people, those = came, from = 0): Counted => {
    const sum: Counted = { people: 0, came: 0 }
    for (let mask = 0; mask < 1 << top.length; mask++) {
      if (!holds(mask)) continue
      sum.people += all[from + mask]
      sum.came += those[from + mask]
    }
    return sum
  }
  const has = (bit: number) => (mask: number) => ((mask >> bit) & 1) === 1
  const base = where(() => true)
  return { pairs: pairsOf(), within: withinOf() }

  function pairsOf(): Pair[] {
    const pairs = top.flatMap((one, i) => top.slice(i + 1).map((other, k) => pairOf(one, i, other, i + 1 + k)))
    const tested = pairs.filter(({ more }) => more !== null)
    const adjusted = benjaminiHochberg(tested.map(({ more }) => more!.p))
    tested.forEach(({ more }, i) => (more!.p = adjusted[i]))
    return pairs.sort((a, b) => (b.phi?.value ?? -2) - (a.phi?.value ?? -2))
  }

  function pairOf(one: Reached, i: number, other: Reached, k: number): Pair {
    const both = where((mask) => has(i)(mask) && has(k)(mask))
    const onlyOne = where((mask) => has(i)(mask) && !has(k)(mask))
    const onlyOther = where((mask) => !has(i)(mask) && has(k)(mask))
    const none = where((mask) => !has(i)(mask) && !has(k)(mask))
    const [a, b] = [partOf(both), partOf(onlyOne)]
    const test = twoProportions(a, b)
    return {
      ...{ one, other, both, onlyOne, onlyOther, none },
      phi: correlation({ both: both.came, first: both.people, second: base.came, all: base.people }),
      more: test && { ...differenceInterval(a, b)!, difference: a.part / a.whole - b.part / b.whole, p: test.p },
    }
  }

  function withinOf(): Within[] {
    const looked = top.flatMap((of, i) => {
      const difference = differenceOf({ did: partOf(where(has(i))), others: partOf(where((mask) => !has(i)(mask))) })
      const byKind = plan.properties.map(({ name, values }, k) => ({
        ...{ of, difference, by: { property: name } },
        groups: values.map((value, code) => {
          const counted = (did: boolean) =>
            where((mask) => has(i)(mask) === did, kinds[k].people, kinds[k].came, code << top.length)
          return { value, did: counted(true), others: counted(false) }
        }),
      }))
      const byBest = top.slice(0, i === 0 ? 0 : 1).map(({ times: _times, ...best }) => ({
        ...{ of, difference, by: { often: best } },
        groups: Array.from({ length: MOST_TIMES + 1 }, (_, value) => {
          const counted = (did: boolean) =>
            where((mask) => has(i)(mask) === did, often.people, often.came, value << top.length)
          return { value, did: counted(true), others: counted(false) }
        }),
      }))
      return [...byBest, ...byKind]
    })
    const compared = looked
      .map((each) => ({ ...each, groups: each.groups.filter(({ did, others }) => did.people + others.people > 0) }))
      .filter(({ groups, difference }) => groups.length > 1 && difference > 0)
    // Somebody who looks through all of them must not find by chance that something is left, or that nothing is.
    const z = jStat.normal.inv(1 - ERROR / (2 * Math.max(1, compared.length)), 0, 1)
    return compared.flatMap(({ of, by, groups, difference }): Within[] => {
      const left = withinStrata(groups.map(stratumOf), z)
      if (!left) return []
      const { low, high } = left
      const holds = low > difference / 2 ? 'yes' : high < difference / 2 ? 'no' : 'unclear'
      return [{ of, by, groups, difference, left: { difference: left.difference, low, high }, holds }]
    })
  }
}

const partOf = ({ people, came }: Counted) => ({ part: came, whole: people })
const stratumOf = ({ did, others }: Within['groups'][number]): Stratum => ({
  did: partOf(did),
  others: partOf(others),
})
const differenceOf = ({ did, others }: Stratum): number => did.part / did.whole - others.part / others.whole
