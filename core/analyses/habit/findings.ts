import { isSides } from '../../questions/groupedBy.js'
import { CHANGED } from '../../stats/compared.js'
import { SMALL } from '../../stats/small.js'
import type { Reading } from '../../words/sentence.js'
import { benjaminiHochberg, twoProportions, twoSidedP } from '../../stats/proportion.js'
import { countOf, formatNumber, formatPoints, joinWords, proseShare } from '../../words/format.js'
import { eventWords, plain, strong, toldGroup, type Finding, type Words } from '../../words/words.js'
import { periodPhrase, daysPhrase, placeWords } from './words.js'
import { withDays, type HabitResult, type HabitRow } from './finish.js'
import { watchedOf, type HabitQuestion } from './question.js'

/** What a habit says: how often people turn up, whether the core grows, which group differs, and on which days. */
export function habitFindings(result: HabitResult, question: HabitQuestion, words: Words): Reading {
  const { all, groups, periods, unit, period } = result
  const event = eventWords(question.start.event, words)
  if (periods.length === 0)
    return {
      findings: [
        [
          plain(`No ${period} of the time asked about is over and whole. `),
          strong('Ask for a longer time'),
          plain(', or a shorter period.'),
        ],
      ],
      cautions: [],
    }
  if (all.active === 0)
    return { findings: [[plain('Nobody did '), strong(event), plain(' in this time, as asked.')]], cautions: [] }
  const watched = watchedOf(question)
  const { days, more } = watched
  const share = (n: number, orMore: boolean) => proseShare(withDays(all.exactly, n, orMore) / all.active)
  const { core } = question
  const findings: Finding[] = [
    [
      plain(`People who turn up do so on `),
      strong(`${formatNumber(Number(all.average!.toPrecision(3)))} ${unit}s`),
      plain(` in ${periodPhrase(period)} on average; `),
      strong(proseShare(all.exactly[0] / all.active)),
      plain(` on one ${unit} only.`),
    ],
    [
      plain(watched.core === null ? '' : `${watched.core}: `),
      strong(share(days, more)),
      plain(` turn up on ${exactWords(daysPhrase(days, unit, more), more)}`),
      // Where another number is looked at than the one with a name, both are said.
      ...(core && watched.core === null
        ? [plain(`; ${core.name}, on ${daysPhrase(core.days, unit, true)}: `), strong(share(core.days, true))]
        : []),
      plain('.'),
    ],
  ]
  const change = changeOf(all, watched)
  if (change)
    findings.push(change(watched.core ?? `those with ${exactWords(daysPhrase(days, unit, more), more)}`, period))
  findings.push(...groupFindings(question, words, watched, result))
  if (groups.length === 0 && all.pattern.length > 0) {
    const weekday = busiest(result)
    if (weekday) findings.push(weekday)
  }
  const cautions: Finding[] = []
  const small = groups.filter(({ active }) => active < SMALL).length
  if (small > 0)
    cautions.push([
      plain(`${countOf(small, 'group has', 'groups have')} under ${SMALL} person-periods: read with care.`),
    ])
  if (periods.length < 3)
    cautions.push([plain(`Only ${countOf(periods.length, 'period is', 'periods are')} over and whole in this time.`)])
  if (groups.reduce((sum, { active }) => sum + active, 0) > all.active && !isSides(question.breakdowns))
    cautions.push([
      plain('Some people are in several groups, each with its own days: the groups together are more than all.'),
    ])
  return { findings: findings.slice(0, 4), cautions }
}

type Watched = ReturnType<typeof watchedOf>

const exactWords = (phrase: string, more: boolean) => (more ? phrase : `exactly ${phrase}`)

/** The later half of the periods beside the earlier one. */
function changeOf(all: HabitRow, { days, more }: Watched): ((who: string, period: string) => Finding) | null {
  if (all.periods.length < 4) return null
  const half = all.periods.length >> 1
  const rate = (list: readonly number[][]) => ({
    part: list.reduce((sum, each) => sum + withDays(each, days, more), 0),
    whole: list.reduce((sum, each) => sum + withDays(each, 1, true), 0),
  })
  const [early, late] = [rate(all.periods.slice(0, half)), rate(all.periods.slice(-half))]
  if (!(early.whole > 0 && late.whole > 0)) return null
  const test = twoProportions(late, early)
  const difference = late.part / late.whole - early.part / early.whole
  return (who) =>
    !test || test.p >= CHANGED
      ? [
          plain(`The share of ${who} shows `),
          strong('no clear change'),
          plain(' from the earlier half of the time to the later.'),
        ]
      : [
          plain(`The share of ${who} went from `),
          strong(proseShare(early.part / early.whole)),
          plain(' in the earlier half of the time to '),
          strong(proseShare(late.part / late.whole), difference > 0 ? 'gain' : 'loss'),
          plain(` in the later (${formatPoints(difference)}).`),
        ]
}

function groupFindings(
  { breakdowns }: HabitQuestion,
  words: Words,
  { days, more }: Watched,
  { groups, all, unit, rest }: HabitResult,
): Finding[] {
  const said = exactWords(daysPhrase(days, unit, more), more)
  if (groups.length < 2) return []
  const compared = groups.map((row) => {
    const own = { part: withDays(row.exactly, days, more), whole: row.active }
    const other = { part: withDays(all.exactly, days, more) - own.part, whole: all.active - own.whole }
    return { row, own, other, test: own.whole >= SMALL && other.whole >= SMALL ? twoProportions(own, other) : null }
  })
  const tested = compared.filter(({ test }) => test !== null)
  const ps = benjaminiHochberg(tested.map(({ test }) => test!.p))
  const clear = tested.filter((_each, i) => ps[i] < 0.05).sort((a, b) => Math.abs(b.test!.z) - Math.abs(a.test!.z))
  if (clear.length === 0) return [[plain('No group '), strong('differs clearly'), plain(` in the share with ${said}.`)]]
  return clear.slice(0, 1).map(({ row, own, other }): Finding => {
    const isMore = own.part / own.whole > other.part / other.whole
    return [
      strong(toldGroup(row.key!, breakdowns, words, rest)),
      plain(': '),
      strong(proseShare(own.part / own.whole), isMore ? 'gain' : 'loss'),
      plain(` turn up on ${said}, against ${proseShare(other.part / other.whole)} of the others.`),
    ]
  })
}

/** Differences smaller than this share are not worth a sentence. */
const LEAST_CHANGE = 0.1

/**
 * The weekday or hour on which most people turn up, where it is clearly ahead of the one with the fewest: by the z-test of
 * two counts, each over its own number of days, adjusted for all pairs that there are (Bonferroni).
 */
function busiest({ all, times, unit }: HabitResult): Finding | null {
  const each = all.pattern.map(({ days }, place) => (times[place] > 0 ? days / times[place] : 0))
  const most = each.indexOf(Math.max(...each))
  const least = each.indexOf(Math.min(...each))
  const variance = (place: number) => (times[place] > 0 ? all.pattern[place].days / times[place] ** 2 : 0)
  const z = (each[most] - each[least]) / Math.sqrt(variance(most) + variance(least))
  const pairs = (each.length * (each.length - 1)) / 2
  if (!(twoSidedP(z) * pairs < 0.05) || each[most] < each[least] * (1 + LEAST_CHANGE)) return null
  const write = (place: number) => formatNumber(Math.round(each[place]))
  const few = each.flatMap((_n, place) => (write(place) === write(least) ? [place] : []))
  const fewest =
    few.length > 3
      ? `${write(least)} on each of ${few.length} ${unit === 'hour' ? 'hours' : 'weekdays'}`
      : `fewest ${joinWords(
          few.map((place) => placeWords(place, unit)),
          'and',
        )}: ${write(least)}`
  return [
    plain('Most people turn up '),
    strong(placeWords(most, unit)),
    plain(`: ${write(most)} on average; ${fewest}.`),
  ]
}
