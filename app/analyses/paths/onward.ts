import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import { MOST_STEPS, type PathNode, type PathsQuestion } from '../../../core/analyses/paths/question.js'
import { nodeWords } from '../../../core/analyses/paths/words.js'
import type { EventPick } from '../../../core/questions/parts.js'
import type { Words } from '../../../core/words/words.js'
import { put } from '../../editors/put.js'
import type { Choice } from '../view.js'

/** What the selected event, ribbon or way leads to. */
export function onward(
  question: PathsQuestion,
  marks: readonly PathsMark[],
  words: Words,
): Choice<PathsQuestion, PathsMark>[] {
  const [mark] = marks
  if (marks.length !== 1) return []
  if (mark.kind === 'way') return ofWay(question, mark)
  if (mark.kind !== 'node') return []
  const { step, place, from } = mark
  if ('ends' in place) return []
  if ('rest' in place)
    return question.keep < 50
      ? [{ label: 'Show more ways a step', question: { ...question, keep: Math.min(50, question.keep * 2) } }]
      : []
  const node = place
  const name = nodeWords(node, words)
  const before = from && 'event' in from ? [{ step: step - 1, node: from }] : []
  const through = [
    ...(question.through ?? []).filter((each) => each.step !== step && !before.some((b) => b.step === each.step)),
    ...before,
    { step, node },
  ].sort((a, b) => a.step - b.step)
  const names = question.leaveOut?.event.names ?? []
  // No way goes through what is left out.
  const left = (question.through ?? []).filter((each) => each.node.event !== node.event)
  const isEnd = (pick: EventPick | undefined) =>
    pick !== undefined && 'names' in pick.event && pick.event.names.includes(node.event)
  const fixed = isEnd(question.start) || isEnd(question.end)
  const { end: _end, backward: _back, through: _through, ...rest } = question
  return [
    { label: `Only ways through ${name}`, question: { ...question, through } },
    ...(question.steps < MOST_STEPS
      ? [{ label: 'One step further from here', question: { ...question, through, steps: question.steps + 1 } }]
      : []),
    {
      label: `Start at ${name} instead`,
      question: { ...rest, start: pickOf(node, question), ...(question.backward ? { backward: true as const } : {}) },
    },
    ...(fixed
      ? []
      : [
          {
            label: `Leave ${name} out`,
            question: {
              ...put(question, 'through', left.length > 0 ? left : undefined),
              leaveOut: { event: { names: [...names, node.event] } },
            },
          },
        ]),
    { label: `Open ${nodeWords({ event: node.event }, words)} by…`, token: `open ${node.event}` },
    ...(question.backward
      ? []
      : [
          {
            label: 'Make it a funnel',
            question: asFunnel(
              question,
              through.map((each) => each.node),
            ),
          },
        ]),
  ]
}

function ofWay(question: PathsQuestion, { nodes }: PathsMark & { kind: 'way' }): Choice<PathsQuestion, PathsMark>[] {
  if (nodes.length === 0) return []
  const through = nodes.map((node, i) => ({ step: i + 1, node }))
  const ordered = question.backward ? [...nodes].reverse() : nodes
  return [
    { label: 'Make it a funnel', question: asFunnel(question, ordered) },
    ...(question.steps < MOST_STEPS
      ? [{ label: 'Follow it one step further', question: { ...question, through, steps: question.steps + 1 } }]
      : []),
    { label: 'See it in the stream', question: { ...question, through, show: { form: 'stream' } } },
  ]
}

/** The event of a node, with its value as the condition where it is opened by one. */
export function pickOf({ event, value }: PathNode, { open = [] }: PathsQuestion): EventPick {
  const by = open.find(({ event: { names } }) => names.includes(event))?.by
  const pick: EventPick = { event: { names: [event] } }
  if (!by || value === undefined) return pick
  if (value === null) return { ...pick, where: { property: by, op: 'has no value' } }
  if (typeof value === 'number') return { ...pick, where: { property: by, op: '=', number: value } }
  if (typeof value === 'boolean') return { ...pick, where: { property: by, op: value ? 'is true' : 'is false' } }
  return { ...pick, where: { property: by, op: 'is', values: [value] } }
}

/** The steps of a way as those of a funnel, in its order and time, among the same people. */
export function asFunnel(question: PathsQuestion, nodes: readonly PathNode[]): FunnelQuestion {
  const { start, end, backward, window, range, among } = question
  const steps = nodes.map((node) => pickOf(node, question))
  const last = end && JSON.stringify(steps.at(-1)) !== JSON.stringify(end) ? [end] : []
  return {
    kind: 'funnel',
    steps: backward ? [...steps, start] : [start, ...steps, ...last],
    ...{ window, range },
    ...(among ? { among } : {}),
    ...(question.count ? { count: 'attempts' as const } : {}),
  }
}
