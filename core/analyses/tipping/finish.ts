import { correlation, type Correlation } from '../../stats/phi.js'
import { benjaminiHochberg, twoProportions } from '../../stats/proportion.js'
import type { TippingPart } from './scan.js'
import type { TippingPlan } from './plan.js'
import { MOST_TIMES } from './question.js'

/** People who did something early at least so many times, against the others. */
export interface TimesFigures {
  times: number
  people: number
  /** of them, those the outcome came for */
  came: number
  /** part of all that they are */
  share: number
  /** part of them the outcome came for (the precision), and of the others; null where there are no others */
  rate: number
  otherRate: number | null
  /** the one rate ÷ the other; null where the other is 0 */
  lift: number | null
  /** part of those the outcome came for who did it */
  recall: number
  /** of the 2×2 table; null where all of them, or none, did it */
  phi: Correlation | null
  /** of the pooled two-proportion z-test, adjusted by Benjamini–Hochberg over all that was looked at */
  p: number | null
}

export interface Behaviour {
  event: string
  /** by count, from 0: people who did it just so often, the last one and more, and those of them the outcome came for */
  exactly: { people: number; came: number }[]
  /** from 1 on, as far as anybody did it */
  counts: TimesFigures[]
  /** the count of the highest phi, by its place; null where none has one */
  best: number | null
  /** why it tells nothing: nearly all did it, hardly any, or all the outcome came for */
  trivial: 'nearly all' | 'hardly any' | 'all who came' | null
}

export interface TippingResult {
  kind: 'tipping'
  /** people whose outcome can be known, those it came for, and those who started but for whom it is not over */
  base: number
  came: number
  open: number
  /** by the highest phi, the highest first; empty where there are too few to rank */
  behaviours: Behaviour[]
  /** events looked at, each at every count */
  looked: number
  tooFew: boolean
}

export const LEAST_BASE = 100
export const LEAST_EACH = 30
export const NEARLY_ALL = 0.95
export const HARDLY_ANY = 0.01

export function finishTipping(
  { base, came, open, people, with: reached }: TippingPart,
  plan: TippingPlan,
): TippingResult {
  const tooFew = base < LEAST_BASE || came < LEAST_EACH || base - came < LEAST_EACH
  const behaviours = tooFew
    ? []
    : plan.names.flatMap((event, place): Behaviour[] => {
        const at = (list: Float64Array) => [...list.subarray(place * MOST_TIMES, (place + 1) * MOST_TIMES)]
        const [all, those] = [at(people), at(reached)]
        const counts = countsOf(all, those, base, came)
        if (counts.length === 0) return []
        const did = counts[0]
        const exactly = [
          { people: base - did.people, came: came - did.came },
          ...all.map((n, i) => ({ people: n, came: those[i] })).slice(0, counts.length),
        ]
        return [{ event, exactly, counts, best: bestOf(counts), trivial: null }]
      })
  adjust(behaviours)
  for (const each of behaviours) each.trivial = trivialOf(each)
  const rank = ({ best, counts }: Behaviour) => (best === null ? -2 : counts[best].phi!.value)
  behaviours.sort((a, b) => rank(b) - rank(a) || (a.event < b.event ? -1 : 1))
  return { kind: 'tipping', base, came, open, behaviours, looked: behaviours.length, tooFew }
}

/** From people by just so many times to people by at least so many. */
function countsOf(all: readonly number[], those: readonly number[], base: number, came: number): TimesFigures[] {
  const counts: TimesFigures[] = []
  let [people, reached] = [0, 0]
  for (let times = MOST_TIMES; times >= 1; times--) {
    people += all[times - 1]
    reached += those[times - 1]
    if (people === 0) continue
    const others = base - people
    const rate = reached / people
    const otherRate = others > 0 ? (came - reached) / others : null
    counts.unshift({
      ...{ times, people, came: reached, share: people / base, rate, otherRate },
      lift: otherRate ? rate / otherRate : null,
      recall: reached / came,
      phi: correlation({ both: reached, first: people, second: came, all: base }),
      p: twoProportions({ part: reached, whole: people }, { part: came - reached, whole: others })?.p ?? null,
    })
  }
  return counts
}

/** The highest phi; of equal ones the smaller count. */
function bestOf(counts: readonly TimesFigures[]): number | null {
  let best: number | null = null
  counts.forEach(({ phi }, place) => {
    if (phi && (best === null || phi.value > counts[best].phi!.value)) best = place
  })
  return best
}

function adjust(behaviours: readonly Behaviour[]): void {
  const tested = behaviours.flatMap(({ counts }) => counts.filter(({ p }) => p !== null))
  const adjusted = benjaminiHochberg(tested.map(({ p }) => p!))
  tested.forEach((figures, i) => (figures.p = adjusted[i]))
}

function trivialOf({ counts, best }: Behaviour): Behaviour['trivial'] {
  const { share, recall } = counts[best ?? 0]
  if (best === null || share > NEARLY_ALL) return 'nearly all'
  if (share < HARDLY_ANY) return 'hardly any'
  return recall === 1 ? 'all who came' : null
}
