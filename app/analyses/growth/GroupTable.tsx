import { groupId } from '../../../core/questions/groupId.js'
import { isSides } from '../../../core/questions/groupedBy.js'
import { compareKept } from '../../../core/analyses/growth/compare.js'
import type { GrowthResult, GrowthStep } from '../../../core/analyses/growth/finish.js'
import type { GrowthMark } from '../../../core/analyses/growth/marks.js'
import { growthStates, type GrowthQuestion } from '../../../core/analyses/growth/question.js'
import { SMALL } from '../../../core/stats/small.js'
import { SURE, type Compared } from '../../../core/stats/compared.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import { formatNumber, formatPercent, formatPoints, MISSING } from '../../../core/words/format.js'
import { groupWords, splitsHead } from '../../../core/words/words.js'
import { seriesVar } from '../../look/palette.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { BodyProps } from '../view.js'
import { ACTIVE, markOf, rankedGroups, shownStep, STATE_NAMES, stepTitle } from './states.js'

/** A row for each group, in one interval; ordered by the state that is looked at. */
export function GroupTable(props: BodyProps<GrowthQuestion, GrowthResult, GrowthMark>) {
  const { question, result, words, selected, onSelect } = props
  const at = shownStep(question, result)
  const whole = result.steps[at]
  if (!whole) return null
  const compared = compareKept(question, result, at)
  const tests = compared.some((each) => each !== null)
  const bySides = isSides(question.breakdowns)
  const beside = bySides ? groupWords(result.groups[0].key) : 'the others'
  const rows = rankedGroups(question, result, at)
  const line = (step: GrowthStep, key: GroupKey | null, difference: Compared | null, place: number, first: boolean) => {
    const { open, people, active, before, net, quick, kept } = step
    const own = key ? { group: key } : {}
    const title = stepTitle(question, step, words)
    return (
      <tr key={groupId(key ?? undefined)} className={key ? undefined : 'all-row'}>
        <th scope="row">
          {key && <i className="dot" style={{ background: seriesVar(place, 'rest' in key) }} />}
          {key ? groupWords(key, result.rest) : 'All together'}
        </th>
        <td className={`number ${before > 0 && before < SMALL ? 'few' : ''}`}>{formatNumber(before)}</td>
        <td className={`number ${open ? 'soft' : ''}`}>{formatPercent(kept)}</td>
        {tests && <Beside difference={difference} />}
        {growthStates.map((state, c) => (
          <PeopleCell
            key={state}
            {...{ selected, onSelect, title }}
            first={first && c === 0}
            mark={people[state] > 0 ? { ...markOf(step, [state]), ...own } : null}
            className={open && (state === 'lapsed' || state === 'idle') ? 'hatched' : ''}
          >
            {formatNumber(people[state])}
          </PeopleCell>
        ))}
        <PeopleCell {...{ selected, onSelect, title }} mark={active > 0 ? { ...markOf(step, ACTIVE), ...own } : null}>
          {formatNumber(active)}
        </PeopleCell>
        <td className={`number ${open ? 'soft' : net > 0 ? 'gain' : net < 0 ? 'loss' : ''}`}>
          {net > 0 ? '+' : ''}
          {formatNumber(net).replace('-', '−')}
        </td>
        <td className={`number ${open ? 'soft' : ''}`}>{quick === null ? MISSING : quick.toFixed(2)}</td>
      </tr>
    )
  }
  return (
    <>
      <p className="table-caption">{stepTitle(question, whole, words)}</p>
      <FigureTable
        heads={[
          splitsHead(question.breakdowns!, words),
          { text: 'Active before', title: 'Active in the interval before' },
          { text: 'Retention rate', title: 'Retained, of those who were active before' },
          ...(tests
            ? [{ text: `Against ${beside}`, title: 'Difference of the retention rate', plain: true as const }]
            : []),
          ...growthStates.map((state) => STATE_NAMES[state]),
          'Active',
          'Net growth',
          'Quick ratio',
        ]}
        selects={onSelect !== undefined}
      >
        {rows.map((place, r) =>
          line(result.groups[place].steps[at], result.groups[place].key, compared[place], place, r === 0),
        )}
        {line(whole, null, null, 0, rows.length === 0)}
      </FigureTable>
    </>
  )
}

function Beside({ difference }: { difference: Compared | null }) {
  if (!difference) return <td className="soft">{MISSING}</td>
  const { difference: by, p } = difference
  const sure = p !== null && p < SURE
  return (
    <td title={p === null ? '' : `p = ${p < 0.001 ? 'under 0.001' : p.toFixed(3)}, adjusted`}>
      <span className={sure ? (by > 0 ? 'gain' : 'loss') : 'soft'}>{formatPoints(by)}</span>
      {!sure && <small> no clear difference</small>}
    </td>
  )
}
