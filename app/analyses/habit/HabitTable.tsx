import type { HabitMark } from '../../../core/analyses/habit/marks.js'
import { withDays, type HabitResult, type HabitRow } from '../../../core/analyses/habit/finish.js'
import { daysOf, type HabitQuestion } from '../../../core/analyses/habit/question.js'
import { daysPhrase } from '../../../core/analyses/habit/words.js'
import { capital, formatNumber, formatPercent, shareFigure } from '../../../core/words/format.js'
import { seriesVar } from '../../look/palette.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { BodyProps } from '../view.js'
import { markOf, perDay, periodNames, periodsName, placeNames, rowName, shareOf, shownDays } from './figures.js'

type Props = BodyProps<HabitQuestion, HabitResult, HabitMark>

/** What the chart shows in numbers: by days, by period, or by weekday; every figure of people is its people. */
export function HabitTable(props: Props) {
  const { question, result } = props
  if (result.periods.length === 0) return null
  if (result.groups.length > 0 && question.show.form !== 'pattern') return <GroupRows {...props} />
  if (question.show.form === 'over time') return <PeriodRows {...props} />
  if (question.show.form === 'pattern' && result.times.length > 0) return <PlaceRows {...props} />
  return <DayRows {...props} />
}

/** Exactly so many, and at least so many: periods, shares, people. */
function DayRows({ result, selected, onSelect }: Props) {
  const { all, unit } = result
  const name = periodsName(result)
  const periods = capital(name)
  return (
    <FigureTable
      heads={[`${capital(unit)}s`, `${periods}, exactly`, '%', 'People', `${periods}, at least`, '%', 'People']}
      selects={onSelect !== undefined}
    >
      {Array.from({ length: shownDays(result) }, (_, d) => (
        <tr key={d}>
          <th scope="row">{d + 1}</th>
          <td className="number">{formatNumber(all.exactly[d])}</td>
          <td className="number">{formatPercent(shareOf(all, d + 1, false))}</td>
          <PeopleCell
            {...{ selected, onSelect }}
            first={d === 0}
            mark={all.people[d] > 0 ? markOf(all, { days: d + 1 }) : null}
          >
            {formatNumber(all.people[d])}
          </PeopleCell>
          <td className="number">{formatNumber(withDays(all.exactly, d + 1, true))}</td>
          <td className="number">{formatPercent(shareOf(all, d + 1, true))}</td>
          <PeopleCell
            {...{ selected, onSelect }}
            mark={all.peopleMore[d] > 0 ? markOf(all, { days: d + 1, more: true }) : null}
          >
            {formatNumber(all.peopleMore[d])}
          </PeopleCell>
        </tr>
      ))}
    </FigureTable>
  )
}

function PeriodRows({ question, result, words, selected, onSelect }: Props) {
  const { all, unit } = result
  const days = daysOf(question)
  const more = !question.show.exactly
  const { titles } = periodNames(question, result, words)
  const average = (exactly: number[]) => {
    const active = withDays(exactly, 1, true)
    return active > 0 ? exactly.reduce((sum, n, d) => sum + n * (d + 1), 0) / active : null
  }
  return (
    <FigureTable
      heads={['Period', 'Active people', `Average ${unit}s`, daysPhrase(days, unit, more), '% of active']}
      selects={onSelect !== undefined}
    >
      {result.periods.map((key, p) => {
        const active = withDays(all.periods[p], 1, true)
        const n = withDays(all.periods[p], days, more)
        return (
          <tr key={key}>
            <th scope="row">{titles[p]}</th>
            <PeopleCell
              {...{ selected, onSelect }}
              first={p === 0}
              mark={active > 0 ? markOf(all, { days: 1, more: true, bucket: key }) : null}
            >
              {formatNumber(active)}
            </PeopleCell>
            <td className="number">{formatNumber(average(all.periods[p]))}</td>
            <PeopleCell
              {...{ selected, onSelect }}
              mark={n > 0 ? markOf(all, { days, ...(more ? { more: true as const } : {}), bucket: key }) : null}
            >
              {formatNumber(n)}
            </PeopleCell>
            <td className="number">{formatPercent(active > 0 ? n / active : null)}</td>
          </tr>
        )
      })}
    </FigureTable>
  )
}

function PlaceRows({ result, selected, onSelect }: Props) {
  const { titles } = placeNames(result)
  const rows: HabitRow[] = result.groups.length > 0 ? [...result.groups, result.all] : [result.all]
  const total = (row: HabitRow) => row.pattern.reduce((sum, { days }) => sum + days, 0)
  return (
    <FigureTable
      heads={[
        result.unit === 'hour' ? 'Hour of the day' : 'Day of the week',
        ...(rows.length > 1
          ? rows.map((row) => rowName(row, result.rest))
          : ['People on average', '% of all their days', 'Different people']),
      ]}
      selects={onSelect !== undefined}
    >
      {titles.map((title, place) => (
        <tr key={title}>
          <th scope="row">{title}</th>
          {rows.length > 1 ? (
            rows.map((row, r) => (
              <PeopleCell
                key={r}
                {...{ selected, onSelect }}
                first={place === 0 && r === 0}
                title={`${formatNumber(row.pattern[place].people)} different people`}
                mark={row.pattern[place].people > 0 ? markOf(row, { place }) : null}
              >
                {formatNumber(rounded(perDay(row, result, place)))}
              </PeopleCell>
            ))
          ) : (
            <>
              <td className="number">{formatNumber(rounded(perDay(result.all, result, place)))}</td>
              <td className="number">
                {formatPercent(total(result.all) > 0 ? result.all.pattern[place].days / total(result.all) : null)}
              </td>
              <PeopleCell
                {...{ selected, onSelect }}
                first={place === 0}
                mark={result.all.pattern[place].people > 0 ? markOf(result.all, { place }) : null}
              >
                {formatNumber(result.all.pattern[place].people)}
              </PeopleCell>
            </>
          )}
        </tr>
      ))}
    </FigureTable>
  )
}

const rounded = (x: number | null) => (x === null ? null : x >= 10 ? Math.round(x) : x)

/** A row for each group: its average, and shares by days. */
function GroupRows({ question, result, selected, onSelect }: Props) {
  const more = question.show.form !== 'exactly'
  const { unit } = result
  const many = Math.min(shownDays(result), 14)
  return (
    <FigureTable
      heads={[
        more ? `% with at least so many ${unit}s` : `% with exactly so many ${unit}s`,
        periodsName(result),
        `average ${unit}s`,
        ...Array.from({ length: many }, (_, d) => String(d + 1)),
      ]}
      selects={onSelect !== undefined}
    >
      {[...result.groups, result.all].map((row, r) => (
        <tr key={r} className={row.key ? undefined : 'all-row'}>
          <th scope="row">
            {row.key && <i className="dot" style={{ background: seriesVar(r, 'rest' in row.key) }} />}
            {rowName(row, result.rest)}
          </th>
          <td className="number">{formatNumber(row.active)}</td>
          <td className="number">{formatNumber(row.average)}</td>
          {Array.from({ length: many }, (_, d) => {
            const people = (more ? row.peopleMore : row.people)[d]
            return (
              <PeopleCell
                key={d}
                {...{ selected, onSelect }}
                first={r === 0 && d === 0}
                title={`${formatNumber(people)} people`}
                mark={people > 0 ? markOf(row, { days: d + 1, ...(more ? { more: true as const } : {}) }) : null}
              >
                {shareText(shareOf(row, d + 1, more))}
              </PeopleCell>
            )
          })}
        </tr>
      ))}
    </FigureTable>
  )
}

const shareText = (share: number | null) => (share === null ? '' : shareFigure(share))
