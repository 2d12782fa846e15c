import { MANY_SURE } from '../../stats/sure.js'
import { SMALL } from '../../stats/small.js'
import { countOf, formatDuration, formatNumber, formatPoints, proseShare } from '../../words/format.js'
import { limitWords } from '../../words/limitWords.js'
import type { Reading } from '../../words/sentence.js'
import { plain, strong, toldGroup, type Finding, type Words } from '../../words/words.js'
import type { PathsResult, PathSide, ShownNode } from './finish.js'
import type { PathsQuestion } from './question.js'
import { nodeWords, pickWords, placeWords, stepWords, waysWords } from './words.js'

/** What is true of fewer ways is not worth a caution. */
const TOLD = 0.01
/** More of a step than this in everything else is told of. */
const MUCH = 0.25

/** What the ways say: where they mostly go, where they end, what takes longest, what sets two groups apart. */
export function pathsFindings(result: PathsResult, question: PathsQuestion, words: Words): Reading {
  const { all } = result
  const start = pickWords(question.start, words)
  if (all.ways === 0)
    return { findings: [[plain('Nobody did '), strong(start), plain(' in this time, as asked.')]], cautions: [] }
  const findings = question.end
    ? betweenFindings(result, question, words)
    : [...nextStep(result, question, words), ...loops(result, question, words)]
  return { findings: [...findings, ...difference(result, question, words)], cautions: cautionsOf(result, question) }
}

function nextStep({ all }: PathsResult, { backward }: PathsQuestion, words: Words): Finding[] {
  const [first] = all.steps
  const named = first.nodes.filter(({ place }) => !('rest' in place) && !('ends' in place))
  const [most] = named
  const ends = all.steps.flatMap(({ nodes, before }, step) =>
    nodes.filter(({ place }) => 'ends' in place).map(({ count }) => ({ count, before, step: step + 1 })),
  )
  const worst = [...ends].sort((a, b) => b.count - a.count)[0]
  const found: Finding[] = []
  if (most && most.count > 0)
    found.push([
      strong(proseShare(most.count / all.ways)),
      plain(` ${backward ? 'come from' : 'do'} `),
      strong(placeWords(most.place, words)),
      plain(
        `${backward ? ' directly' : ' next'}${most.median === null ? '' : `, half of them within ${formatDuration(most.median)}`}.`,
      ),
    ])
  if (worst && worst.count > 0)
    found.push([
      strong(proseShare(worst.count / all.ways)),
      plain(
        worst.step === 1
          ? ` do nothing ${backward ? 'before it' : 'more'} in the time allowed.`
          : ` go ${countOf(worst.step - 1, 'step', 'steps')} and no further: of all steps most ways end there.`,
      ),
    ])
  return found
}

function loops(result: PathsResult, question: PathsQuestion, words: Words): Finding[] {
  const { count } = result.loops
  if (count === 0 || question.backward) return []
  return [[strong(waysWords(result, count)), plain(` came by ${pickWords(question.start, words)} again on their way.`)]]
}

function betweenFindings(result: PathsResult, question: PathsQuestion, words: Words): Finding[] {
  const { all, ways, detours } = result
  const reached = all.reached!
  const end = pickWords(question.end!, words)
  const found: Finding[] = [
    [
      strong(proseShare(reached / all.ways)),
      plain(` get to ${end}${all.took === null ? '' : `, half of them within ${formatDuration(all.took)}`}.`),
    ],
  ]
  if (reached === 0) return found
  const straight = detours?.straight === null || !detours ? null : ways[detours.straight]
  if (straight)
    found.push([
      plain('The shortest way that many take is '),
      strong(straight.nodes.map((node) => nodeWords(node, words)).join(' › ') || 'at once'),
      plain(`: ${proseShare(straight.count / reached)} of them, in ${formatDuration(straight.median)}.`),
    ])
  const slowest = slowestOf(result)
  if (slowest)
    found.push([
      strong(proseShare(slowest.count / reached)),
      plain(' go over '),
      strong(nodeWords(slowest.node, words)),
      plain(
        `. They need ${formatDuration(slowest.median)}, the others ${formatDuration(slowest.othersMedian)}: more than noise.`,
      ),
    ])
  const { loops: again } = result
  if (again.count > 0)
    found.push([
      strong(waysWords(result, again.count)),
      plain(` came by ${pickWords(question.start, words)} again before they got there.`),
    ])
  return found
}

/** The event on the way that goes with the longest times, if that is more than noise. */
function slowestOf({ detours }: PathsResult) {
  const longer = (detours?.over ?? []).filter(
    ({ count, others, median, othersMedian, p }) =>
      p !== null && p < MANY_SURE && count >= SMALL && others >= SMALL && median > othersMedian,
  )
  return longer.sort((a, b) => b.median - b.othersMedian - (a.median - a.othersMedian))[0]
}

/** Of two groups: the step that one takes more often, if that is more than noise. */
function difference({ differences, groups }: PathsResult, question: PathsQuestion, words: Words): Finding[] {
  if (!differences) return []
  const [first] = differences
  const small = groups.some(({ ways }) => ways < SMALL)
  if (!first || first.p === null || first.p >= MANY_SURE || small)
    return [[plain('No step is taken by one group more often than by the other beyond what chance brings about.')]]
  const [a, b] = groups
  const nameOf = ({ key }: PathSide) => (key ? toldGroup(key, question.breakdowns, words) : 'all')
  const more = first.by > 0 ? a : b
  const less = first.by > 0 ? b : a
  const share = (part: { part: number; whole: number }) => proseShare(part.part / part.whole)
  const [own, other] = first.by > 0 ? [first.own, first.other] : [first.other, first.own]
  const at = stepWords(first.step, question)
  return [
    [
      strong(nameOf(more)),
      plain(`: ${share(own)} `),
      ...('ends' in first.place
        ? [plain(question.backward ? `have nothing more ${at}` : `have ended ${at}`)]
        : [plain('do '), strong(placeWords(first.place, words)), plain(` ${at}`)]),
      plain(
        `; ${nameOf(less)}: ${share(other)}. ${formatPoints(Math.abs(first.by)).slice(1)} more, which is more than noise.`,
      ),
    ],
  ]
}

function cautionsOf(result: PathsResult, question: PathsQuestion): Finding[] {
  const { all, ways } = result
  const cautions: Finding[] = []
  const base = all.reached ?? all.ways
  if (base > 0 && base < SMALL)
    cautions.push([plain(`Only ${waysWords(result, base)}: a few more would change these shares a great deal.`)])
  if (all.cut > TOLD * all.ways)
    cautions.push([
      plain(
        `${limitWords(question.window)} cuts ${proseShare(all.cut / all.ways)} of the ways: ${question.end ? 'they get there later' : question.backward ? 'something came before them earlier' : 'they went on later'}.`,
      ),
    ])
  if (all.open > TOLD * all.ways)
    cautions.push([plain(`${waysWords(result, all.open)} may still go on: the time allowed is not over for them.`)])
  const shareOf = ({ count }: ShownNode, before: number) => (before > 0 ? count / before : 0)
  const rest = all.steps.flatMap(({ nodes, before }, step) =>
    nodes.filter(({ place }) => 'rest' in place).map((node) => ({ step: step + 1, share: shareOf(node, before) })),
  )
  const [much] = rest.filter(({ share }) => share > MUCH)
  if (much)
    cautions.push([
      plain(`At step ${much.step} ${proseShare(much.share)} are in everything else: more ways a step show what.`),
    ])
  if (slowestOf(result))
    cautions.push([
      plain('Whoever takes longer meets more events on the way: what stands there need not be what takes the time.'),
    ])
  const shown = ways.slice(0, 10)
  const covered = shown.reduce((sum, { count }) => sum + count, 0)
  if (base >= SMALL && shown.length > 0)
    cautions.push([
      plain(
        shown.length < 10
          ? `The ${countOf(shown.length, 'way', 'ways')} listed ${shown.length === 1 ? 'is' : 'are'} ${proseShare(covered / base)} of all.`
          : `The ${formatNumber(10)} commonest whole ways are ${proseShare(covered / base)} of all.`,
      ),
    ])
  if (result.counts === 'occurrences' && result.groups.length === 2)
    cautions.push([
      plain('Groups are compared by people only: the ways of one person are alike. Count people to compare them.'),
    ])
  return cautions
}
