import type { PathSide, PathStep, PathsResult, ShownPlace } from '../../../core/analyses/paths/finish.js'
import type { PathPlace, PathsMark } from '../../../core/analyses/paths/marks.js'
import type { PathsQuestion } from '../../../core/analyses/paths/question.js'
import { pickWords, placeWords, stepWords, waysWords } from '../../../core/analyses/paths/words.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import { formatDuration, formatPercent } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'

/** What a place is in a mark: everything else is not told by how much there is of it. */
export const placeOf = (place: ShownPlace): PathPlace => ('rest' in place ? { rest: true } : place)

const ofGroup = (group: GroupKey | null) => (group ? { group } : {})

/** The people of a node; of the start, of all who began. */
export function nodeMark(side: PathSide, step: number, index: number): PathsMark {
  if (step === 0) return { kind: 'anchor', ...ofGroup(side.key) }
  return { kind: 'node', step, place: placeOf(side.steps[step - 1].nodes[index].place), ...ofGroup(side.key) }
}

/** Those who went from one node to the next. */
export function ribbonMark(side: PathSide, step: number, from: number, to: number): PathsMark {
  const place = placeOf(side.steps[step - 1].nodes[to].place)
  const before = step > 1 ? { from: placeOf(side.steps[step - 2].nodes[from].place) } : {}
  return { kind: 'node', step, place, ...before, ...ofGroup(side.key) }
}

/** The names of all nodes, by step, the start first. */
export function namesOf(side: PathSide, { start }: PathsQuestion, words: Words): string[][] {
  return [
    [pickWords({ event: start.event }, words)],
    ...side.steps.map(({ nodes }) => nodes.map(({ place }) => placeWords(place, words))),
  ]
}

/** Tells all that is known of a node, or of a ribbon, in one line; names are worked out once, and each line when it is first asked for. */
export function tellerOf(result: PathsResult, side: PathSide, question: PathsQuestion, words: Words) {
  const names = namesOf(side, question, words)
  const told = new Map<string, string>()
  const once = (key: string, tell: () => string): string => {
    let line = told.get(key)
    if (line === undefined) told.set(key, (line = tell()))
    return line
  }
  return {
    node: (step: number, index: number) => once(`${step} ${index}`, () => nodeTells(step, index)),
    ribbon: (step: number, from: number, to: number) =>
      once(`${step} ${from} ${to}`, () => ribbonTells(step, from, to)),
  }

  function nodeTells(step: number, index: number): string {
    const name = names[step][index]
    if (step === 0)
      return `${name}, where ways ${question.backward ? 'lead' : 'begin'}: ${waysWords(result, side.ways)}`
    const { nodes, before } = side.steps[step - 1]
    const { count, median, sources } = nodes[index]
    const from = sources.length > 1 || (sources[0]?.source ?? null) !== null ? sources : []
    const shares = from.map(({ source, count: n }) => `${source ?? 'no source'} ${formatPercent(n / count, 0)}`)
    return [
      `${name}, ${stepWords(step, question)}: ${waysWords(result, count)}`,
      `${formatPercent(count / side.ways)} of all who began`,
      ...(step > 1 ? [`${formatPercent(count / before)} of the step before`] : []),
      ...(median === null ? [] : [`half within ${formatDuration(median)} of the start`]),
      ...(shares.length > 0 ? [`from ${shares.join(', ')}`] : []),
    ].join(' · ')
  }

  function ribbonTells(step: number, from: number, to: number): string {
    const found = side.steps[step - 1].ribbons.find((each) => each.from === from && each.to === to)
    if (!found) return ''
    const before = step === 1 ? side.ways : side.steps[step - 2].nodes[from].count
    return [
      `${names[step - 1][from]} → ${names[step][to]}: ${waysWords(result, found.count)}`,
      `${formatPercent(found.count / side.ways)} of all who began`,
      `${formatPercent(found.count / before)} of those at ${names[step - 1][from]}`,
      ...(found.median === null ? [] : [`half within ${formatDuration(found.median)}`]),
    ].join(' · ')
  }
}

/** The events of a step that can be followed further: no more of them than there are. */
export const takenSteps = ({ steps }: PathSide): PathStep[] =>
  steps.filter(({ nodes }) => nodes.some(({ count }) => count > 0))
