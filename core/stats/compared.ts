import { differenceInterval } from './difference.js'
import { benjaminiHochberg, twoProportions, type Interval } from './proportion.js'

/** People of whom something holds out of people. */
export interface Rate {
  part: number
  whole: number
}

/** A share beside another one. */
export interface Compared {
  own: Rate
  other: Rate
  /** own − other */
  difference: number
  /** 95 %, Newcombe */
  interval: Interval | null
  /** two-proportion test, adjusted over what is ranked together; null where it cannot be tested */
  p: number | null
}

export { CHANGED, SURE } from './sure.js'

/** null where one of the two is of nobody. */
export function compare(own: Rate, other: Rate): Compared | null {
  if (!(own.whole > 0 && other.whole > 0)) return null
  return {
    ...{ own, other, difference: own.part / own.whole - other.part / other.whole },
    interval: differenceInterval(own, other),
    p: twoProportions(own, other)?.p ?? null,
  }
}

/** With their p adjusted over all of them that could be tested (Benjamini–Hochberg). */
export function adjusted(compared: readonly (Compared | null)[]): (Compared | null)[] {
  const tested = compared.flatMap((each, i) => (typeof each?.p === 'number' ? [i] : []))
  const ps = benjaminiHochberg(tested.map((i) => compared[i]!.p!))
  return compared.map((each, i) => {
    const place = tested.indexOf(i)
    return each && place >= 0 ? { ...each, p: ps[place] } : each
  })
}
