import { modelNote } from '../../../core/analyses/attribution/modelNotes.js'
import type { GoalCredit } from '../../../core/analyses/attribution/finish.js'
import { creditsOf } from '../../../core/analyses/attribution/credits.js'
import { leadOf, modelId, type AttributionQuestion, type Model } from '../../../core/analyses/attribution/question.js'
import {
  lookBackWords,
  modelWords,
  pickedWords,
  sayCredit,
  touchByWords,
  worthWords,
} from '../../../core/analyses/attribution/words.js'
import { groupId } from '../../../core/questions/groupId.js'
import { capital, countOf, formatDuration, formatPercent, formatPoints, MISSING } from '../../../core/words/format.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { creditMark, inOrder, nameOf, ofGoal, type Props } from './figures.js'
import { CostNote, CostOf, paid } from './Costs.js'
import { EndsKey, EndsStrip } from './Ends.js'

import { ModelPicture } from './ModelPicture.js'
import './attribution.css'

/** A row for each value, a column for each model of each conversion; no touch found by itself. */
export function CreditTable(props: Props) {
  const { question, result, words, edit, selected, onSelect } = props
  const { models, goals: picks } = question
  const { goals, cost } = result
  const lead = leadOf(question)
  const rows = inOrder(result, creditsOf(goals[0], goals[0].all, lead))
  const order = (at: number) => {
    const { lead: _before, ...show } = question.show
    edit?.({ ...question, show: at > 0 ? { ...show, lead: at } : show })
  }
  const several = goals.length > 1
  const leaveOut = (place: number) => {
    const key = result.values[place]
    if (edit && 'value' in key && key.value !== null)
      edit({
        ...question,
        leftOut: [...(question.leftOut ?? []), key],
        ...(question.direct ? { direct: withoutKey(question.direct, groupId(key)) } : {}),
      })
  }
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="The numbers" data-table="">
      <table className="numbers cohorts credit-table" role={onSelect ? 'grid' : undefined} onKeyDown={moveInTable}>
        <thead>
          {several && (
            <tr>
              <th scope="col" />
              {cost && <th scope="col" />}
              {picks.map((pick, at) => (
                <th key={at} scope="colgroup" colSpan={models.length} className="number">
                  {pickedWords(pick, words)}
                </th>
              ))}
            </tr>
          )}
          <tr>
            <th scope="col" className="one-path">
              <Example {...props} />
            </th>
            {cost && (
              <th scope="col" className="number">
                Paid
              </th>
            )}
            {goals.map((_goal, g) =>
              models.map((model, at) => (
                <th
                  key={`${g} ${modelId(model)}`}
                  scope="col"
                  className="number"
                  title={modelNote(model)}
                  aria-sort={g === 0 ? (modelId(model) === modelId(lead) ? 'descending' : 'none') : undefined}
                >
                  <ModelPicture model={model} question={question} result={result} />
                  {edit && g === 0 ? (
                    <button type="button" className="sort-button" onClick={() => order(at)}>
                      {capital(modelWords(model))}
                      {modelId(model) === modelId(lead) && <span aria-hidden="true"> ↓</span>}
                    </button>
                  ) : (
                    capital(modelWords(model))
                  )}
                </th>
              )),
            )}
            {!several && (
              <th scope="col" title="Where in the ways to a conversion its touches stand">
                <EndsKey />
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map((place, row) => {
            const key = result.values[place]
            return (
              <tr key={groupId(key)} className={'rest' in key ? 'rest' : ''}>
                <th scope="row">
                  {nameOf(props, place)}
                  {edit && 'value' in key && (
                    <button
                      type="button"
                      className="leave-out"
                      aria-label={`Leave out ${nameOf(props, place)}`}
                      title="Leave out, as if there had been no such touch"
                      onClick={() => leaveOut(place)}
                    >
                      ×
                    </button>
                  )}
                </th>
                {cost && <td className="number">{paid(cost.amounts[place], words)}</td>}
                {goals.map((goal, g) =>
                  models.map((model, at) => (
                    <CreditCell
                      key={`${g} ${modelId(model)}`}
                      {...{ selected, onSelect, goal, g, place, model, result, words, question }}
                      first={row === 0 && g === 0 && at === 0}
                    />
                  )),
                )}
                {!several && (
                  <td>
                    <EndsStrip own={goals[0].all.credit[place]} />
                  </td>
                )}
              </tr>
            )
          })}
          <tr className="no-touch">
            <th scope="row">no touch found</th>
            {cost && <td />}
            {goals.map(({ all }, g) =>
              models.map((model, at) => (
                <PeopleCell
                  key={`${g} ${modelId(model)}`}
                  {...{ selected, onSelect }}
                  className="credit"
                  mark={all.noneConversions > 0 ? ofGoal(g, { none: true }) : null}
                  title={`${countOf(all.noneConversions, 'conversion', 'conversions')} of ${countOf(all.nonePeople, 'person', 'people')} with no touch in ${lookBackWords(question.lookBack)}`}
                >
                  {sayCredit(all.none)}
                  <small>
                    {all.worth > 0 ? formatPercent(all.none / all.worth, 0) : MISSING}
                    {at > 0 && ' ±0'}
                  </small>
                  <i style={barOf(all.none, goals[g])} />
                </PeopleCell>
              )),
            )}
            {!several && <td />}
          </tr>
          <tr className="all-row">
            <th scope="row">All</th>
            {cost && <td className="number">{paid(cost.total, words)}</td>}
            {goals.map(({ all }, g) =>
              models.map((model, at) => (
                <PeopleCell
                  key={`${g} ${modelId(model)}`}
                  {...{ selected, onSelect }}
                  mark={at === 0 && all.conversions > 0 ? ofGoal(g, {}) : null}
                  title={`${countOf(all.conversions, 'conversion', 'conversions')} of ${countOf(all.people, 'person', 'people')}`}
                >
                  {sayCredit(addedUp(goals[g], model))}
                </PeopleCell>
              )),
            )}
            {!several && <td />}
          </tr>
        </tbody>
      </table>
      <p className="hint">
        {goals.map(({ all }, g) => (
          <span key={g}>
            {several && `${pickedWords(picks[g], words)}: `}
            {countOf(all.conversions, 'conversion', 'conversions')} of {countOf(all.people, 'person', 'people')}.{' '}
          </span>
        ))}
        {models.some((model) => model !== 'participation') && 'Each column adds up to all'}
        {models.includes('participation') &&
          models.length > 1 &&
          ', but for participation, in which each who took part has the whole'}
        {models.length > 1 ? `. ± points against ${modelWords(models[0])}.` : '.'}
      </p>
      <CostNote {...{ question, result, words }} />
    </div>
  )
}

/** What a column adds up to: with participation as often as values took part. */
const addedUp = (goal: GoalCredit, model: Model) =>
  model === 'participation'
    ? creditsOf(goal, goal.all, model)!.reduce((sum, credit) => sum + credit, goal.all.none)
    : goal.all.worth

const withoutKey = (keys: NonNullable<AttributionQuestion['direct']>, id: string) => {
  const left = keys.filter((key) => groupId(key) !== id)
  return left.length > 0 ? left : undefined
}

/** As wide as the largest credit of any model is full. */
function barOf(credit: number, { all }: GoalCredit) {
  const most = Math.max(all.none, ...all.credit.map(({ any }) => any))
  return { width: `${most > 0 ? Math.max(0, Math.min(1, credit / most)) * 60 : 0}%` }
}

function CreditCell(
  props: Pick<Props, 'selected' | 'onSelect' | 'result' | 'words' | 'question'> & {
    goal: GoalCredit
    g: number
    place: number
    model: Model
    first: boolean
  },
) {
  const { selected, onSelect, result, words, question, goal, g, place, model, first } = props
  const { all } = goal
  const credit = creditsOf(goal, all, model)?.[place] ?? null
  const base = creditsOf(goal, all, question.models[0])?.[place] ?? null
  const key = result.values[place]
  const own = all.credit[place]
  const drawn = model === 'removal' ? goal.removal?.[place] : undefined
  const share = credit !== null && all.worth > 0 ? credit / all.worth : null
  const isBase = modelId(model) === modelId(question.models[0])
  const points = isBase || base === null || credit === null || !(all.worth > 0) ? null : (credit - base) / all.worth
  const title = [
    `${nameOf(props, place)} by ${modelWords(model)}: credited with ${sayCredit(credit)} of ${sayCredit(all.worth)} ${worthWords(question, words)}`,
    `one of the touches of ${countOf(own.conversions, 'conversion', 'conversions')} of ${countOf(own.people, 'person', 'people')}`,
    ...(drawn ? [`95 %: ${sayCredit(drawn.low)} to ${sayCredit(drawn.high)}`] : []),
  ].join('; ')
  return (
    <PeopleCell
      {...{ selected, onSelect, first, title }}
      className="credit"
      mark={credit !== null && credit > 0 ? creditMark(g, key, { model }) : null}
    >
      {sayCredit(credit)}
      <small>
        {formatPercent(share, 0)}
        {points !== null && ` ${bare(points)}`}
        {drawn && ` (${sayCredit(drawn.low)}–${sayCredit(drawn.high)})`}
      </small>
      {result.cost && <CostOf {...{ cost: result.cost, place, credit, question, words }} />}
      {credit !== null && <i style={barOf(credit, goal)} />}
    </PeopleCell>
  )
}

/** Points without their unit, which stands beneath the table. */
const bare = (points: number) => (Math.abs(points) < 0.0005 ? '±0' : formatPoints(points).replace(/\s?points?$/u, ''))

/** A real path of the data, which the little pictures share. */
function Example(props: Props) {
  const { question, result, words } = props
  const { example } = result
  const name = capital(touchByWords(question.by, words))
  if (!example) return <>{name}</>
  return (
    <>
      <small>
        One real path:{' '}
        {example.values.map((place, at) => (
          <span key={at}>
            {nameOf(props, place)} · {gap(example.ages, at)} ·{' '}
          </span>
        ))}
        <strong>{pickedWords({ event: question.goals[example.goal].event }, words)}</strong>
      </small>
      <br />
      {name}
    </>
  )
}

/** How long after a touch the next thing came. */
const gap = (ages: readonly number[], at: number) => formatDuration(ages[at] - (ages[at + 1] ?? 0))
