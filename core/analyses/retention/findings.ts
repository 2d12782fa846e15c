import { isSides } from '../../questions/groupedBy.js'
import { SMALL } from '../../stats/small.js'
import { periodAt } from './periodAt.js'
import type { Reading } from '../../words/sentence.js'
import {
  WEEKDAYS,
  bucketWords,
  eventWords,
  plain,
  strong,
  type Finding,
  type Words,
  toldGroup,
} from '../../words/words.js'
import { capital, countOf, formatNumber, formatPoints, joinWords, proseShare } from '../../words/format.js'
import { CHANGED, SURE, type Compared } from '../../stats/compared.js'
import { compareCohorts, compareGroups, compareHalves } from './compare.js'
import type { LinePoint, RetentionResult } from './finish.js'
import { backOf, type RetentionQuestion } from './question.js'
import { periodMeaning } from './sentence.js'
import { duringWords, periodWords } from './words.js'

/** What a retention says: how many come back, where the curve levels off, and which cohort, time or group differs. */
export function retentionFindings(result: RetentionResult, question: RetentionQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const { all } = result
  if (all.people === 0) {
    const what = question.first ? ' for the first time ever' : ''
    return {
      findings: [
        [
          plain('Nobody did '),
          strong(eventWords(question.start.event, words)),
          plain(`${what} in this time, as asked.`),
        ],
      ],
      cautions: [],
    }
  }
  const at = periodAt(question, result)
  // Over time one period is looked at, and it is the one that is spoken of.
  const overTime = question.show.form === 'over time'
  const early = overTime ? at : firstOf(question, result)
  const level = overTime ? null : question.count === 'from' || question.brackets ? null : levelOf(all.line)
  findings.push(...curve(question, result, early, level, words))
  if (question.breakdowns) findings.push(...groups(question, result, at, words))
  else if (question.first) {
    const cohort = oddCohort(question, result, early, words)
    if (cohort) findings.push(cohort)
  }
  const change = question.first ? compareHalves(result, early) : null
  if (change && result.measure === 'share') findings.push(halves(question, result, early, change))
  return { findings: findings.slice(0, 4), cautions: cautions(question, result) }
}

/** The first period after the start's own, or the first span of days that does not hold day 0. */
function firstOf({ brackets }: RetentionQuestion, { periods }: RetentionResult): number {
  const found = brackets ? periods.findIndex(([low]) => low > 0) : 1
  return Math.max(0, Math.min(found < 0 ? 0 : found, periods.length - 1))
}

function curve(
  question: RetentionQuestion,
  { all, periods }: RetentionResult,
  early: number,
  level: Level | null,
  words: Words,
): Finding[] {
  const point = all.line[early]
  const when = `${duringWords(question, periods[early])}${question.count === 'from' ? ' or later' : ''}`
  if (point.people === 0)
    return [
      [
        strong(countOf(all.people, 'person', 'people')),
        plain(
          ' started, and no cohort is old enough to tell how many came back. Ask for a longer time, or shorter units.',
        ),
      ],
    ]
  const share = point.returned / point.people
  const first: Finding = [
    strong(proseShare(share)),
    plain(
      ` of ${formatNumber(point.people)} people did ${question.back ? eventWords(backOf(question).event, words) : 'it again'} ${when}`,
    ),
  ]
  if (question.show.form === 'over time') return [[...first, plain('.')]]
  if (!level) {
    const last = lastKnown(all.line)
    if (last === null || last <= early) return [[...first, plain('.')]]
    const end = all.line[last]
    const fell = share - end.returned / end.people
    return [
      [
        ...first,
        plain(', '),
        strong(proseShare(end.returned / end.people), fell > 0 ? 'loss' : 'gain'),
        plain(` ${duringWords(question, periods[last])}.`),
      ],
      ...(question.count === 'from' || question.brackets || last - early < 3
        ? []
        : [
            [
              plain('The curve does '),
              strong('not level off'),
              plain(` up to ${periodWords(question, periods[last])}: it still ${fell > 0 ? 'falls' : 'rises'}.`),
            ],
          ]),
    ]
  }
  return [
    [
      ...first,
      plain('; the curve levels off near '),
      strong(proseShare(level.share)),
      plain(` from ${periodWords(question, periods[level.from])} on.`),
    ],
  ]
}

interface Level {
  from: number
  share: number
}

/** How near to the level a share must stay where noise alone would not take it so far. */
const NEAR = 0.06

/**
 * Where a curve levels off: the earliest period after which every share stays as near to the mean of all of them as noise,
 * or a sixteenth of it, lets expect. null where fewer than three are left, or the last of them do not.
 */
export function levelOf(line: readonly LinePoint[]): Level | null {
  const known = line.flatMap(({ people }, k) => (k > 0 && people >= SMALL ? [k] : []))
  for (let i = 0; i + 3 <= known.length; i++) {
    const rest = known.slice(i)
    const part = rest.reduce((sum, k) => sum + line[k].returned, 0)
    const whole = rest.reduce((sum, k) => sum + line[k].people, 0)
    const share = part / whole
    const isNear = rest.every((k) => {
      const { returned, people } = line[k]
      const noise = 1.96 * Math.sqrt((share * (1 - share)) / people)
      return Math.abs(returned / people - share) <= Math.max(noise, NEAR * share)
    })
    // A level that is nothing is people gone, not kept.
    if (isNear) return share > 0 ? { from: rest[0], share } : null
  }
  return null
}

function lastKnown(line: readonly LinePoint[]): number | null {
  return line.reduce<number | null>((found, { people }, k) => (people >= SMALL ? k : found), null)
}

function oddCohort(question: RetentionQuestion, result: RetentionResult, at: number, words: Words): Finding | null {
  if (result.cohorts.length < 3) return null
  const compared = compareCohorts(result, at)
  const surest = surestOf(compared, CHANGED)
  const when = duringWords(question, result.periods[at])
  if (compared.filter((each) => each !== null).length < 3) return null
  if (surest === null) return [plain('No cohort '), strong('differs clearly'), plain(` from the others ${when}.`)]
  const { own, other, difference } = compared[surest]!
  return [
    plain('Those who started in '),
    strong(bucketWords(result.cohorts[surest].key, question.every, words)),
    plain(` came back ${difference < 0 ? 'less' : 'more'} often: `),
    strong(proseShare(own.part / own.whole), difference < 0 ? 'loss' : 'gain'),
    plain(` ${when}, against ${proseShare(other.part / other.whole)} of the others.`),
  ]
}

/** The place of the clearest difference; null where none is more than noise. */
export function surestOf(compared: readonly (Compared | null)[], sure = SURE): number | null {
  let best: number | null = null
  compared.forEach((each, i) => {
    if (
      each?.p === null ||
      each?.p === undefined ||
      each.p >= sure ||
      Math.min(each.own.whole, each.other.whole) < SMALL
    )
      return
    if (best === null || each.p < compared[best]!.p!) best = i
  })
  return best
}

/** Which groups differ in a period; and that none does, or which of them do not. */
function groups(question: RetentionQuestion, result: RetentionResult, at: number, words: Words): Finding[] {
  const compared = compareGroups(question, result, at)
  const when = duringWords(question, result.periods[at])
  const name = (i: number) => toldGroup(result.groups[i].key!, question.breakdowns, words, result.rest)
  const sides = isSides(question.breakdowns)
  // Of two groups that hold everybody once, each is all that the other is compared with: it is said of the one with more.
  const pair =
    !sides && result.groups.length === 2 && result.groups[0].people + result.groups[1].people === result.all.people
  const beside = (i: number) => ` of ${sides ? (result.groups[0] ? name(0) : '') : pair ? name(1 - i) : 'the others'}`
  const clear = compared
    .flatMap((each, i) => (each && surestOf([each]) === 0 ? [i] : []))
    .sort((a, b) => Math.abs(compared[b]!.difference) - Math.abs(compared[a]!.difference))
  const told = compared.flatMap((each, i) => (each ? [i] : []))
  if (told.length === 0) return []
  if (clear.length === 0) {
    const [shown] = told.sort((a, b) => Math.abs(compared[b]!.difference) - Math.abs(compared[a]!.difference))
    const { own, other } = compared[shown]!
    return [
      [
        plain(`${capital(when)} no group `),
        strong('differs clearly'),
        plain(
          `${sides ? ` from ${name(0)}` : ' from the others'}; the largest difference is ${name(shown)} with ${proseShare(own.part / own.whole)}, against ${proseShare(other.part / other.whole)}: no more than noise.`,
        ),
      ],
    ]
  }
  const said = (i: number): Finding => {
    const { own, other, difference } = compared[i]!
    return [
      strong(name(i)),
      plain(': '),
      strong(proseShare(own.part / own.whole), difference < 0 ? 'loss' : 'gain'),
      plain(
        ` come back ${when}, against ${proseShare(other.part / other.whole)}${beside(i)} (${formatPoints(difference)}).`,
      ),
    ]
  }
  const unclear = told.filter((i) => !clear.includes(i)).map(name)
  const listed = unclear.length > 7 ? [...unclear.slice(0, 6), `${unclear.length - 6} more`] : unclear
  return [
    ...(pair ? clear.filter((i) => compared[i]!.difference > 0) : clear.slice(0, 2)).map(said),
    ...(unclear.length > 0
      ? [
          [
            plain(`${capital(when)} there is `),
            strong('no clear difference'),
            plain(` for ${joinWords(listed, 'and')}.`),
          ],
        ]
      : []),
  ]
}

function halves(
  question: RetentionQuestion,
  result: RetentionResult,
  at: number,
  { own, other, difference, p }: Compared,
): Finding {
  const when = duringWords(question, result.periods[at])
  if (p === null || p >= CHANGED)
    return [plain('Between earlier and later starters there is '), strong('no clear change'), plain(` ${when}.`)]
  return [
    plain(`Of the later half of the cohorts `),
    strong(proseShare(own.part / own.whole), difference < 0 ? 'loss' : 'gain'),
    plain(` come back ${when}, against ${proseShare(other.part / other.whole)} of the earlier half.`),
  ]
}

function cautions(question: RetentionQuestion, result: RetentionResult): Finding[] {
  const { all, measure, cohorts, groups: rows } = result
  const found: Finding[] = []
  if (all.cells.some((cells) => cells.some(({ state }) => state === 'open')))
    found.push([plain('Hatched cells are not over yet for all of their people, and are left out of the line.')])
  // The week's last day, by its Monday-first number.
  const first = question.every === 'week' && cohorts[0] ? new Date(cohorts[0].key).getUTCDay() : 1
  found.push([plain(periodMeaning(question, WEEKDAYS[(first + 5) % 7]))])
  if (question.count === 'from')
    found.push([plain('“Or after it” looks up to now: these shares may still grow, those of late cohorts most.')])
  if (measure === 'people' || ((measure === 'events' || measure === 'sum') && !question.cumulated))
    found.push([
      plain('Fewer cohorts are old enough for later periods, so the line of all falls for that alone. Shares do not.'),
    ])
  const small = all.started.filter((people) => people > 0 && people < SMALL).length
  if (small > 0)
    found.push([
      plain(`${countOf(small, 'cohort has', 'cohorts have')} under ${SMALL} people: their shares jump by chance.`),
    ])
  const smallGroups = rows.filter(({ people }) => people < SMALL).length
  if (smallGroups > 0)
    found.push([
      plain(`${countOf(smallGroups, 'group has', 'groups have')} under ${SMALL} people: read them with care.`),
    ])
  const sum = rows.reduce((total, { people }) => total + people, 0)
  if (sum > all.people && !isSides(question.breakdowns))
    found.push([plain('Some people are in several groups: the groups together are more than all.')])
  if (!question.first)
    found.push([
      plain(
        `First is the first in the time asked about: people who do it often all start early in it, so cohorts are not compared. “First ever” asks for new people only.`,
      ),
    ])
  return found
}
