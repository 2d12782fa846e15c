import { lastFull } from './lastFull.js'
import type { Reading } from '../../words/sentence.js'
import { isSides } from '../../questions/groupedBy.js'
import type { GroupKey } from '../../questions/parts.js'
import { CHANGED, SURE } from '../../stats/compared.js'
import { twoProportions, twoSidedP } from '../../stats/proportion.js'
import { SMALL } from '../../stats/small.js'
import { capital, countOf, formatNumber, formatPoints, proseShare } from '../../words/format.js'
import { bucketWords, eventWords, plain, strong, toldGroup, type Finding, type Words } from '../../words/words.js'
import { fewIn, fewWords } from '../few.js'
import type { GrowthResult, GrowthStep } from './finish.js'
import type { GrowthQuestion } from './question.js'
import { intervalName } from './words.js'
import { compareKept } from './compare.js'

/** What growth accounting says: whether more come than go, by whom it is carried, and whether people are kept better. */
export function growthFindings(result: GrowthResult, question: GrowthQuestion, words: Words): Reading {
  const full = result.steps.filter(({ open }) => !open)
  const last = lastFull(result)
  const findings: Finding[] = []
  if (!result.steps.some(({ seen }) => seen > 0))
    return {
      findings: [
        [
          plain('Nobody has done '),
          strong(eventWords(question.start.event, words)),
          plain(' up to this time, as asked.'),
        ],
      ],
      cautions: [],
    }
  if (last) {
    findings.push(sum(last, question))
    findings.push(...groupsSaid(result, question, words))
    if (full.length > 1) findings.push(...ratio(full, question))
    const kept = keptChange(full)
    if (kept) findings.push(kept)
    const worst = mostLapsed(full, question, words)
    if (worst && findings.length < 4) findings.push(worst)
  } else
    findings.push([
      plain(`No ${intervalName(question.interval)} of this time is over yet. `),
      strong('Ask for a longer time'),
      plain(' to see who comes and goes.'),
    ])
  const cautions: Finding[] = []
  const open = result.steps.find((step) => step.open)
  if (open)
    cautions.push([
      plain(`${capital(stepWords(open, question, words))} is not over: who counts as lapsed in it may still come.`),
    ])
  if (result.steps.length > 0 && result.steps[0].before === 0 && result.steps[0].active > 0)
    cautions.push([
      plain('Nobody did it in the interval before the first: everybody in the first one looks new or revived.'),
    ])
  const { interval } = question
  const few = fewIn(
    full.map(({ active }) => active),
    'unit' in interval ? interval.unit : interval,
    ['week', 'month'],
  )
  if (few) cautions.push(fewWords(few, intervalName(interval)))
  return { findings: findings.slice(0, 4), cautions }
}

/** `October`, `the week of 9 Nov`, `the interval of 14 days from 9 Nov`. */
function stepWords({ key }: GrowthStep, { interval }: GrowthQuestion, words: Words): string {
  return 'unit' in interval
    ? bucketWords(key, interval.unit, words)
    : `the ${intervalName(interval)} from ${bucketWords(key, 'day', words)}`
}

function sum(step: GrowthStep, question: GrowthQuestion): Finding {
  const { people, net, active } = step
  const came = people.new + people.revived
  return [
    plain(`In the last full ${intervalName(question.interval)} `),
    strong(countOf(active, 'person', 'people')),
    plain(
      ` ${active === 1 ? 'was' : 'were'} active: ${formatNumber(came)} came or came back and ${formatNumber(people.lapsed)} lapsed, `,
    ),
    strong(
      net > 0 ? `${formatNumber(net)} more` : net < 0 ? `${formatNumber(-net)} fewer` : 'as many',
      differ(came, people.lapsed) ? (net > 0 ? 'gain' : 'loss') : undefined,
    ),
    plain(
      ` ${net === 0 ? 'as' : 'than'} ${'unit' in question.interval ? `the ${question.interval.unit}` : 'the one'} before.`,
    ),
  ]
}

/** Whether of those who came or went more than by chance did one of the two: by the sign test, in its normal form. */
function differ(came: number, went: number): boolean {
  return came + went >= SMALL && twoSidedP((came - went) / Math.sqrt(came + went)) < SURE
}

/** Of which group most of those are who lapsed last, and which groups keep fewer or more than the others. */
function groupsSaid(result: GrowthResult, question: GrowthQuestion, words: Words): Finding[] {
  const { groups, steps, rest } = result
  if (groups.length === 0) return []
  const at = steps.findLastIndex(({ open }) => !open)
  const when = `in the last full ${intervalName(question.interval)}`
  const name = (i: number) => toldGroup(groups[i].key, question.breakdowns, words, rest)
  const found: Finding[] = []
  const named = groups.flatMap(({ key }, i) => ('rest' in key || isNoValue(key) ? [] : [i]))
  const lapsed = (i: number) => groups[i].steps[at].people.lapsed
  const [most, second] = named.sort((a, b) => lapsed(b) - lapsed(a))
  // Of equals none is first; of segments side by side some are in several.
  if (named.length > 1 && lapsed(most) > lapsed(second) && !isSides(question.breakdowns))
    found.push([
      plain(`Of ${formatNumber(steps[at].people.lapsed)} who lapsed ${when}, more are of `),
      strong(name(most)),
      plain(' than of any other group: '),
      strong(formatNumber(lapsed(most)), 'loss'),
      plain(`, of ${formatNumber(groups[most].steps[at].before)} who were active there before.`),
    ])
  const compared = compareKept(question, result, at)
  const told = compared.flatMap((each, i) => (each ? [i] : []))
  if (told.length === 0) return found
  const clear = told
    .filter((i) => (compared[i]!.p ?? 1) < SURE && Math.min(compared[i]!.own.whole, compared[i]!.other.whole) >= SMALL)
    .sort((a, b) => Math.abs(compared[b]!.difference) - Math.abs(compared[a]!.difference))
  if (clear.length === 0)
    return [
      ...found,
      [
        plain(`No group’s retention rate ${when} `),
        strong('differs clearly'),
        plain(isSides(question.breakdowns) ? ` from that of ${name(0)}.` : ' from that of the others.'),
      ],
    ]
  const { own, other, difference } = compared[clear[0]]!
  return [
    ...found,
    [
      strong(name(clear[0])),
      plain(` keeps ${difference < 0 ? 'fewer' : 'more'}: `),
      strong(proseShare(own.part / own.whole), difference < 0 ? 'loss' : 'gain'),
      plain(
        ` were retained ${when}, against ${proseShare(other.part / other.whole)} of ${isSides(question.breakdowns) ? name(0) : 'the others'} (${formatPoints(difference)}).`,
      ),
    ],
  ]
}

const isNoValue = (key: GroupKey) => 'value' in key && key.value === null

/** The quick ratio over all full intervals together, and whether new or kept people carry it. */
function ratio(full: readonly GrowthStep[], question: GrowthQuestion): Finding[] {
  const of = (state: 'new' | 'revived' | 'lapsed' | 'retained') =>
    full.reduce((total, { people }) => total + people[state], 0)
  const [fresh, revived, lapsed, retained] = [of('new'), of('revived'), of('lapsed'), of('retained')]
  if (lapsed === 0) return []
  const quick = (fresh + revived) / lapsed
  const clear = differ(fresh + revived, lapsed)
  const active = fresh + revived + retained
  const many = `${full.length} full ${'unit' in question.interval ? `${question.interval.unit}s` : 'intervals'}`
  const found: Finding[] = [
    [
      plain(`Over the ${many} the quick ratio is `),
      strong(quick.toFixed(2), clear ? (quick < 1 ? 'loss' : 'gain') : undefined),
      plain(
        !clear
          ? fresh + revived + lapsed < SMALL
            ? ': too few came or lapsed to tell which are more.'
            : ': about as many people come or come back as lapse.'
          : quick < 1
            ? ': more people lapse than come or come back.'
            : ': more people come or come back than lapse.',
      ),
    ],
  ]
  const largest = Math.max(fresh, revived, retained)
  const by = largest === retained ? 'kept from the one before' : largest === fresh ? 'new' : 'back after a break'
  found.push([
    plain(largest * 2 > active ? 'Most active people are ' : 'The largest part of active people is '),
    strong(by),
    plain(
      `: ${proseShare(retained / active)} retained, ${proseShare(fresh / active)} new, ${proseShare(revived / active)} revived.`,
    ),
  ])
  return found
}

/** The retention rate of the later half beside that of the earlier, tested. */
function keptChange(full: readonly GrowthStep[]): Finding | null {
  const known = full.filter(({ before }) => before > 0)
  if (known.length < 4) return null
  const half = known.length >> 1
  const rate = (steps: readonly GrowthStep[]) => ({
    part: steps.reduce((total, { people }) => total + people.retained, 0),
    whole: steps.reduce((total, { before }) => total + before, 0),
  })
  const [early, late] = [rate(known.slice(0, half)), rate(known.slice(-half))]
  const test = twoProportions(late, early)
  const difference = late.part / late.whole - early.part / early.whole
  if (!test || test.p >= CHANGED)
    return [
      plain('The retention rate shows '),
      strong('no clear change'),
      plain(
        `: ${proseShare(late.part / late.whole)} in the later half, ${proseShare(early.part / early.whole)} in the earlier.`,
      ),
    ]
  return [
    plain('The retention rate went from '),
    strong(proseShare(early.part / early.whole)),
    plain(' in the earlier half to '),
    strong(proseShare(late.part / late.whole), difference > 0 ? 'gain' : 'loss'),
    plain(` in the later (${formatPoints(difference)}).`),
  ]
}

function mostLapsed(full: readonly GrowthStep[], question: GrowthQuestion, words: Words): Finding | null {
  const worst = full.reduce<GrowthStep | null>(
    (best, step) => (step.people.lapsed > (best?.people.lapsed ?? 0) ? step : best),
    null,
  )
  if (!worst || full.length < 3 || worst.people.lapsed < SMALL) return null
  return [
    plain('Most people lapsed in '),
    strong(stepWords(worst, question, words)),
    plain(': '),
    strong(formatNumber(worst.people.lapsed), 'loss'),
    plain('.'),
  ]
}
