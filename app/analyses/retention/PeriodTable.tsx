import { isSides } from '../../../core/questions/groupedBy.js'
import { SMALL } from '../../../core/stats/small.js'
import { periodAt } from '../../../core/analyses/retention/periodAt.js'
import type { RetentionMark } from '../../../core/analyses/retention/marks.js'
import { SURE } from '../../../core/stats/compared.js'
import { compareGroups } from '../../../core/analyses/retention/compare.js'
import type { RetentionResult, RetentionRow } from '../../../core/analyses/retention/finish.js'
import type { RetentionQuestion } from '../../../core/analyses/retention/question.js'
import { measureName } from '../../../core/analyses/retention/sentence.js'
import { periodWords, shortPeriod } from '../../../core/analyses/retention/words.js'
import { capital, formatNumber, formatPercent, formatPoints } from '../../../core/words/format.js'
import { seriesVar } from '../../look/palette.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { FigureTable } from '../../ui/FigureTable.js'
import type { BodyProps } from '../view.js'
import { cellText, markOf, rowLabel } from './figures.js'

type Props = BodyProps<RetentionQuestion, RetentionResult, RetentionMark>

/** The line of all cohorts in numbers: a row for each group, or a row for each period. */
export function PeriodTable(props: Props) {
  return props.result.groups.length > 0 ? <GroupRows {...props} /> : <PeriodRows {...props} />
}

function GroupRows({ question, result, words, selected, onSelect }: Props) {
  const { groups, all, periods, measure, rest } = result
  const at = periodAt(question, result)
  const compared = measure === 'share' ? compareGroups(question, result, at) : null
  const sides = isSides(question.breakdowns)
  const beside = sides && groups[0] ? rowLabel(groups[0], rest) : 'the others'
  const rows: RetentionRow[] = [...groups, all]
  const currency = words.currency ?? 'EUR'
  return (
    <FigureTable
      heads={[
        measureName(question, words),
        'people',
        ...(compared
          ? [{ text: `${capital(periodWords(question, periods[at]))}, against ${beside}`, plain: true as const }]
          : []),
        ...periods.map((period) => ({
          text: shortPeriod(question, period),
          title: capital(periodWords(question, period)),
        })),
      ]}
      selects={onSelect !== undefined}
    >
      {rows.map((row, r) => {
        const difference = row.key ? compared?.[r] : null
        const isClear = difference !== null && difference !== undefined && (difference.p ?? 1) < SURE
        return (
          <tr key={r} className={row.key ? undefined : 'all-row'}>
            <th scope="row">
              {row.key && <i className="dot" style={{ background: seriesVar(r, 'rest' in row.key) }} />}
              {row.key ? rowLabel(row, rest) : 'All together'}
            </th>
            <PeopleCell
              {...{ selected, onSelect }}
              first={r === 0}
              mark={row.people > 0 ? markOf(row, { what: 'started' }) : null}
              className={row.people > 0 && row.people < SMALL ? 'few' : ''}
            >
              {formatNumber(row.people)}
            </PeopleCell>
            {compared && (
              <td>
                {difference ? (
                  <>
                    <span className={isClear ? (difference.difference > 0 ? 'gain' : 'loss') : 'soft'}>
                      {formatPoints(difference.difference)}
                    </span>
                    {difference.interval && (
                      <small className="soft">
                        {' '}
                        ({formatPoints(difference.interval.low).replace(' points', '')} to{' '}
                        {formatPoints(difference.interval.high).replace(' points', '')})
                      </small>
                    )}
                    <small className="soft">{isClear ? '' : ' no clear difference'}</small>
                  </>
                ) : (
                  ''
                )}
              </td>
            )}
            {row.line.map(({ value, cohorts, people }, k) => (
              <PeopleCell
                key={k}
                {...{ selected, onSelect }}
                mark={cohorts > 0 && people > 0 ? markOf(row, { period: k, what: 'returned' }) : null}
              >
                {cohorts > 0 ? cellText(value, measure, currency) : ''}
              </PeopleCell>
            ))}
          </tr>
        )
      })}
    </FigureTable>
  )
}

function PeriodRows({ question, result, words, selected, onSelect }: Props) {
  const { all, periods, measure } = result
  const currency = words.currency ?? 'EUR'
  return (
    <FigureTable
      heads={[
        'All cohorts',
        'Complete cohorts',
        'Their people',
        'Came back',
        'Did not',
        measureName(question, words),
        ...(measure === 'share' ? ['95 % interval'] : []),
      ]}
      selects={onSelect !== undefined}
    >
      {periods.map((period, k) => {
        const { cohorts, people, returned, value, low, high } = all.line[k]
        const mark = (what: 'returned' | 'not', n: number) => (n > 0 ? markOf(all, { period: k, what }) : null)
        return (
          <tr key={k}>
            <th scope="row">{capital(periodWords(question, period))}</th>
            <td className="number">{formatNumber(cohorts)}</td>
            <td className="number">{formatNumber(people)}</td>
            <PeopleCell {...{ selected, onSelect }} first={k === 0} mark={mark('returned', returned)}>
              {formatNumber(returned)}
            </PeopleCell>
            <PeopleCell {...{ selected, onSelect }} mark={mark('not', people - returned)}>
              {formatNumber(people - returned)}
            </PeopleCell>
            <td className="number">{cohorts > 0 ? cellText(value, measure, currency) : ''}</td>
            {measure === 'share' && (
              <td className="number soft">
                {low === null || high === null ? '' : `${formatPercent(low)} to ${formatPercent(high)}`}
              </td>
            )}
          </tr>
        )
      })}
    </FigureTable>
  )
}
