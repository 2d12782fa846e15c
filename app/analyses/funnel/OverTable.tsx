import type { FunnelResult, OverTime } from '../../../core/analyses/funnel/finish.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { rowName, stepName } from '../../../core/analyses/funnel/sentence.js'
import { groupId } from '../../../core/questions/groupId.js'
import { capital, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { splitsHead } from '../../../core/words/words.js'
import { bucketTitle } from '../../charts/bucketLabel.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { BodyProps } from '../view.js'

/** A row for each time in which attempts began, and each group: how many reached each step, and which share got through. */
export function OverTable(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { over: OverTime }) {
  const { question, result, words, selected, onSelect, over } = props
  const grouped = question.breakdowns !== undefined
  let first = true
  return (
    <FigureTable
      heads={[
        capital(over.every),
        ...(grouped ? [{ text: splitsHead(question.breakdowns!, words), plain: true as const }] : []),
        ...question.steps.map((_step, at) => `${at + 1} ${stepName(question, at, words)}`),
        'Whole way',
        'Still open',
      ]}
      selects={onSelect !== undefined}
    >
      {over.buckets.flatMap((bucket, b) =>
        over.lines.map(({ key, reached, open }) => {
          const [start, end] = [reached[b][0], reached[b].at(-1)!]
          const stillOpen = open[b].reduce((sum, x) => sum + x, 0)
          return (
            <tr key={`${bucket.key} ${groupId(key ?? undefined)}`}>
              <th scope="row">{bucketTitle(bucket.key, over.every, words)}</th>
              {grouped && <td>{rowName(key, result.rest)}</td>}
              {reached[b].map((people, step) => {
                const mark: FunnelMark = {
                  ...{ kind: 'step', step, what: 'reached', bucket: bucket.key },
                  ...(key ? { group: key } : {}),
                }
                const isFirst = first && people > 0
                if (isFirst) first = false
                return (
                  <PeopleCell
                    key={step}
                    mark={people > 0 ? mark : null}
                    selected={selected}
                    onSelect={onSelect}
                    first={isFirst}
                  >
                    {formatNumber(people)}
                  </PeopleCell>
                )
              })}
              <td className="number">{start > 0 ? formatPercent(end / start) : MISSING}</td>
              <td className="number soft">{stillOpen > 0 ? formatNumber(stillOpen) : ''}</td>
            </tr>
          )
        }),
      )}
    </FigureTable>
  )
}
