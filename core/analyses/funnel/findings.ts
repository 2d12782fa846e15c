import { isSides } from '../../questions/groupedBy.js'
import { SMALL } from '../../stats/small.js'
import { narrowest } from './narrowest.js'
import { limitMs } from '../../questions/limits.js'
import type { Reading } from '../../words/sentence.js'
import { countOf, formatDuration, formatNumber, formatPoints, proseShare } from '../../words/format.js'
import {
  bucketWords,
  eventWords,
  plain,
  eventPropertyWords,
  propertyWords,
  strong,
  toldGroup,
  type Finding,
  type Words,
  compareWords,
} from '../../words/words.js'
import { limitWords } from '../../words/limitWords.js'
import type { Difference, FunnelResult, FunnelRow } from './finish.js'
import type { JumpResult } from './jump.js'
import { showOf, type FunnelQuestion } from './question.js'
import { stepName, targetWords } from './sentence.js'

/** A difference is told of as one where its adjusted p is under this. */
const SURE = 0.05

export function funnelFindings(result: FunnelResult, question: FunnelQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const cautions: Finding[] = []
  const { all } = result
  const last = all.steps.at(-1)!
  const one = result.counts === 'people' ? 'person' : 'attempt'
  const first = eventWords(question.steps[0].event, words)
  const end = eventWords(question.steps.at(-1)!.event, words)
  if (all.steps[0].people === 0) {
    const carrying = question.same ? ` that carries ${propertyWords(question.same, words)}` : ''
    findings.push([plain('Nobody did '), strong(first), plain(`${carrying} in this time, as asked.`)])
    return { findings, cautions }
  }
  if (all.steps.length === 1) {
    findings.push([
      strong(countOf(all.steps[0].people, one, result.counts)),
      plain(` did ${first}. Add a step to see how many go on.`),
    ])
    return { findings, cautions }
  }
  const interval = last.ofStartInterval!
  const whose = result.counts === 'people' ? 'the people who did' : 'the attempts that began with'
  findings.push([
    strong(proseShare(last.ofStart!)),
    question.order === 'any order'
      ? plain(
          ` of those who did any of the ${question.steps.length} steps did all of them within ${limitWords(question.window)} `,
        )
      : plain(` of ${whose} ${first} got to ${end} within ${limitWords(question.window)} `),
    plain(`(95 %: ${(interval.low * 100).toFixed(1)} – ${(interval.high * 100).toFixed(1)}).`),
  ])
  if (question.target !== undefined) findings.push(targetFinding(question.target, last.ofStart!, interval))
  if (result.before && all.difference) findings.push(periodFinding(all.difference, result, question, words))
  if (result.jump) findings.push(...jumpFindings(result.jump, question, words))
  const narrow = narrowest(all)
  if (narrow !== null && question.order !== 'any order') {
    const step = all.steps[narrow]
    const next = question.steps.findIndex((each, i) => i > narrow && !each.optional)
    findings.push([
      plain('The narrowest place is before '),
      strong(stepName(question, next, words)),
      plain(': '),
      strong(proseShare(step.lost / step.people), 'loss'),
      plain(` of those who did ${stepName(question, narrow, words)} are lost there, `),
      strong(countOf(step.lost, one, result.counts)),
      plain('.'),
    ])
  }
  findings.push(...lookFindings(result, question, words))
  const apart = groupsApart(result, question, words)
  if (apart) findings.push(apart)
  if (last.fromEntry.median !== null) {
    const limit = catching(result, question)
    findings.push([
      plain('Half of those who got through took up to '),
      strong(formatDuration(last.fromEntry.median)),
      plain('; nine in ten up to '),
      strong(formatDuration(last.fromEntry.p90)),
      plain(limit ? `, so a limit of ${limit} would catch most.` : '.'),
    ])
  }
  if (all.open > 0)
    cautions.push([
      plain(
        `${countOf(all.open, one, result.counts)} entered in the last ${limitWords(question.window)} and may still go on. They count as not converted so far.`,
      ),
    ])
  const small = result.groups.filter((row) => row.steps[0].people > 0 && row.steps[0].people < SMALL)
  if (small.length > 0)
    cautions.push([
      plain(
        small.length === 1
          ? `${toldGroup(small[0].key!, question.breakdowns, words, result.rest)} has under ${SMALL} people at the start: read it with care.`
          : `${small.length} groups have under ${SMALL} people at the start: read them with care.`,
      ),
    ])
  if (question.readAt && result.groups.length > 0)
    cautions.push([
      plain(
        `The groups are read at ${stepName(question, question.readAt, words)}, so everybody in one of them got that far: what is compared is how many go on from there.`,
      ),
    ])
  if (showOf(question).form === 'apart')
    cautions.push([plain('What goes with getting through need not be why people get through: this is association.')])
  return { findings: findings.slice(0, 5), cautions }
}

function targetFinding(target: number, rate: number, { low, high }: { low: number; high: number }): Finding {
  const met = rate >= target
  const sure = met ? low >= target : high < target
  return [
    strong(met ? 'The target is met' : 'The target is missed', met ? 'gain' : 'loss'),
    plain(`: ${targetWords(target)} was aimed at, ${formatPoints(rate - target)}`),
    plain(sure ? '.' : ', which is within what chance alone would give.'),
  ]
}

/** "+3.2 points (1.1 to 5.3)" with whether it is more than noise. */
function differenceWords({ by, interval, p }: Difference): { text: string; sure: boolean } {
  const points = (x: number) => (x * 100).toFixed(1).replace('-', '−')
  const range = interval ? ` (95 %: ${points(interval.low)} to ${points(interval.high)})` : ''
  return { text: `${formatPoints(by)}${range}`, sure: p !== null && p < SURE }
}

function periodFinding(difference: Difference, result: FunnelResult, question: FunnelQuestion, words: Words): Finding {
  const { text, sure } = differenceWords(difference)
  const before = result.before!.all.steps.at(-1)!.ofStart
  const than = compareWords(question.compare!, words)
  if (!sure)
    return [
      strong('No clear change'),
      plain(` against ${than} (${before === null ? 'nobody entered' : proseShare(before)}): ${text}.`),
    ]
  return [
    strong(`${difference.by > 0 ? 'More' : 'Fewer'} get through`, difference.by > 0 ? 'gain' : 'loss'),
    plain(` than in ${than} (${proseShare(before!)}): ${text}.`),
  ]
}

/** When more were lost at a step, and in which value that is concentrated. */
function jumpFindings(jump: JumpResult, question: FunnelQuestion, words: Words): Finding[] {
  const next = stepName(question, jump.next, words)
  const days = (key: string) => bucketWords(key, jump.every, words)
  const rate = ({ part, whole }: { part: number; whole: number }) => proseShare(part / whole)
  const when = jump.lasting
    ? `Since ${days(jump.first)}`
    : jump.first === jump.last
      ? `In ${days(jump.first)}`
      : `From ${days(jump.first)} to ${days(jump.last)}`
  const found: Finding[] = [
    [
      plain(`${when} more were lost before ${next}: `),
      strong(rate(jump.inside), 'loss'),
      plain(` against ${rate(jump.outside)} else, more than noise.`),
    ],
  ]
  const { value } = jump
  if (value) {
    const property = value.of === 'source' ? 'Source' : eventPropertyWords(value.property, words)
    const said = typeof value.value === 'boolean' ? (value.value ? 'yes' : 'no') : value.value
    found.push([
      plain('It is concentrated in '),
      strong(`${property} ${said}`),
      plain(` at ${stepName(question, value.at, words)}: `),
      strong(rate(value.own), 'loss'),
      plain(` lost there then, against ${rate(value.others)} of the others.`),
    ])
  }
  return found
}

function lookFindings({ look, repeats }: FunnelResult, question: FunnelQuestion, words: Words): Finding[] {
  const name = (event: string) => eventWords({ names: [event] }, words)
  if (look?.form === 'after' && look.people > 0) {
    const found: Finding[] = [
      [
        strong(proseShare(look.nothing / look.people)),
        plain(` of the ${formatNumber(look.people)} lost at ${stepName(question, look.step, words)} did nothing more.`),
      ],
    ]
    const [top] = look.events
    if (top)
      found.push([
        plain('Most of all they did '),
        strong(name(top.event)),
        plain(`: ${proseShare(top.people / look.people)}, ${countOf(top.people, 'person', 'people')}.`),
      ])
    return found
  }
  if (look?.form === 'apart') {
    const sure = look.features.filter(({ p }) => p < SURE)
    const [lost, through] = [sure.find(({ phi }) => phi < 0), sure.find(({ phi }) => phi > 0)]
    if (!lost && !through)
      return [[strong('Nothing clear'), plain(' sets them apart: no difference is more than noise.')]]
    return [lost, through].flatMap((row): Finding[] => {
      if (!row) return []
      const { event, property, value } = row.feature
      const has = property === undefined ? '' : ` with ${eventPropertyWords(property, words)} ${String(value)}`
      return [
        [
          strong(`${name(event)}${has}`),
          plain(` goes with ${row.phi < 0 ? 'being lost' : 'getting through'}: done by `),
          strong(proseShare(row.lost / look.lost), row.phi < 0 ? 'loss' : undefined),
          plain(` of the lost and ${proseShare(row.through / look.through)} of those who got through.`),
        ],
      ]
    })
  }
  if (repeats) {
    const [most] = [...repeats].sort((a, b) => (b.mean ?? 0) - (a.mean ?? 0))
    if (most?.mean && most.mean > 1)
      return [
        [
          strong(stepName(question, most.step, words)),
          plain(` is repeated most before going on: ${most.mean.toFixed(1)} times on average.`),
        ],
      ]
  }
  return []
}

const LIMITS = [
  ['minute', 1],
  ['minute', 5],
  ['minute', 10],
  ['minute', 30],
  ['hour', 1],
  ['hour', 2],
  ['hour', 6],
  ['hour', 12],
  ['day', 1],
  ['day', 2],
  ['day', 3],
  ['day', 7],
  ['day', 14],
  ['day', 30],
] as const
const UNIT_MS = { minute: 60_000, hour: 3_600_000, day: 86_400_000 }

/** A limit under half of the asked one in which nine in ten would still have got through; null where there is none. */
function catching({ all }: FunnelResult, { window }: FunnelQuestion): string | null {
  const p90 = all.steps.at(-1)!.fromEntry.p90
  if (p90 === null) return null
  const found = LIMITS.find(([unit, count]) => UNIT_MS[unit] * count >= p90)
  if (!found || UNIT_MS[found[0]] * found[1] > limitMs(window) / 2) return null
  return limitWords({ count: found[1], unit: found[0] })
}

/** The group that differs most surely: from all others, or of segments side by side from the first. */
function groupsApart(result: FunnelResult, question: FunnelQuestion, words: Words): Finding | null {
  const rows = result.groups.filter(
    (row) => row.key && !('rest' in row.key) && !('unreached' in row.key) && row.steps[0].people >= SMALL,
  )
  // Read at the last step, everybody in a group got through.
  if (rows.length < 2 || result.comparedFrom === question.steps.length - 1) return null
  const tested = rows.filter((row) => row.difference)
  const surest = (a: FunnelRow, b: FunnelRow) => (a.difference!.p ?? 1) - (b.difference!.p ?? 1)
  const clear = tested.sort(surest)[0]
  if (!clear?.difference || (clear.difference.p ?? 1) >= SURE)
    return [strong('No clear difference'), plain(` between the ${formatNumber(rows.length)} groups.`)]
  const { difference } = clear
  const from = result.comparedFrom
  const rate = clear.steps.at(-1)!.people / clear.steps[from].people
  const other = rate - difference.by
  const ratio = other > 0.0005 ? `${(rate / other).toFixed(1)}× as often` : 'alone'
  const bySides = isSides(question.breakdowns)
  const than = bySides ? toldGroup(result.groups[0].key!, question.breakdowns, words) : 'the others'
  const who = from > 0 ? ` of those who got to ${stepName(question, from, words)}` : ''
  return [
    strong(toldGroup(clear.key!, question.breakdowns, words)),
    plain(`: ${proseShare(rate)}${who} get through, `),
    strong(ratio, difference.by > 0 ? 'gain' : 'loss'),
    plain(` as ${than} (${proseShare(other)}). The difference is ${differenceWords(difference).text}.`),
  ]
}
