import type { GrowthMark } from '../../../core/analyses/growth/marks.js'
import type { GrowthResult, GrowthStep } from '../../../core/analyses/growth/finish.js'
import { growthStates, type GrowthQuestion, type GrowthState } from '../../../core/analyses/growth/question.js'
import { formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { bucketLabel } from '../../charts/bucketLabel.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { BodyProps } from '../view.js'
import { ACTIVE, FROM, FROM_NAMES, keyUnit, markOf, STATE_NAMES, stepTitle } from './states.js'

type Props = BodyProps<GrowthQuestion, GrowthResult, GrowthMark>

/** A row for each interval, the latest first; every figure of people is its people. */
export function GrowthTable({ question, result, words, selected, onSelect }: Props) {
  const steps = [...result.steps].reverse()
  return (
    <FigureTable
      heads={[
        'Interval',
        ...growthStates.map((state) => STATE_NAMES[state]),
        'Active',
        'Net growth',
        'Quick ratio',
        'Retention rate',
      ]}
      selects={onSelect !== undefined}
    >
      {steps.map((step, r) => {
        const { key, open, people, active, net, quick, kept } = step
        return (
          <tr key={key}>
            <th scope="row">
              {bucketLabel(key, keyUnit(question), words)}
              {open && <small> so far</small>}
            </th>
            {growthStates.map((state, c) => (
              <PeopleCell
                key={state}
                {...{ selected, onSelect }}
                first={r === 0 && c === 0}
                title={stepTitle(question, step, words)}
                mark={people[state] > 0 ? markOf(step, [state]) : null}
                className={open && (state === 'lapsed' || state === 'idle') ? 'hatched' : ''}
              >
                {formatNumber(people[state])}
              </PeopleCell>
            ))}
            <PeopleCell {...{ selected, onSelect }} mark={active > 0 ? markOf(step, ACTIVE) : null}>
              {formatNumber(active)}
            </PeopleCell>
            <td className={`number ${open ? 'soft' : net > 0 ? 'gain' : net < 0 ? 'loss' : ''}`}>
              {net > 0 ? '+' : ''}
              {formatNumber(net).replace('-', '−')}
            </td>
            <td className={`number ${open ? 'soft' : ''}`}>{quick === null ? MISSING : quick.toFixed(2)}</td>
            <td className={`number ${open ? 'soft' : ''}`}>{formatPercent(kept)}</td>
          </tr>
        )
      })}
    </FigureTable>
  )
}

/** Rows: what people were in the interval before; columns: what they are. */
export function FlowTable({ question, words, selected, onSelect, step }: Props & { step: GrowthStep }) {
  const at = (from: (typeof FROM)[number], to: GrowthState) =>
    step.flows!.find((flow) => flow.from === from && flow.to === to)?.people ?? 0
  return (
    <FigureTable
      heads={['In the interval before', ...growthStates.map((state) => STATE_NAMES[state]), 'All']}
      selects={onSelect !== undefined}
    >
      {FROM.map((from, r) => (
        <tr key={from}>
          <th scope="row">{FROM_NAMES[from]}</th>
          {growthStates.map((to, c) => {
            const n = at(from, to)
            return (
              <PeopleCell
                key={to}
                {...{ selected, onSelect }}
                first={r === 0 && c === 0}
                title={stepTitle(question, step, words)}
                mark={n > 0 ? markOf(step, [to], from) : null}
              >
                {n > 0 ? formatNumber(n) : ''}
              </PeopleCell>
            )
          })}
          <td className="number">{formatNumber(growthStates.reduce((sum, to) => sum + at(from, to), 0))}</td>
        </tr>
      ))}
      <tr className="all-row">
        <th scope="row">All</th>
        {growthStates.map((to) => (
          <PeopleCell key={to} {...{ selected, onSelect }} mark={step.people[to] > 0 ? markOf(step, [to]) : null}>
            {formatNumber(step.people[to])}
          </PeopleCell>
        ))}
        <td className="number">{formatNumber(step.seen)}</td>
      </tr>
    </FigureTable>
  )
}
