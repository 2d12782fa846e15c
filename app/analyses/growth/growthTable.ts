import type { GrowthResult, GrowthStep } from '../../../core/analyses/growth/finish.js'
import { growthStates, type GrowthQuestion } from '../../../core/analyses/growth/question.js'
import { groupWords, splitsHead, type Words } from '../../../core/words/words.js'
import { FROM, FROM_NAMES, STATE_NAMES } from './states.js'

/**
 * A row for each interval, of each group and of all together: its states, what follows from them, and, of all together,
 * from which state people came into which.
 */
export function growthTable(
  question: GrowthQuestion,
  { steps, groups, rest }: GrowthResult,
  words: Words,
): (string | number | null)[][] {
  const by = question.breakdowns
  const flows = FROM.flatMap((from) => growthStates.map((to) => ({ from, to }))).filter(({ from, to }) =>
    steps.some((step) => step.flows?.some((flow) => flow.from === from && flow.to === to)),
  )
  const row = (group: string) => (step: GrowthStep) => [
    ...(by ? [group] : []),
    step.key,
    step.open ? 'still open' : 'complete',
    ...growthStates.map((state) => step.people[state]),
    ...[step.active, step.before, step.seen, step.net, step.quick, step.kept],
    ...flows.map(
      ({ from, to }) => step.flows && (step.flows.find((flow) => flow.from === from && flow.to === to)?.people ?? 0),
    ),
  ]
  return [
    [
      ...(by ? [splitsHead(by, words)] : []),
      'Interval from',
      'State',
      ...growthStates.map((state) => STATE_NAMES[state]),
      ...['Active', 'Active before', 'Seen', 'Net growth', 'Quick ratio', 'Retention rate'],
      ...flows.map(({ from, to }) => `${FROM_NAMES[from]} → ${STATE_NAMES[to]}`),
    ],
    ...groups.flatMap((group) => group.steps.map(row(groupWords(group.key, rest)))),
    ...steps.map(row('All together')),
  ]
}
