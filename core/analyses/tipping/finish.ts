import { correlation, type Correlation } from '../../stats/phi.js'
import { benjaminiHochberg, twoProportions } from '../../stats/proportion.js'
import type { CountsPart, TippingPart } from './scan.js'
import { lookCloser, type Pair, type Within } from './together.js'
import type { TippingPlan } from './plan.js'
import { doneKey, MOST_TIMES, type Done } from './question.js'

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

export interface Behaviour extends Done {
  /** by count, from 0: people who did it just so often, the last one and more, and those of them the outcome came for */
  exactly: { people: number; came: number }[]
  /** by count, from 0: those whose first days are not over, by how often they did it so far; the last and more */
  sofar: number[]
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
  /** who started so lately that their first days are not over */
  left: number
  /** the best of them two by two, by how well both go with the outcome, and each within groups of people */
  pairs: Pair[]
  within: Within[]
  /** events looked at, each at every count */
  looked: number
  tooFew: boolean
}

export const LEAST_BASE = 100
export const LEAST_EACH = 30
export const NEARLY_ALL = 0.95
export const HARDLY_ANY = 0.01

/** So many of the best are looked at two by two, and within groups. */
export const MOST_TOP = 5

export function finishTipping(
  part: TippingPart,
  plan: TippingPlan,
  _question: unknown,
  _context: unknown,
  earlier: readonly TippingPart[] = [],
): TippingResult {
  if (part.pass === 'counts') return { ...rank(part, plan), pairs: [], within: [] }
  const [counts] = earlier
  if (counts?.pass !== 'counts') throw new RangeError('how often each thing was done is not counted')
  return { ...rank(counts, plan), ...lookCloser(part, plan) }
}

/** The plan that looks at the best more closely; null where nothing goes with the outcome, or that has been done. */
export function nextTipping(part: TippingPart, plan: TippingPlan): TippingPlan | null {
  if (part.pass !== 'counts') return null
  const top = rank(part, plan)
    .behaviours.filter(({ trivial, best, counts }) => !trivial && best !== null && counts[best].phi!.value > 0)
    .slice(0, MOST_TOP)
    .map(({ best, counts, ...done }) => ({
      place: plan.behaviours.findIndex((each) => doneKey(each) === doneKey(done)),
      times: counts[best!].times,
    }))
  return top.length > 0 ? { ...plan, closer: { top } } : null
}

/** Behaviours by their best counts. */
function rank(
  { base, came, open, left, people, with: reached, sofar }: CountsPart,
  plan: TippingPlan,
): Omit<TippingResult, 'pairs' | 'within'> {
  const tooFew = base < LEAST_BASE || came < LEAST_EACH || base - came < LEAST_EACH
  const behaviours = tooFew
    ? []
    : plan.behaviours.flatMap((done, place): Behaviour[] => {
        const at = (list: Float64Array) => [...list.subarray(place * MOST_TIMES, (place + 1) * MOST_TIMES)]
        const [all, those] = [at(people), at(reached)]
        const counts = countsOf(all, those, base, came)
        if (counts.length === 0) return []
        const did = counts[0]
        const exactly = [
          { people: base - did.people, came: came - did.came },
          ...all.map((n, i) => ({ people: n, came: those[i] })).slice(0, counts.length),
        ]
        const now = at(sofar)
        const some = now.reduce((sum, n) => sum + n, 0)
        return [{ ...done, exactly, sofar: [left - some, ...now], counts, best: bestOf(counts), trivial: null }]
      })
  adjust(behaviours)
  for (const each of behaviours) each.trivial = trivialOf(each)
  const height = ({ best, counts }: Behaviour) => (best === null ? -2 : counts[best].phi!.value)
  behaviours.sort((a, b) => height(b) - height(a) || (doneKey(a) < doneKey(b) ? -1 : 1))
  return { kind: 'tipping', base, came, open, left, behaviours, looked: behaviours.length, tooFew }
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
