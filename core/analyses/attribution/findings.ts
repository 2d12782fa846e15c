import { benjaminiHochberg, twoSidedP } from '../../stats/proportion.js'
import { SMALL } from '../../stats/small.js'
import { MANY_SURE } from '../../stats/sure.js'
import { countOf, formatDay, formatDuration, formatNumber, formatPoints, proseShare } from '../../words/format.js'
import type { Reading } from '../../words/sentence.js'
import { plain, strong, type Finding, type Words } from '../../words/words.js'
import type { AttributionResult, GoalCredit } from './finish.js'
import { costEach } from './costWords.js'
import { weightsOf } from './credit.js'
import { creditsOf } from './credits.js'
import { isOfAll, leadOf, type Model, type AttributionQuestion } from './question.js'
import { lookBackWords, modelWords, pickedWords, sayCredit, touchByWords, touchWords, worthWords } from './words.js'

/** More without a touch than this, or in everything else, is told of. */
const MUCH = 0.25

/** What the credit says: who brings most, for whom the model matters, how many touches it takes, what nobody knows. */
export function attributionFindings(result: AttributionResult, question: AttributionQuestion, words: Words): Reading {
  const [goal] = result.goals
  const name = pickedWords(question.goals[0], words)
  if (goal.all.conversions === 0)
    return { findings: [[plain('Nobody did '), strong(name), plain(' in this time, as asked.')]], cautions: [] }
  const touched = goal.all.conversions - goal.all.noneConversions
  return {
    findings:
      touched === 0
        ? []
        : [
            ...most(result, question, words),
            ...between(result, question, words),
            ...shifted(result, question, words),
            ...touchesOf(goal),
            ...removed(result, question, words),
            ...costFinding(result, question, words),
          ],
    cautions: [...cautionsOf(result, question, words), ...costCautions(result, words)],
  }
}

const nameOf = (result: AttributionResult, question: AttributionQuestion, value: number, words: Words) =>
  touchWords(result.values[value], question.by, undefined, words)

/** Who has the largest part of what has a touch. */
function most(result: AttributionResult, question: AttributionQuestion, words: Words): Finding[] {
  const [goal] = result.goals
  const lead = leadOf(question)
  const credits = creditsOf(goal, goal.all, lead)
  if (!credits || lead === 'participation' || !(goal.all.worth > 0)) return []
  const top = largest(credits, result)
  if (top === null) return []
  return [
    [
      plain(`By ${modelWords(lead)} `),
      strong(nameOf(result, question, top, words)),
      plain(' has more than any other by itself: '),
      strong(sayCredit(credits[top])),
      plain(` of ${sayCredit(goal.all.worth)} ${worthWords(question, words)}, `),
      strong(proseShare(credits[top] / goal.all.worth)),
      plain('.'),
    ],
  ]
}

/** The place of the largest, of single values; null where two share that place, or there is none. */
function largest(numbers: readonly number[], { values }: AttributionResult): number | null {
  let top: number | null = null
  let isShared = false
  numbers.forEach((number, place) => {
    if ('rest' in values[place]) return
    if (top === null || number > numbers[top]) [top, isShared] = [place, false]
    else if (number === numbers[top]) isShared = true
  })
  return isShared ? null : top
}

/**
 * Of two conversions: who has another part of the second than of the first, where each person converts but once, as those
 * of one person are alike. Shares of credit have no more variance than those of whole people; as many of them did both, the
 * real one is less still.
 */
function between(result: AttributionResult, question: AttributionQuestion, words: Words): Finding[] {
  if (result.goals.length < 2) return []
  const model = question.models.find((each) => !isOfAll(each) && each !== 'participation')
  if (model === undefined) return []
  const [one, other] = result.goals
  if (typeof question.worth === 'object') return []
  if (question.worth === undefined && [one, other].some(({ all }) => all.conversions > all.people)) return []
  if (Math.min(one.all.people, other.all.people) < SMALL || !(one.all.worth > 0) || !(other.all.worth > 0)) return []
  const shares = [one, other].map((goal) => creditsOf(goal, goal.all, model)!.map((credit) => credit / goal.all.worth))
  const tests = result.values.map((key, value) => {
    const [p, q] = [shares[0][value], shares[1][value]]
    const [n, m] = [one.all.people, other.all.people]
    const pooled = (p * n + q * m) / (n + m)
    const spread = Math.sqrt(pooled * (1 - pooled) * (1 / n + 1 / m))
    return 'rest' in key || !(spread > 0) ? 1 : twoSidedP((q - p) / spread)
  })
  const adjusted = benjaminiHochberg(tests)
  const sure = result.values
    .map((_, value) => ({ value, by: shares[1][value] - shares[0][value] }))
    .filter(({ value }) => adjusted[value] < MANY_SURE)
    .sort((a, b) => b.by - a.by)
  const names = question.goals.map((goal) => pickedWords(goal, words))
  // Who brings more of the one, and who more of the other.
  const told = [sure.find(({ by }) => by > 0), sure.findLast(({ by }) => by < 0)].filter((each) => each !== undefined)
  return told.map(({ value }) => [
    strong(nameOf(result, question, value, words)),
    plain(` has ${proseShare(shares[0][value])} of ${names[0]} and `),
    strong(proseShare(shares[1][value])),
    plain(` of ${names[1]}, by ${modelWords(model)}.`),
  ])
}

/** For whom it matters most whether the first or the last touch has the credit, where that is more than chance. */
function shifted(result: AttributionResult, question: AttributionQuestion, words: Words): Finding[] {
  const [goal] = result.goals
  const { all } = goal
  const models = question.models.filter((model) => !isOfAll(model) && model !== 'participation')
  const [lead, ...others] = models
  if (others.length === 0 || !(all.worth > 0)) return []
  const early = earlyValues(goal, result)
  const base = creditsOf(goal, all, lead)!
  const shifts = others.flatMap((model) =>
    creditsOf(goal, all, model)!.flatMap((credit, value) =>
      // Only what its place among the touches explains.
      early[value] * Math.sign(earlyOf(model) - earlyOf(lead)) * (credit - base[value]) > 0
        ? [{ model, value, by: (credit - base[value]) / all.worth }]
        : [],
    ),
  )
  const found = shifts.sort((a, b) => Math.abs(b.by) - Math.abs(a.by) || b.by - a.by)[0]
  if (!found || Math.abs(found.by) < 0.005) return []
  const { value, by, model } = found
  return [
    [
      strong(nameOf(result, question, value, words)),
      plain(by > 0 ? ' gains ' : ' loses '),
      strong(formatPoints(Math.abs(by)).replace(/^\+/, '')),
      plain(
        ` by ${modelWords(model)} against ${modelWords(lead)}: it comes ${early[value] > 0 ? 'early' : 'late'}, the first touch ${countOf(goal.all.credit[value].firstTouches, 'time', 'times')}, the last ${countOf(goal.all.credit[value].lastTouches, 'time', 'times')}.`,
      ),
    ],
  ]
}

/**
 * By value: 1 = it begins more often than it closes, −1 = it closes more often, 0 = that may be chance. Of the conversions
 * with several touches in which it is one end. All of a person's stand together, as heads or tails of their whole difference:
 * conversions of one person are alike, and some have many.
 */
function earlyValues({ all, leaning }: GoalCredit, { values }: AttributionResult): number[] {
  const tests = all.credit.map(({ firstTouches, lastTouches }, value) => {
    const { people, squares } = leaning[value]
    return people < SMALL ? 0 : (firstTouches - lastTouches) / Math.sqrt(squares)
  })
  const adjusted = benjaminiHochberg(tests.map(twoSidedP))
  return tests.map((z, value) => ('rest' in values[value] || adjusted[value] >= MANY_SURE ? 0 : Math.sign(z)))
}

/** Whether a model gives more to the first touch or to the last: −1 = all to the last, 1 = all to the first. */
function earlyOf(model: Model): number {
  const weights = weightsOf(model)
  if (weights) return weights[0] - weights[2]
  return model === 'first' ? 1 : model === 'last' || model === 'last other' ? -1 : model === 'decay' ? -0.5 : 0
}

function touchesOf({ touches, median, all }: GoalCredit): Finding[] {
  const touched = all.conversions - all.noneConversions
  const several = touched - touches[1]
  return [
    [
      strong(proseShare(several / touched)),
      plain(` of conversions with a touch have several. `),
      ...(median === null
        ? []
        : [plain('Half of them come within '), strong(formatDuration(median)), plain(' of the first touch.')]),
    ],
  ]
}

/** The largest removal effect, with its interval. */
function removed(result: AttributionResult, question: AttributionQuestion, words: Words): Finding[] {
  const [{ removal, all }] = result.goals
  if (!removal || !question.models.includes('removal')) return []
  const top = largest(
    removal.map(({ value }) => value),
    result,
  )
  if (top === null) return []
  const { value, low, high, effect } = removal[top]
  const others = removal
    .map((own, place) => ({ ...own, place }))
    .filter((own) => own.place !== top && own.high > low && !('rest' in result.values[own.place]))
  return [
    [
      plain('By removal effect '),
      strong(nameOf(result, question, top, words)),
      plain(
        ` has ${sayCredit(value)} of ${sayCredit(all.worth - all.none)} (95 %: ${sayCredit(low)} to ${sayCredit(high)}); without it `,
      ),
      strong(proseShare(effect)),
      plain(` of what its chain converts would be lost.`),
      ...(others.length > 0
        ? [
            plain(
              ` Its interval overlaps that of ${nameOf(result, question, others[0].place, words)}: which of them is larger is not settled.`,
            ),
          ]
        : []),
    ],
  ]
}

function cautionsOf(result: AttributionResult, question: AttributionQuestion, words: Words): Finding[] {
  const [goal] = result.goals
  const { all } = goal
  const touched = all.conversions - all.noneConversions
  const name = touchByWords(question.by, words)
  const cautions: Finding[] = []
  if (touched === 0)
    cautions.push([
      plain(
        `No touch was found for any of ${countOf(all.conversions, 'conversion', 'conversions')}: no event in the look-back carries ${name}${question.leftOut ? ', beside what is left out' : ''}. Look back further, or tell touches apart by something else.`,
      ),
    ])
  else if (touched < SMALL)
    cautions.push([
      plain(`Only ${countOf(touched, 'conversion has', 'conversions have')} a touch: one more or less says little.`),
    ])
  if (touched > 0 && all.noneConversions / all.conversions > MUCH)
    cautions.push([
      strong(proseShare(all.noneConversions / all.conversions)),
      plain(
        ` of conversions have no touch found within ${lookBackWords(question.lookBack)}: of them nothing is said here.`,
      ),
    ])
  if (goal.self > 0)
    cautions.push([
      strong(proseShare(goal.self / all.conversions)),
      plain(
        ` of conversions are their own last touch, for ${pickedWords(question.goals[0], words)} carries ${name} itself. To leave that out, say which events are touches.`,
      ),
    ])
  const rest = result.values.findIndex((key) => 'rest' in key)
  const lead = creditsOf(goal, all, leadOf(question))
  if (rest >= 0 && lead && all.worth > 0 && lead[rest] / all.worth > MUCH)
    cautions.push([
      strong(proseShare(lead[rest] / all.worth)),
      plain(` stands in everything else, ${countOf(result.restValues, 'further value', 'further values')} of ${name}.`),
    ])
  if (question.models.includes('last other') && !result.direct.includes(true))
    cautions.push([plain('Nothing is said to be direct, so “last other than direct” is the same as last touch.')])
  return cautions
}

/** By the model that rows are ordered by: who costs most and least for each conversion, or brings back most and least. */
function costFinding(result: AttributionResult, question: AttributionQuestion, words: Words): Finding[] {
  const { cost } = result
  const lead = leadOf(question)
  const [goal] = result.goals
  const credits = creditsOf(goal, goal.all, lead)
  if (!cost || !credits || lead === 'participation') return []
  const known = result.values.flatMap((_key, place) => {
    const amount = cost.amounts[place]
    return amount !== null && amount > 0 && goal.all.credit[place].people >= SMALL && credits[place] > 0
      ? [{ place, amount, each: amount / credits[place] }]
      : []
  })
  if (known.length === 0) return []
  known.sort((a, b) => a.each - b.each)
  const isSum = typeof question.worth === 'object'
  const said = ({ place, amount }: (typeof known)[number]) =>
    isSum
      ? `${formatNumber(credits[place] / amount)} times what was paid`
      : costEach(amount, credits[place], question, words)
  const named = (one: (typeof known)[number]) => strong(nameOf(result, question, one.place, words))
  const [least] = known
  const most = known[known.length - 1]
  return [
    [
      plain(`By ${modelWords(lead)} `),
      named(least),
      ...(result.goals.length > 1 ? [plain(` for ${pickedWords(question.goals[0], words)}`)] : []),
      ...(known.length === 1 || most.each === least.each
        ? [plain(isSum ? ' brings back ' : ' costs '), strong(said(least)), plain('.')]
        : [
            plain(isSum ? ' brings back most, ' : ' costs least, '),
            strong(said(least)),
            plain('; '),
            named(most),
            plain(isSum ? ' least, ' : ' most, '),
            strong(said(most)),
            plain('.'),
          ]),
    ],
  ]
}

function costCautions({ cost }: AttributionResult, words: Words): Finding[] {
  if (!cost || cost.missingDays === 0 || cost.missingDays === cost.days) return []
  const [first] = cost.missing
  const day = (text: string) => formatDay(text, words.thisYear)
  return [
    [
      plain(
        `No cost is recorded for ${countOf(cost.missingDays, 'day', 'days')} of ${formatNumber(cost.days)}, first for ${day(first.from)}: what a conversion cost is told too low.`,
      ),
    ],
  ]
}
