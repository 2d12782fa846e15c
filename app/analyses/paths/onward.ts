import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import type { PeopleRef } from '../../../core/analyses/people.js'
import { MOST_KEEP, MOST_STEPS, type PathNode, type PathsQuestion } from '../../../core/analyses/paths/question.js'
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
  if ('ends' in place) return ofEnd(question, mark)
  if ('rest' in place) return ofRest(question, step)
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
    ...sides(question, `What sets those apart who went on from ${name}?`, [mark], [after(step, node, mark.group)]),
  ]
}

/** Everything else at a step, by itself or at all steps. */
function ofRest(question: PathsQuestion, step: number): Choice<PathsQuestion, PathsMark>[] {
  const { keep, wide = [] } = question
  if (wide.includes(step) || keep === MOST_KEEP) return []
  return [
    {
      label: 'Open everything else here',
      question: { ...question, wide: [...wide, step].sort((a, b) => a - b) },
    },
    { label: 'Show more ways at every step', question: { ...question, keep: Math.min(MOST_KEEP, keep * 2) } },
  ]
}

/** Those who got to a place and went on from there, beside those who ended there. */
function sides(
  question: PathsQuestion,
  label: string,
  there: PathsMark[],
  ended: PathsMark[],
): Choice<PathsQuestion, PathsMark>[] {
  // Of occurrences one person may be on both sides; of the last step nobody is known to go on.
  if (question.backward || question.end || question.count === 'occurrences') return []
  if (ended.some((mark) => mark.kind === 'node' && mark.step > question.steps)) return []
  const study = { ...question, show: { form: 'stream' as const } }
  const of = (marks: PathsMark[]) => ({ study, marks })
  const people: PeopleRef = {
    rule: {
      hold: 'all',
      of: [
        { kind: 'study' as const, ...of(there) },
        // Who may still go on is on neither side.
        { hold: 'none', of: [{ kind: 'study' as const, ...of(ended) }] },
      ],
    },
  }
  return [{ label, people, beside: of(ended.map((mark) => ({ ...mark, forGood: true as const }))) }]
}

/** Nothing more after a node, or after any. */
const after = (step: number, from: PathNode | null, group: PathsMark['group']): PathsMark => ({
  ...{ kind: 'node', step: step + 1, place: { ends: true } },
  ...(from ? { from } : {}),
  ...(group ? { group } : {}),
})

function ofEnd(question: PathsQuestion, mark: PathsMark & { kind: 'node' }): Choice<PathsQuestion, PathsMark>[] {
  const { step, from, group } = mark
  const own = group ? { group } : {}
  const study = { ...question, show: { form: 'stream' as const } }
  const node = from && 'event' in from ? from : null
  if (from && !node) return []
  // Got so far: everybody who had not ended before.
  const there: PathsMark[] = node
    ? [{ kind: 'node', step: step - 1, place: node, ...own }]
    : [{ kind: 'anchor', ...own }]
  const ended = node ? [mark] : Array.from({ length: step }, (_, i) => after(i, null, group))
  return [
    { label: 'What are those like who end here?', people: { study, marks: [mark] }, beside: null },
    ...sides(question, 'What sets those apart who went on?', there, ended).map((each) => ({
      ...each,
      ...('beside' in each ? { beside: { study, marks: [{ ...mark, forGood: true as const }] } } : {}),
    })),
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
