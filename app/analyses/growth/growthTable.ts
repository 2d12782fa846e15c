import type { GrowthResult } from '../../../core/analyses/growth/finish.js'
import { growthStates } from '../../../core/analyses/growth/question.js'
import { FROM, FROM_NAMES, STATE_NAMES } from './states.js'

/** A row for each interval: its states, what follows from them, and from which state people came into which. */
export function growthTable({ steps }: GrowthResult): (string | number | null)[][] {
  const flows = FROM.flatMap((from) => growthStates.map((to) => ({ from, to }))).filter(({ from, to }) =>
    steps.some((step) => step.flows?.some((flow) => flow.from === from && flow.to === to)),
  )
  return [
    [
      'Interval from',
      'State',
      ...growthStates.map((state) => STATE_NAMES[state]),
      ...['Active', 'Active before', 'Seen', 'Net growth', 'Quick ratio', 'Retention rate'],
      ...flows.map(({ from, to }) => `${FROM_NAMES[from]} → ${STATE_NAMES[to]}`),
    ],
    ...steps.map((step) => [
      step.key,
      step.open ? 'still open' : 'complete',
      ...growthStates.map((state) => step.people[state]),
      ...[step.active, step.before, step.seen, step.net, step.quick, step.kept],
      ...flows.map(
        ({ from, to }) => step.flows && (step.flows.find((flow) => flow.from === from && flow.to === to)?.people ?? 0),
      ),
    ]),
  ]
}
