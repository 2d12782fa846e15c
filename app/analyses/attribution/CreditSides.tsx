import type { CreditSide } from '../../../core/analyses/attribution/finish.js'
import { creditsOf } from '../../../core/analyses/attribution/credits.js'
import type { Model } from '../../../core/analyses/attribution/question.js'
import { modelWords, pickedWords, sayCredit, touchByWords } from '../../../core/analyses/attribution/words.js'
import { capital, formatPercent } from '../../../core/words/format.js'
import { groupWords, splitsHead } from '../../../core/words/words.js'
import { bucketTitle } from '../../charts/bucketLabel.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { creditMark, inOrder, nameOf, ofGoal, sideCredits, sideModel, type Props } from './figures.js'

import './attribution.css'

/** Beneath: by week, and by group. */
export function CreditSides(props: Props) {
  const { question, result, words } = props
  const [goal] = result.goals
  const model = sideModel(question)
  if (goal.all.conversions === 0 || !model) return null
  if (question.every) return <BucketRows {...props} model={model} />
  if (question.show.form !== 'table' || goal.groups.length === 0) return null
  const rows = inOrder(result, creditsOf(goal, goal.all, model))
  return (
    <>
      <p className="chart-note">
        By {modelWords(model)}
        {result.goals.length > 1 && `, of ${pickedWords(question.goals[0], words)}`}, for each{' '}
        {splitsHead(question.breakdowns!, words)}
      </p>
      <SideTable
        {...props}
        rows={rows}
        model={model}
        sides={goal.groups.map((side) => ({
          side,
          name: side.key ? groupWords(side.key, result.rest) : '',
          more: side.key ? { group: side.key } : {},
        }))}
      />
    </>
  )
}

/** A row for each value, a column for each side with the part of its own whole. */
function SideTable(
  props: Props & {
    rows: number[]
    model: Model
    sides: { side: CreditSide; name: string; more: Parameters<typeof creditMark>[2] }[]
  },
) {
  const { question, result, words, selected, onSelect, rows, model, sides } = props
  const [goal] = result.goals
  return (
    <FigureTable
      heads={[capital(touchByWords(question.by, words)), ...sides.map(({ name }) => name)]}
      selects={onSelect !== undefined}
    >
      {rows.map((place, at) => (
        <tr key={place}>
          <th scope="row">{nameOf(props, place)}</th>
          {sides.map(({ side, more }, s) => {
            const credit = sideCredits(goal, side, question)?.[place] ?? 0
            return (
              <PeopleCell
                key={s}
                {...{ selected, onSelect }}
                first={at === 0 && s === 0}
                mark={credit > 0 ? creditMark(0, result.values[place], { model, ...more }) : null}
              >
                {sayCredit(credit)}
                <small className="soft"> {formatPercent(side.worth > 0 ? credit / side.worth : null, 0)}</small>
              </PeopleCell>
            )
          })}
        </tr>
      ))}
      <tr>
        <th scope="row">no touch found</th>
        {sides.map(({ side, more }, s) => (
          <PeopleCell
            key={s}
            {...{ selected, onSelect }}
            mark={side.noneConversions > 0 ? ofGoal(0, { none: true, ...more }) : null}
          >
            {sayCredit(side.none)}
            <small className="soft"> {formatPercent(side.worth > 0 ? side.none / side.worth : null, 0)}</small>
          </PeopleCell>
        ))}
      </tr>
      <tr className="all-row">
        <th scope="row">All</th>
        {sides.map(({ side }, s) => (
          <td key={s} className="number">
            {sayCredit(side.worth)}
          </td>
        ))}
      </tr>
    </FigureTable>
  )
}

function BucketRows(props: Props & { model: Model }) {
  const { question, result, words, selected, onSelect, model } = props
  const [goal] = result.goals
  const every = question.every!
  const rows = inOrder(result, creditsOf(goal, goal.all, model))
  return (
    <FigureTable
      heads={[capital(every), ...rows.map((place) => nameOf(props, place)), 'no touch found', 'All']}
      selects={onSelect !== undefined}
    >
      {result.buckets.map(({ key, open, cut }, at) => {
        const side = goal.over[at]
        const credits = creditsOf(goal, side, model)!
        return (
          <tr key={key}>
            <th scope="row">{bucketTitle(key, every, words) + (open ? ', not over yet' : cut ? ', in part' : '')}</th>
            {rows.map((place, i) => (
              <PeopleCell
                key={place}
                {...{ selected, onSelect }}
                first={at === 0 && i === 0}
                mark={credits[place] > 0 ? creditMark(0, result.values[place], { model, bucket: key }) : null}
              >
                {sayCredit(credits[place])}
              </PeopleCell>
            ))}
            <PeopleCell
              {...{ selected, onSelect }}
              mark={side.noneConversions > 0 ? ofGoal(0, { none: true, bucket: key }) : null}
            >
              {sayCredit(side.none)}
            </PeopleCell>
            <td className="number">{sayCredit(side.worth)}</td>
          </tr>
        )
      })}
    </FigureTable>
  )
}
