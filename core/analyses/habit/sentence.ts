import type { Reading, SentencePart } from '../../words/sentence.js'
import { benjaminiHochberg, SMALL, twoProportions, twoSidedP } from '../../stats/proportion.js'
import { quoted } from '../../words/exact.js'
import { countOf, formatNumber, formatPoints, joinWords, proseShare } from '../../words/format.js'
import {
  eventWords,
  filterWords,
  groupWords,
  plain,
  rangeWords,
  splitWords,
  strong,
  type Finding,
  type Words,
} from '../../words/words.js'
import type { Unit } from '../../time/range.js'
import { periodPhrase, daysPhrase, placeWords } from './words.js'
import { amongParts } from '../peopleWords.js'
import { withDays, type HabitResult, type HabitRow } from './finish.js'
import { daysOf, HABIT_UNITS, type HabitQuestion } from './question.js'

/** "How many days in a week do people do X over the last 12 weeks?" */
export function habitSentence(question: HabitQuestion, words: Words): SentencePart[] {
  const { start, period, core, breakdowns } = question
  const range = rangeWords(question.range, words)
  const { unit } = HABIT_UNITS[period]
  const parts: SentencePart[] = [
    { text: 'How many ' },
    { text: `${unit}s in ${periodPhrase(period)}`, token: 'period', tone: 'hazel', path: 'period' },
    { text: ' do people do ' },
    { text: eventWords(start.event, words), token: 'event', tone: 'water', path: 'start.event' },
  ]
  if (start.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(start.where, words), token: 'where', tone: 'water', path: 'start.where' },
    )
  parts.push({ text: ` ${range.lead}` }, { text: range.text, token: 'range', tone: 'hazel', path: 'range' })
  if (core)
    parts.push(
      { text: ', with ' },
      {
        text: `${words.full ? quoted(core.name) : `“${core.name}”`} at ${daysPhrase(core.days, unit, true)}`,
        token: 'core',
        tone: 'hazel',
        path: 'core',
      },
    )
  const breakdown = breakdowns?.[0]
  if (breakdown) {
    const kept = words.full && breakdown.keep !== 10 ? ` (the ${breakdown.keep} largest)` : ''
    const text = splitWords(breakdown.by, words) + kept
    parts.push({ text: ', for each ' }, { text, token: 'breakdown', tone: 'water', path: 'breakdowns' })
  }
  return [...parts, ...amongParts(question, words), { text: '?' }]
}

/** By what a period's key is said. */
export function bucketUnit(period: HabitQuestion['period']): Unit {
  return period === '4 weeks' || period === '8 weeks' ? 'week' : period
}

/** Exactly how the numbers are counted, with the settings in force. */
export function explainHabit(question: HabitQuestion, zone: string, words: Words): string[] {
  const { period, breakdowns, start } = question
  const { unit } = HABIT_UNITS[period]
  const event = eventWords(start.event, words)
  const one = period === 'day' || period === 'week' || period === 'month' ? period : 'span of weeks'
  const text = [
    `For every ${one} in the time asked about that is over and whole, and every person who did ${event} in it: on how many different ${unit}s they did. One person in one ${one} is a person-${one}; shares are of those, over all ${one}s together.`,
    period === '4 weeks' || period === '8 weeks'
      ? `The weeks are put together ${period.slice(0, 1)} by ${period.slice(0, 1)} from the last whole one backwards; a shorter first piece is left out.`
      : `A ${one} that is still running, or that the time asked about cuts, is left out.`,
    `${unit === 'hour' ? 'Hours' : unit === 'day' ? 'Days' : 'Weeks'} are cut in ${zone}. At least 1 is everybody who turned up at all: 100 %.`,
    'The people of a bar are those with at least one such period: they are fewer than the person-periods, for one person has several.',
  ]
  if (breakdowns?.[0])
    text.push(
      'A property of the event is read from each event counted, so a person may be in several groups, each with its own days; a profile property is read at its latest value. Groups are ranked by person-periods.',
    )
  return text
}

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
  const days = daysOf(question)
  const more = withDays(all.exactly, days, true)
  const name = question.core ? `${question.core.name}: ` : ''
  const findings: Finding[] = [
    [
      plain(`People who turn up do so on `),
      strong(`${formatNumber(Number(all.average!.toPrecision(3)))} ${unit}s`),
      plain(` in ${periodPhrase(period)} on average; `),
      strong(proseShare(all.exactly[0] / all.active)),
      plain(` on one ${unit} only.`),
    ],
    [plain(name), strong(proseShare(more / all.active)), plain(` turn up on ${daysPhrase(days, unit, true)}.`)],
  ]
  const change = changeOf(all, days)
  if (change) findings.push(change(question.core?.name ?? `those with ${daysPhrase(days, unit, true)}`, period))
  findings.push(...groupFindings(groups, days, result))
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
  if (groups.reduce((sum, { active }) => sum + active, 0) > all.active && question.breakdowns?.[0].by.of !== 'segments')
    cautions.push([
      plain('Some people are in several groups, each with its own days: the groups together are more than all.'),
    ])
  return { findings: findings.slice(0, 4), cautions }
}

/** The later half of the periods beside the earlier one. */
function changeOf(all: HabitRow, days: number): ((who: string, period: string) => Finding) | null {
  if (all.periods.length < 4) return null
  const half = all.periods.length >> 1
  const rate = (list: readonly number[][]) => ({
    part: list.reduce((sum, each) => sum + withDays(each, days, true), 0),
    whole: list.reduce((sum, each) => sum + withDays(each, 1, true), 0),
  })
  const [early, late] = [rate(all.periods.slice(0, half)), rate(all.periods.slice(-half))]
  if (!(early.whole > 0 && late.whole > 0)) return null
  const test = twoProportions(late, early)
  const difference = late.part / late.whole - early.part / early.whole
  return (who) =>
    !test || test.p >= 0.05
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

function groupFindings(groups: readonly HabitRow[], days: number, { all, unit, rest }: HabitResult): Finding[] {
  if (groups.length < 2) return []
  const compared = groups.map((row) => {
    const own = { part: withDays(row.exactly, days, true), whole: row.active }
    const other = { part: withDays(all.exactly, days, true) - own.part, whole: all.active - own.whole }
    return { row, own, other, test: own.whole >= SMALL && other.whole >= SMALL ? twoProportions(own, other) : null }
  })
  const tested = compared.filter(({ test }) => test !== null)
  const ps = benjaminiHochberg(tested.map(({ test }) => test!.p))
  const clear = tested.filter((_each, i) => ps[i] < 0.05).sort((a, b) => Math.abs(b.test!.z) - Math.abs(a.test!.z))
  if (clear.length === 0)
    return [
      [plain('No group '), strong('differs clearly'), plain(` in the share with ${daysPhrase(days, unit, true)}.`)],
    ]
  return clear.slice(0, 1).map(({ row, own, other }): Finding => {
    const isMore = own.part / own.whole > other.part / other.whole
    return [
      strong(groupWords(row.key!, rest)),
      plain(': '),
      strong(proseShare(own.part / own.whole), isMore ? 'gain' : 'loss'),
      plain(
        ` turn up on ${daysPhrase(days, unit, true)}, against ${proseShare(other.part / other.whole)} of the others.`,
      ),
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
