import { addClustered, clusteredDifference } from '../../stats/clustered.js'
import { benjaminiHochberg } from '../../stats/proportion.js'
import { SMALL } from '../../stats/small.js'
import { weekRhythm } from '../../stats/weekRhythm.js'
import { CHANGED } from '../../stats/sure.js'
import { countOf, formatChange, formatDuration, formatNumber, formatPoints, proseShare } from '../../words/format.js'
import type { Reading } from '../../words/sentence.js'
import { eventWords, plain, strong, toldGroup, type Finding, type Words } from '../../words/words.js'
import { rhythmFinding } from '../rhythmFinding.js'
import { CLEAR, clearestSpan } from '../trend/changes.js'
import type { SessionsResult, SessionsRow } from './finish.js'
import { valueOf } from './value.js'
import { USUAL_OVER, type SessionsQuestion } from './question.js'
import { MEASURE_UNIT, MEASURED, sayMeasure, targetValue, targetWords } from './words.js'

const MOST_FINDINGS = 5

/** What sessions say: how long one typically is, how many end at once, what changed, and which group differs. */
export function sessionsFindings(result: SessionsResult, question: SessionsQuestion, words: Words): Reading {
  const { all } = result
  const { total } = all
  if (total.sessions === 0) return { findings: [[plain('No session began in this time, as asked.')]], cautions: [] }
  const typical: Finding[] =
    total.median === null
      ? []
      : [
          [
            plain('A typical session lasts '),
            strong(formatDuration(total.median)),
            plain(`, the average one ${formatDuration(total.average)}; people spend `),
            strong(formatDuration(valueOf(total, 'time per person'))),
            plain(` each in all this time, in ${formatNumber(valueOf(total, 'per person'))} sessions.`),
          ],
        ]
  const parts: Finding[] = [
    [
      strong(proseShare(total.single / total.sessions)),
      plain(' of sessions have one event only; '),
      strong(proseShare(all.over / total.sessions)),
      plain(` last over ${formatDuration((question.show.over ?? USUAL_OVER) * 60_000)}.`),
    ],
  ]
  const ends = result.groups.length === 0 && !question.holds ? endsSaid(result, words) : []
  const differs = [
    ...against(result, question),
    ...aimed(result, question),
    ...change(result, question),
    ...groupFinding(result, question, words),
    ...rhythm(result, question),
  ]
  // What was asked for, and what differs, goes before what is always so.
  const findings =
    question.show.form === 'ways'
      ? [...ends, ...differs, ...typical, ...parts]
      : question.measure === 'single' || question.show.form === 'lengths'
        ? [...parts, ...differs, ...typical, ...ends]
        : [...typical, ...differs, ...parts, ...ends]
  return { findings: findings.slice(0, MOST_FINDINGS), cautions: cautionsOf(result) }
}

/** What sessions begin and end with most. */
function endsSaid({ all, entries, exits }: SessionsResult, words: Words): Finding[] {
  const [entry] = entries
  const [exit] = exits
  if (!entry || !exit) return []
  const name = (event: string) => strong(eventWords({ names: [event] }, words))
  const share = (sessions: number) => proseShare(sessions / all.total.sessions)
  return [
    [
      plain('The commonest beginning is '),
      name(entry.event),
      plain(` (${share(entry.sessions)} of sessions), the commonest end `),
      name(exit.event),
      plain(` (${share(exit.sessions)}).`),
    ],
  ]
}

/** The whole time against the time beside it. */
function against({ all, before }: SessionsResult, { measure }: SessionsQuestion): Finding[] {
  if (!before) return []
  const [now, then] = [valueOf(all.total, measure), valueOf(before.all.total, measure)]
  if (now === null || then === null) return []
  const change =
    MEASURE_UNIT[measure] === 'percent' ? formatPoints(now - then) : then > 0 ? formatChange(now / then - 1) : null
  return [
    [
      plain(`${MEASURED[measure]} in the whole time: `),
      strong(sayMeasure(now, measure)),
      plain(`, against ${sayMeasure(then, measure)} in the time it is compared with`),
      ...(change === null || now === then ? [] : [plain(': '), strong(change)]),
      plain('.'),
    ],
  ]
}

/** In how many whole buckets what is aimed at was reached. */
function aimed({ all, buckets }: SessionsResult, { measure, every, target }: SessionsQuestion): Finding[] {
  if (target === undefined) return []
  const aim = targetValue(target, measure)
  const values = all.values.flatMap((sums, at) => {
    const value = buckets[at].open || buckets[at].cut ? null : valueOf(sums, measure)
    return value === null ? [] : [value]
  })
  if (values.length === 0) return []
  const reached = values.filter((value) => (measure === 'single' ? value <= aim : value >= aim)).length
  return [
    [
      plain(`The target of ${targetWords(target, measure)} was reached in `),
      strong(`${reached} of ${values.length}`),
      plain(` whole ${every}s.`),
    ],
  ]
}

/** A level of whole buckets that is another than that of all others, by more than their own ups and downs. */
function change({ all, buckets }: SessionsResult, { measure, every }: SessionsQuestion): Finding[] {
  const values = all.values.flatMap((sums, at) => (buckets[at].open || buckets[at].cut ? [] : [valueOf(sums, measure)]))
  const whole = values.filter((value) => value !== null)
  // Where nothing is known of some, those that are left do not follow each other.
  if (whole.length < values.length) return []
  const span = clearestSpan(whole, measure === 'sessions', 1)
  // A time that came and went is for the eye: what holds on is what one acts on.
  if (!span || span.until < whole.length) return []
  return [
    [
      strong(MEASURED[measure]),
      plain(' moved: from '),
      strong(sayMeasure(span.outside, measure)),
      plain(` in a ${every} to `),
      strong(sayMeasure(span.inside, measure)),
      plain(` in the last ${countOf(whole.length - span.from, `whole ${every}`, `whole ${every}s`)}, more than noise.`),
    ],
  ]
}

/** By days: the weekday that is highest against the one that is lowest, where they differ by more than noise. */
function rhythm({ all, buckets }: SessionsResult, { measure, every }: SessionsQuestion): Finding[] {
  if (every !== 'day') return []
  const found = weekRhythm(
    all.values.flatMap((sums, at) => {
      const { key, open, cut } = buckets[at]
      return open || cut ? [] : [{ day: key, value: valueOf(sums, measure) }]
    }),
    // Days of few sessions go further up and down than others: under 0.01 it told of 1.8 % of nothing.
    CLEAR,
  )
  if (!found) return []
  // Means of whole numbers are told as such.
  return [rhythmFinding(found, (x) => sayMeasure(measure === 'sessions' ? Math.round(x) : x, measure))]
}

/** The group whose sessions last most clearly longer, or shorter, than the others': by people, each with all of theirs. */
function groupFinding({ groups, rest }: SessionsResult, { breakdowns }: SessionsQuestion, words: Words): Finding[] {
  if (groups.length < 2) return []
  const tested = groups.flatMap((row, index) => {
    const others = addClustered(groups.toSpliced(index, 1).map(({ clusters }) => clusters))
    if (row.clusters.people < SMALL || others.people < SMALL) return []
    const test = clusteredDifference(row.clusters, others)
    return test ? [{ row, test }] : []
  })
  const ps = benjaminiHochberg(tested.map(({ test }) => test.p))
  // Few people with long sessions make the variance look smaller than it is: under 0.01 it told of 1.8 % of nothing.
  const clear = tested.filter((_each, i) => ps[i] < CHANGED)
  clear.sort((a, b) => Math.abs(b.test.z) - Math.abs(a.test.z))
  return clear
    .slice(0, 1)
    .map(({ row, test: { own, other } }): Finding => [
      strong(toldGroup(row.key!, breakdowns, words, rest)),
      plain(`: sessions of ${formatDuration(own * 1000)} on average, `),
      strong(own > other ? 'longer' : 'shorter'),
      plain(` than those of the others, ${formatDuration(other * 1000)}: more than noise.`),
    ])
}

function cautionsOf({ all, groups }: SessionsResult): Finding[] {
  const { total } = all
  const cautions: Finding[] = []
  if (total.open > 0)
    cautions.push([
      plain(
        `${countOf(total.open, 'session is', 'sessions are')} still going on: counted, and left out of average and median length.`,
      ),
    ])
  if (total.sessions < SMALL)
    cautions.push([
      plain(`Only ${countOf(total.sessions, 'session', 'sessions')}: a few more would change this a great deal.`),
    ])
  if (overlap(all, groups))
    cautions.push([plain('Some sessions are in several groups: the groups together are more than all.')])
  return cautions
}

const overlap = (all: SessionsRow, groups: readonly SessionsRow[]) =>
  groups.reduce((sum, { total }) => sum + total.sessions, 0) > all.total.sessions
