import type { PathsResult, ShownPlace } from '../../../core/analyses/paths/finish.js'
import { usualPaths, type PathsQuestion } from '../../../core/analyses/paths/question.js'
import { nodeWords, pickWords, placeWords, stepWords } from '../../../core/analyses/paths/words.js'
import { groupWords, propertyWords, type Words } from '../../../core/words/words.js'
import type { EventEntry } from '../../../server/engine/catalog.js'
import { goodBreakdown } from '../../study/breakdowns.js'
import type { Cell, Leads, Look, Near } from '../leads.js'
import { takenSteps } from './figures.js'
import { asFunnel } from './onward.js'

export const leads: Leads<PathsQuestion, PathsResult> = {
  start: ([first]) => usualPaths(first?.name ?? '…'),
  home: streams,
  table: (question, result, words) =>
    question.show.form === 'ways' ? waysTable(result, words) : streamTable(question, result, words),
  next: afterPaths,
}

/** One of each question: onward from something common, back from something rarer, between the two. */
function streams(events: EventEntry[], { catalog }: Near): Look[] {
  const [first] = events
  if (!first) return []
  // What goes wrong is what one asks about first, where the names tell.
  const wrong = catalog.events.find(
    ({ name, events: many, deprecated }) => many > 0 && !deprecated && /refus|fail|error|declin|empty/i.test(name),
  )
  const goal = events.find(({ name, recent }) => name !== first.name && recent < first.recent * 0.95) ?? events[1]
  const after = wrong ?? first
  return [
    { label: `After ${after.label}, what do people do next?`, question: usualPaths(after.name) },
    ...(goal
      ? [
          {
            label: `What brings people to ${goal.label}?`,
            question: { ...usualPaths(goal.name), backward: true as const },
          },
          {
            label: `Between ${first.label} and ${goal.label}`,
            question: { ...usualPaths(first.name), end: { event: { names: [goal.name] } }, steps: 5 },
          },
        ]
      : []),
  ]
}

/** A funnel of the commonest way, the other way round, other groups, and a longer time. */
function afterPaths(question: PathsQuestion, result: PathsResult, { catalog, words }: Near): Look[] {
  const looks: Look[] = []
  const straight = result.detours?.straight ?? null
  const way = straight === null ? result.ways.find(({ nodes }) => nodes.length > 1) : result.ways[straight]
  if (way && !question.backward)
    looks.push({
      label:
        straight === null
          ? 'How far do they get on the commonest way, as a funnel?'
          : 'How far do they get on the shortest way, as a funnel?',
      question: asFunnel(question, way.nodes),
    })
  const property = goodBreakdown(catalog, question)
  if (!question.breakdowns && property && result.all.ways > 0)
    looks.push({
      label: `Do they go another way for each ${propertyWords(property, words)}?`,
      question: { ...question, breakdowns: [{ by: property, keep: 2, hideRest: true }] },
    })
  const { backward, end, through: _through, ...rest } = question
  const start = pickWords(question.start, words)
  if (!end)
    looks.push(
      backward
        ? { label: `What do they do after ${start}?`, question: rest }
        : { label: `What brings people to ${start}?`, question: { ...rest, backward: true } },
    )
  const [first] = result.all.steps[0]?.nodes.filter(({ place }) => 'event' in place) ?? []
  if (!end && !backward && first && 'event' in first.place && first.place.value === undefined)
    looks.push({
      label: `What happens between ${start} and ${nodeWords(first.place, words)}?`,
      question: { ...rest, end: { event: { names: [first.place.event] } }, steps: 5 },
    })
  if (end)
    looks.push({
      label: 'What do those who do not get there do?',
      question: { ...rest, among: { study: question, marks: [{ kind: 'anchor', got: false }] } },
    })
  const wider = { count: question.window.count * 7, unit: question.window.unit }
  if (result.all.cut > 0.2 * result.all.ways && wider.count <= 1000)
    looks.unshift({
      label: `Where do they go in ${wider.count} ${wider.unit}s?`,
      question: { ...question, window: wider },
    })
  return looks.slice(0, 4)
}

/** A row for each node and each ribbon: what stands there, where they come from, how many, in seconds. */
function streamTable(question: PathsQuestion, result: PathsResult, words: Words): Cell[][] {
  const { all, groups } = result
  const name = (place: ShownPlace) => placeWords(place, words)
  const sides = [...groups, all]
  const head = ['Step', 'From', 'To', 'Ways', 'Median seconds']
  const grouped = groups.length > 0
  const rows = sides.flatMap((side) => {
    const own: Cell[] = grouped ? [side.key ? groupWords(side.key, result.rest) : 'All together'] : []
    const start = pickWords({ event: question.start.event }, words)
    return [
      [...own, stepWords(0, question), null, start, side.ways, null],
      ...(side.reached === null
        ? []
        : [[...own, 'got there', null, pickWords(question.end!, words), side.reached, seconds(side.took)]]),
      ...takenSteps(side).flatMap(({ nodes, ribbons }, at): Cell[][] => [
        ...nodes.map(({ place, count, median }): Cell[] => [
          ...own,
          stepWords(at + 1, question),
          null,
          name(place),
          count,
          seconds(median),
        ]),
        ...ribbons.map(({ from, to, count, median }): Cell[] => [
          ...own,
          stepWords(at + 1, question),
          at === 0 ? start : name(side.steps[at - 1].nodes[from].place),
          name(nodes[to].place),
          count,
          seconds(median),
        ]),
      ]),
    ] as Cell[][]
  })
  return [[...(grouped ? ['Group'] : []), ...head], ...rows]
}

const seconds = (ms: number | null): Cell => (ms === null ? null : ms / 1000)

/** A row for each whole way: its steps in one cell, how many took it, and how long it took. */
function waysTable(result: PathsResult, words: Words): Cell[][] {
  const whole = result.all.reached ?? result.all.ways
  return [
    [
      'Way',
      'Steps',
      'Ways',
      'Share',
      'Median seconds',
      ...result.groups.map(({ key }) => groupWords(key!, result.rest)),
    ],
    ...result.ways.map(({ nodes, more, count, median, counts }): Cell[] => [
      nodes.map((node) => nodeWords(node, words)).join(' › ') + (more ? ' › …' : ''),
      nodes.length,
      count,
      whole > 0 ? count / whole : null,
      seconds(median),
      ...counts,
    ]),
  ]
}
