import { benjaminiHochberg, SMALL, twoProportions } from '../../stats/proportion.js'
import { countOf, formatDuration, formatNumber, proseShare } from '../../words/format.js'
import { eventWords, groupWords, plain, strong, type Finding, type Words } from '../../words/words.js'
import type { Reading } from '../analysis.js'
import { limitWords } from '../../words/limitWords.js'
import type { FunnelResult, FunnelRow } from './finish.js'
import type { FunnelQuestion } from './question.js'

/** The step with the smallest share going on, among those that enough people reached; null when nothing is lost. */
export function narrowest(row: FunnelRow): number | null {
  let best: number | null = null
  let least = 1
  row.steps.slice(0, -1).forEach((step, index) => {
    const goOn = row.steps[index + 1].ofPrevious
    if (step.people > 0 && goOn !== null && goOn < least) {
      least = goOn
      best = index
    }
  })
  return best
}

export function funnelFindings(result: FunnelResult, question: FunnelQuestion, words: Words): Reading {
  const findings: Finding[] = []
  const cautions: Finding[] = []
  const { all } = result
  const last = all.steps.at(-1)!
  const first = eventWords(question.steps[0].event, words)
  const end = eventWords(question.steps.at(-1)!.event, words)
  if (all.steps[0].people === 0) {
    findings.push([plain('Nobody did '), strong(first), plain(' in this time, as asked.')])
    return { findings, cautions }
  }
  if (all.steps.length === 1) {
    findings.push([
      strong(countOf(all.steps[0].people, 'person', 'people')),
      plain(` did ${first}. Add a step to see how many go on.`),
    ])
    return { findings, cautions }
  }
  const interval = last.ofStartInterval!
  findings.push([
    strong(proseShare(last.ofStart!)),
    plain(` of the people who did ${first} got to ${end} within ${limitWords(question.window)} `),
    plain(`(95 %: ${(interval.low * 100).toFixed(1)} – ${(interval.high * 100).toFixed(1)}).`),
  ])
  const narrow = narrowest(all)
  if (narrow !== null) {
    const step = all.steps[narrow]
    findings.push([
      plain('The narrowest place is before '),
      strong(eventWords(question.steps[narrow + 1].event, words)),
      plain(': '),
      strong(proseShare(step.lost / step.people), 'loss'),
      plain(` of those who did ${eventWords(question.steps[narrow].event, words)} are lost there, `),
      strong(countOf(step.lost, 'person', 'people')),
      plain('.'),
    ])
  }
  const apart = groupsApart(result)
  if (apart) findings.push(apart)
  if (last.fromEntry.median !== null)
    findings.push([
      plain('Half of those who got through took up to '),
      strong(formatDuration(last.fromEntry.median)),
      plain('; nine in ten up to '),
      strong(formatDuration(last.fromEntry.p90)),
      plain('.'),
    ])
  if (all.open > 0)
    cautions.push([
      plain(
        `${countOf(all.open, 'person', 'people')} entered in the last ${limitWords(question.window)} and may still go on. They count as not converted so far.`,
      ),
    ])
  const small = result.groups.filter((row) => row.steps[0].people > 0 && row.steps[0].people < SMALL)
  if (small.length > 0)
    cautions.push([
      plain(
        small.length === 1
          ? `${groupWords(small[0].key!, result.rest)} has under ${SMALL} people at the start: read it with care.`
          : `${small.length} groups have under ${SMALL} people at the start: read them with care.`,
      ),
    ])
  return { findings, cautions }
}

/** The group that differs most surely from all the others together, with the tests adjusted for their number. */
function groupsApart(result: FunnelResult): Finding | null {
  const rows = result.groups.filter((row) => row.key && !('rest' in row.key) && row.steps[0].people >= SMALL)
  if (rows.length < 2) return null
  const end = result.all.steps.length - 1
  const tests = rows.map((row) => {
    const part = row.steps[end].people
    const whole = row.steps[0].people
    const others = { part: result.all.steps[end].people - part, whole: result.all.steps[0].people - whole }
    return { row, rate: part / whole, other: others.part / others.whole, test: twoProportions({ part, whole }, others) }
  })
  const adjusted = benjaminiHochberg(tests.map(({ test }) => test?.p ?? 1))
  const clear = tests.filter((_, i) => adjusted[i] < 0.05).sort((a, b) => Math.abs(b.test!.z) - Math.abs(a.test!.z))[0]
  if (!clear) return [strong('No clear difference'), plain(` between the ${formatNumber(rows.length)} groups.`)]
  const better = clear.rate > clear.other
  const ratio = clear.other > 0 ? `${(clear.rate / clear.other).toFixed(1)}× as often` : 'alone'
  return [
    strong(groupWords(clear.row.key!)),
    plain(`: ${proseShare(clear.rate)} get through, `),
    strong(ratio, better ? 'gain' : 'loss'),
    plain(` as the others (${proseShare(clear.other)}).`),
  ]
}
