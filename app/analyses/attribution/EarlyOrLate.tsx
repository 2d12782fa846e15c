import { pickedWords, touchByWords } from '../../../core/analyses/attribution/words.js'
import { capital, countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { creditMark, inOrder, nameOf, type Props } from './figures.js'
import { ENDS, EndsKey, EndsStrip, touchesOf } from './Ends.js'

import './attribution.css'

/** Where in the ways each value stands: who begins, who closes. */
export function EarlyOrLate(props: Props) {
  const { question, result, words, selected, onSelect } = props
  return (
    <>
      {result.goals.map((goal, g) => {
        const rows = inOrder(
          result,
          goal.all.credit.map(({ conversions }) => conversions),
        ).filter((place) => goal.all.credit[place].conversions > 0)
        return (
          <section key={g}>
            {result.goals.length > 1 && <h3>{pickedWords(question.goals[g], words)}</h3>}
            <FigureTable
              heads={[
                capital(touchByWords(question.by, words)),
                { text: 'Conversions', title: 'That have such a touch' },
                { text: 'People', title: 'Who have such a touch before a conversion' },
                { text: 'Begins', title: 'Of its touches, those that are the first of several' },
                { text: 'Carries', title: 'Of its touches, those between' },
                { text: 'Closes', title: 'Of its touches, those that are the last of several' },
                { text: 'Alone', title: 'Of its touches, those that are the only one' },
                { text: '', plain: true },
              ]}
              selects={onSelect !== undefined}
            >
              {rows.map((place, at) => {
                const own = goal.all.credit[place]
                const all = touchesOf(own)
                return (
                  <tr key={place}>
                    <th scope="row">{nameOf(props, place)}</th>
                    <td className="number">{formatNumber(own.conversions)}</td>
                    <PeopleCell
                      {...{ selected, onSelect }}
                      first={at === 0}
                      mark={creditMark(g, result.values[place], {})}
                    >
                      {formatNumber(own.people)}
                    </PeopleCell>
                    {ENDS.map(([name, figure]) => (
                      <td key={name} className="number" title={countOf(own[figure], 'touch', 'touches')}>
                        {formatPercent(all > 0 ? own[figure] / all : null, 0)}
                      </td>
                    ))}
                    <td>
                      <EndsStrip own={own} />
                    </td>
                  </tr>
                )
              })}
            </FigureTable>
          </section>
        )
      })}
      <p className="hint">
        <EndsKey /> of the touches of each, by where in the way to a conversion they stand.
      </p>
    </>
  )
}
