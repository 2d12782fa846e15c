import { ageWords, manyWords, pickedWords, touchWords } from '../../../core/analyses/attribution/words.js'
import { capital, countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { ofGoal, type Props } from './figures.js'

import './attribution.css'

/** How many touches it takes, how long, and which ways of touches are gone. */
export function TouchWays(props: Props) {
  const { question, result, words, selected, onSelect } = props
  return (
    <>
      {result.goals.map((goal, g) => {
        const touched = goal.all.conversions - goal.all.noneConversions
        const most = Math.max(...goal.touches)
        return (
          <section key={g}>
            {result.goals.length > 1 && <h3>{pickedWords(question.goals[g], words)}</h3>}
            <div className="touch-counts">
              <FigureTable heads={['Touches before', 'Conversions', '%']} selects={onSelect !== undefined}>
                {goal.touches.map((n, at) =>
                  n > 0 || (at > 0 && at < goal.touches.findLastIndex((own) => own > 0)) ? (
                    <tr key={at}>
                      <th scope="row">{at === 0 ? 'No touch found' : capital(manyWords(at))}</th>
                      <PeopleCell
                        {...{ selected, onSelect }}
                        first={at === 0}
                        mark={n > 0 ? ofGoal(g, at === 0 ? { none: true } : { many: at }) : null}
                      >
                        {formatNumber(n)}
                      </PeopleCell>
                      <td className="number credit">
                        {formatPercent(n / goal.all.conversions, 0)}
                        <i style={{ width: `${(n / most) * 60}%` }} />
                      </td>
                    </tr>
                  ) : null,
                )}
              </FigureTable>
              <FigureTable heads={['From the first touch', 'Conversions', '%']} selects={onSelect !== undefined}>
                {goal.ages.map((n, at) =>
                  at < goal.ages.findLastIndex((own) => own > 0) + 1 ? (
                    <tr key={at}>
                      <th scope="row">{capital(ageWords(at))}</th>
                      <PeopleCell
                        {...{ selected, onSelect }}
                        first={at === 0}
                        mark={n > 0 ? ofGoal(g, { age: at }) : null}
                      >
                        {formatNumber(n)}
                      </PeopleCell>
                      <td className="number credit">
                        {formatPercent(touched > 0 ? n / touched : null, 0)}
                        <i style={{ width: `${(n / Math.max(1, ...goal.ages)) * 60}%` }} />
                      </td>
                    </tr>
                  ) : null,
                )}
              </FigureTable>
            </div>
            {goal.ways && goal.ways.length > 0 && (
              <FigureTable
                heads={[
                  { text: 'Touches, oldest first', title: 'A run of one value is one' },
                  'Conversions',
                  '%',
                  { text: 'People', title: 'Who converted after just this path' },
                  { text: 'Converted', title: 'Of all people who went just this path' },
                ]}
                selects={onSelect !== undefined}
              >
                {goal.ways.map((way, at) => (
                  <tr key={at}>
                    <th scope="row" className="touch-way">
                      {way.values.map((key, i) => (
                        <span key={i}>{touchWords(key, question.by, result.restValues, words)}</span>
                      ))}
                    </th>
                    <td className="number">{formatNumber(way.conversions)}</td>
                    <td className="number">{formatPercent(way.conversions / goal.all.conversions)}</td>
                    <PeopleCell
                      {...{ selected, onSelect }}
                      first={at === 0}
                      mark={
                        way.values.length <= 30
                          ? { kind: 'touches', ...(g > 0 ? { goal: g } : {}), values: way.values }
                          : null
                      }
                    >
                      {formatNumber(way.people)}
                    </PeopleCell>
                    <td
                      className="number"
                      title={`${formatNumber(way.people)} of ${formatNumber(way.people + way.others)} people`}
                    >
                      {formatPercent(way.people / (way.people + way.others))}
                    </td>
                  </tr>
                ))}
              </FigureTable>
            )}
            {goal.otherWays > 0 && (
              <p className="hint">{countOf(goal.otherWays, 'further path is', 'further paths are')} rarer.</p>
            )}
          </section>
        )
      })}
      <p className="hint">
        Converted: of people who went just this path, those who did it; who did not is seen by the touches of the time
        asked about.
      </p>
    </>
  )
}
