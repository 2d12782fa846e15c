import type { PathsResult, StepDifference } from '../../../core/analyses/paths/finish.js'
import type { PathsQuestion } from '../../../core/analyses/paths/question.js'
import { placeWords, stepWords } from '../../../core/analyses/paths/words.js'
import { MANY_SURE } from '../../../core/stats/sure.js'
import { formatPercent, formatPoints } from '../../../core/words/format.js'
import { groupWords, type Words } from '../../../core/words/words.js'
import { FigureTable } from '../../ui/FigureTable.js'

/** Which step one of two groups takes more often, the surest first; what is not more than noise is pale. */
export function DifferenceList(props: { result: PathsResult; question: PathsQuestion; words: Words }) {
  const { result, question, words } = props
  const { differences, groups } = result
  if (!differences) return <p className="soft pad">{whyNone(result)}</p>
  const [a, b] = groups.map(({ key }) => groupWords(key!, result.rest))
  const sure = differences.filter(isSure).length
  return (
    <>
      <p className="hint">
        {sure === 0
          ? 'None of these differences is more than noise.'
          : 'Pale rows are not more than noise, after all of them were looked at (Benjamini–Hochberg).'}
      </p>
      <FigureTable
        heads={['Step', { text: 'What', plain: true }, a, b, 'Difference', '95 % interval', 'p']}
        selects={false}
      >
        {differences.map((each, i) => (
          <tr key={i} className={isSure(each) ? undefined : 'pale'}>
            <th scope="row">{stepWords(each.step, question)}</th>
            <td>{placeWords(each.place, words)}</td>
            <td className="number">{formatPercent(each.own.part / each.own.whole)}</td>
            <td className="number">{formatPercent(each.other.part / each.other.whole)}</td>
            <td className="number">{formatPoints(each.by)}</td>
            <td className="number">
              {each.interval ? `${formatPoints(each.interval.low)} to ${formatPoints(each.interval.high)}` : '–'}
            </td>
            <td className="number">{each.p === null ? '–' : each.p < 0.001 ? '< 0.001' : each.p.toFixed(3)}</td>
          </tr>
        ))}
      </FigureTable>
    </>
  )
}

const isSure = ({ p }: StepDifference) => p !== null && p < MANY_SURE

function whyNone({ counts, groups }: PathsResult): string {
  if (groups.length !== 2) return 'Exactly two groups are compared: choose two.'
  return counts === 'occurrences'
    ? 'The ways of one person are alike, so that times are not compared: count people.'
    : 'The two groups have people in common, so that they are not compared.'
}
