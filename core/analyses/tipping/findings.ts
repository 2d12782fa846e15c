import { SMALL } from '../../stats/small.js'
import { differenceInterval } from '../../stats/difference.js'
import { countOf, formatNumber, proseShare } from '../../words/format.js'
import type { Reading } from '../../words/sentence.js'
import { eventWords, plain, propertyWords, strong, type Finding, type Words } from '../../words/words.js'
import { LEAST_BASE, LEAST_EACH, type Behaviour, type TimesFigures, type TippingResult } from './finish.js'
import type { Reached, Within } from './together.js'
import { doneKey, type TippingQuestion } from './question.js'
import { daysWords, doneWords, oftenWords, outcomeWords } from './words.js'

/** Adjusted over all events and counts that were looked at. */
const CLEAR = 0.01

/** What of the first days goes clearly with the outcome, and what with its contrary. */
export function tippingFindings(result: TippingResult, question: TippingQuestion, words: Words): Reading {
  const { base, came, open } = result
  const goal = `${eventWords(question.goal.event, words)} ${outcomeWords(question.outcome)}`
  const waiting: Finding[] =
    open > 0
      ? [
          [
            plain(
              `${countOf(open, 'person', 'people')} more started, for whom it is not over yet: they are not counted.`,
            ),
          ],
        ]
      : []
  if (result.tooFew) return { findings: [fewOf(result, goal)], cautions: waiting }
  const clear = result.behaviours.filter((each) => isClear(each))
  const forward = clear.filter(({ counts, best }) => counts[best!].phi!.value > 0)
  const against = clear.filter(({ counts, best }) => counts[best!].phi!.value < 0).reverse()
  const name = (each: Behaviour) => doneWords(each, words)
  const often = (times: number) => oftenWords(times, question)
  const findings: Finding[] = [
    [
      strong(formatNumber(came)),
      plain(` of ${countOf(base, 'person', 'people')} did ${goal}, `),
      strong(proseShare(came / base)),
      plain('.'),
    ],
  ]
  const [first, ...others] = forward
  if (first) {
    findings.push(leading(first, question, words), around(first, question), ...withinWords(result, first, words))
    const more = others.slice(0, 3)
    if (more.length > 0)
      findings.push([
        plain('Next: '),
        ...more.flatMap((each, i) => [
          ...(i > 0 ? [plain(', ')] : []),
          strong(`${name(each)} ${often(each.counts[each.best!].times)}`),
          plain(
            ` (${proseShare(each.counts[each.best!].rate)} against ${proseShare(each.counts[each.best!].otherRate!)})`,
          ),
        ]),
        plain('.'),
      ])
    findings.push(...lookAlikes(result, more, question, words), ...pairWords(result, question, words))
  } else
    findings.push([
      plain(
        `Nothing done in ${daysWords(question.days)} goes clearly with it, of ${countOf(result.looked, 'event', 'events')} looked at.`,
      ),
    ])
  if (against.length > 0) {
    const [most] = against
    const figures = most.counts[most.best!]
    findings.push([
      strong(name(most)),
      plain(' goes with the contrary: '),
      strong(proseShare(figures.rate)),
      plain(` of those who did it ${often(figures.times)} or more, against ${proseShare(figures.otherRate!)}.`),
    ])
  }
  const cautions: Finding[] = [
    ...(clear.length > 0
      ? [
          [
            plain(
              'This is association: who would have stayed anyway may do more of everything. An experiment decides.',
            ),
          ],
          ...closeTo(forward, words),
          [
            plain(
              'Counts are the best of those tried, so that among other people the difference is likely to be smaller.',
            ),
          ],
        ]
      : []),
    ...waiting,
  ]
  return { findings, cautions }
}

/** Clear beyond what chance brings among all that is looked at, with enough people on both sides. */
function isClear({ counts, best, trivial }: Behaviour): boolean {
  if (best === null || trivial) return false
  const { p, people, share, phi } = counts[best]
  const others = people / share - people
  return p !== null && p < CLEAR && phi !== null && people >= SMALL && others >= SMALL
}

function leading(behaviour: Behaviour, question: TippingQuestion, words: Words): Finding {
  const figures = behaviour.counts[behaviour.best!]
  const { rate, otherRate, lift, times } = figures
  const between = intervalOf(figures)
  const points = (share: number) => formatNumber(Math.round(share * 1000) / 10)
  return [
    strong(`${doneWords(behaviour, words)} ${oftenWords(times, question)}`),
    plain(` or more in ${daysWords(question.days)} goes with it best: `),
    strong(proseShare(rate)),
    plain(` against ${proseShare(otherRate!)}`),
    plain(
      between
        ? `, ${points(rate - otherRate!)} points more (95 %: ${points(between.low)} to ${points(between.high)})`
        : '',
    ),
    plain(lift === null ? '.' : `, ${lift.toFixed(1)} times as often.`),
  ]
}

function intervalOf({ people, share, rate, otherRate }: TimesFigures) {
  const others = Math.round(people / share) - people
  return differenceInterval(
    { part: Math.round(rate * people), whole: people },
    { part: Math.round((otherRate ?? 0) * others), whole: others },
  )
}

/** The rates below the count and at it: never, less often, so often and more. */
function around({ exactly, counts, best }: Behaviour, question: TippingQuestion): Finding {
  const { times, rate } = counts[best!]
  const [never] = exactly
  const rateOf = ({ people, came }: { people: number; came: number }) => proseShare(came / people)
  const parts = [...(never.people > 0 ? [`never, ${rateOf(never)}`] : [])]
  if (times > 1) {
    const less = exactly
      .slice(1, times)
      .reduce((sum, { people, came }) => ({ people: sum.people + people, came: sum.came + came }), {
        people: 0,
        came: 0,
      })
    if (less.people > 0)
      parts.push(
        `${times === 2 ? oftenWords(1, question) : `1 to ${oftenWords(times - 1, question)}`}, ${rateOf(less)}`,
      )
  }
  return [
    plain(`By how often: ${parts.join('; ')}; ${oftenWords(times, question)} or more, `),
    strong(proseShare(rate)),
    plain('.'),
  ]
}

const reachedWords = (reached: Reached, question: TippingQuestion, words: Words): string =>
  `${doneWords(reached, words)} ${oftenWords(reached.times, question)}`

const byWords = ({ by }: Within, words: Words): string =>
  'property' in by
    ? propertyWords({ of: 'person', name: by.property }, words)
    : `number of ${doneWords(by.often, words)}`

const pointsWords = (share: number) => (share * 100).toFixed(1).replace(/^-/, '−')

/** What is left of the leading difference within kinds of people: the least, and whether that is most of it in all of them. */
function withinWords({ within }: TippingResult, first: Behaviour, words: Words): Finding[] {
  const own = within.filter(({ of, by }) => doneKey(of) === doneKey(first) && 'property' in by)
  if (own.length === 0) return []
  const [least] = own.toSorted((a, b) => a.left.difference - b.left.difference)
  const left = `${pointsWords(least.left.difference)} of its ${pointsWords(least.difference)} points are left (${pointsWords(least.left.low)} to ${pointsWords(least.left.high)})`
  if (own.every(({ holds }) => holds === 'yes'))
    return [
      [
        plain(
          own.length > 1
            ? `It holds among people alike: even within ${byWords(least, words)}, which of ${own.length} properties leaves least, `
            : `It holds among people alike: within ${byWords(least, words)} `,
        ),
        strong(left),
        plain('.'),
      ],
    ]
  const isGone = least.holds === 'no'
  return [
    [
      plain(`Compared only among people of the same ${byWords(least, words)}, `),
      strong(left),
      plain(isGone ? ': most of it says who they are, more than what they did.' : ': whether it holds cannot be told.'),
    ],
  ]
}

/** What only goes with the outcome because the best one does, or because of who people are. */
function lookAlikes(
  { within }: TippingResult,
  told: readonly Behaviour[],
  question: TippingQuestion,
  words: Words,
): Finding[] {
  const gone = within.filter(
    ({ of, holds, left }) =>
      told.some((each) => doneKey(each) === doneKey(of)) && (holds === 'no' || (holds === 'unclear' && left.low <= 0)),
  )
  const seen = new Set<string>()
  return gone
    .filter(({ of }) => !seen.has(doneKey(of)) && seen.add(doneKey(of)))
    .map((each): Finding => [
      strong(reachedWords(each.of, question, words)),
      plain(
        ` ${each.holds === 'no' ? 'tells little' : 'may tell nothing'} among people of the same ${byWords(each, words)}: `,
      ),
      plain(
        `${pointsWords(each.left.difference)} of its ${pointsWords(each.difference)} points are left (${pointsWords(each.left.low)} to ${pointsWords(each.left.high)}).`,
      ),
    ])
}

/** The best two together, where both go with it clearly more than the one alone. */
function pairWords({ pairs }: TippingResult, question: TippingQuestion, words: Words): Finding[] {
  const [best] = pairs
  if (!best?.more || best.more.p >= CLEAR || best.more.difference <= 0) return []
  const { one, other, both, onlyOne, none } = best
  if (both.people < SMALL || onlyOne.people < SMALL) return []
  return [
    [
      plain(
        `Both ${reachedWords(one, question, words)} and ${reachedWords(other, question, words)} go with it more than the first alone: `,
      ),
      strong(proseShare(both.came / both.people)),
      plain(` against ${proseShare(onlyOne.came / onlyOne.people)}`),
      plain(none.people > 0 ? `, and ${proseShare(none.came / none.people)} of those who did neither.` : '.'),
    ],
  ]
}

function fewOf({ base, came }: TippingResult, goal: string): Finding {
  if (base === 0) return [plain('Nobody started in this time whose outcome is known yet.')]
  const lack =
    base < LEAST_BASE
      ? `Only ${countOf(base, 'person', 'people')} can be looked at`
      : came < LEAST_EACH
        ? `Only ${formatNumber(came)} of ${countOf(base, 'person', 'people')} did ${goal}`
        : `All but ${formatNumber(base - came)} of ${countOf(base, 'person', 'people')} did ${goal}`
  return [
    plain(
      `${lack}: too few to rank anything. At least ${LEAST_BASE} people are needed, ${LEAST_EACH} of them with the outcome and ${LEAST_EACH} without.`,
    ),
  ]
}

/** Where the second comes as near as the first may be by chance, the order of the two says nothing. */
function closeTo([first, second]: readonly Behaviour[], words: Words): Finding[] {
  if (!first || !second) return []
  const [one, other] = [first, second].map(({ counts, best }) => counts[best!].phi!)
  if (other.value < one.low) return []
  const name = (each: Behaviour) => doneWords(each, words)
  return [[plain(`${name(second)} comes as near as ${name(first)}: which of them is first may be chance.`)]]
}
