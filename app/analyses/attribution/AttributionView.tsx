import { lazy, memo, Suspense } from 'react'
import type { AttributionResult, CreditSide, GoalCredit } from '../../../core/analyses/attribution/finish.js'
import type { Credit } from '../../../core/analyses/attribution/credit.js'
import { creditsOf } from '../../../core/analyses/attribution/credits.js'
import type { AttributionMark } from '../../../core/analyses/attribution/marks.js'
import {
  leadOf,
  modelId,
  type AttributionForm,
  type AttributionQuestion,
  type Model,
} from '../../../core/analyses/attribution/question.js'
import {
  ageWords,
  lookBackWords,
  manyWords,
  modelNote,
  modelWords,
  pickedWords,
  sayCredit,
  touchByWords,
  touchWords,
  worthWords,
} from '../../../core/analyses/attribution/words.js'
import { groupId } from '../../../core/questions/groupId.js'
import {
  capital,
  countOf,
  formatDuration,
  formatNumber,
  formatPercent,
  formatPoints,
  MISSING,
} from '../../../core/words/format.js'
import { groupWords, splitsHead } from '../../../core/words/words.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { Mounted } from '../../ui/Mounted.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { Segmented } from '../../ui/Segmented.js'
import type { BodyProps, KindView } from '../view.js'
import { creditMark, inOrder, ofGoal, sideCredits, sideModel } from './figures.js'
import { ModelPicture } from './ModelPicture.js'
import './attribution.css'

const Lines = lazy(() => import('../../charts/LinesChart.js'))

type Props = BodyProps<AttributionQuestion, AttributionResult, AttributionMark>
type Shown = AttributionForm | 'over time'

const FORMS: Record<Shown, string> = {
  table: 'Table',
  'over time': 'Over time',
  touches: 'Paths of touches',
  early: 'Early or late',
}
/** More lines are not told apart. */
const MOST_LINES = 8

const formOf = ({ every, show }: AttributionQuestion): Shown => (every ? 'over time' : show.form)

function AttributionBody(props: Props) {
  const { question, result, edit } = props
  const form = formOf(question)
  const setForm = (next: Shown) => {
    const { every, show, ...rest } = question
    edit!(
      next === 'over time'
        ? { ...rest, every: every ?? 'week', show: { ...show, form: 'table' } }
        : { ...rest, show: { ...show, form: next } },
    )
  }
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<Shown>
            label="Form"
            value={form}
            options={(Object.keys(FORMS) as Shown[]).map((value) => ({ value, label: FORMS[value] }))}
            onChange={setForm}
          />
        </div>
      )}
      {result.goals.every(({ all }) => all.conversions === 0) ? (
        <p className="soft pad">
          Nobody did that in this time, as asked. Ask about a longer time, or fewer conditions.
        </p>
      ) : form === 'over time' ? (
        <OverTime {...props} />
      ) : form === 'touches' ? (
        <Ways {...props} />
      ) : form === 'early' ? (
        <EarlyOrLate {...props} />
      ) : (
        <CreditTable {...props} />
      )}
    </>
  )
}

const nameOf = ({ question, result, words }: Pick<Props, 'question' | 'result' | 'words'>, place: number) =>
  touchWords(result.values[place], question.by, result.restValues, words)

/** A row for each value, a column for each model of each conversion; no touch found by itself. */
function CreditTable(props: Props) {
  const { question, result, words, edit, selected, onSelect } = props
  const { models, goals: picks } = question
  const { goals } = result
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

function OverTime(props: Props) {
  const { question, result, words, selected, onSelect } = props
  const [goal] = result.goals
  const model = sideModel(question)
  const every = question.every!
  const { buckets } = result
  if (!model)
    return (
      <p className="soft pad">
        {capital(modelWords(leadOf(question)))} is told of all the time together. Add a model that shares each
        conversion by itself, to see it over time.
      </p>
    )
  const rows = inOrder(result, creditsOf(goal, goal.all, model)).slice(0, MOST_LINES)
  const lines = rows.map((place): ChartLine => {
    const values = goal.over.map((side) => creditsOf(goal, side, model)![place])
    return {
      label: nameOf(props, place),
      values,
      tells: goal.over.map(
        (side, at) =>
          `${sayCredit(values[at])} of ${sayCredit(side.worth)} ${worthWords(question, words)}, by ${modelWords(model)}`,
      ),
      dashed: buckets.map(({ open, cut }) => open || cut),
      rest: 'rest' in result.values[place],
    }
  })
  return (
    <>
      <p className="chart-note">
        {capital(worthWords(question, words))} credited by {modelWords(model)}
        {result.goals.length > 1 && `, of ${pickedWords(question.goals[0], words)}`}
      </p>
      <div className="chart-space">
        <Mounted>
          <Suspense>
            <Lines
              target={null}
              axis={buckets.map(({ key }) => bucketLabel(key, every, words))}
              titles={buckets.map(
                ({ key, open, cut }) =>
                  bucketTitle(key, every, words) + (open ? ', not over yet' : cut ? ', in part' : ''),
              )}
              lines={lines}
              unit="number"
              currency={words.currency ?? 'EUR'}
              figures
              label={`Credit by ${modelWords(model)}, each ${every}. Arrow keys move from point to point, Enter selects the people.`}
              chosen={selected.length > 0}
              {...(onSelect
                ? {
                    onPoint: (line: number, at: number, add: boolean) => {
                      if (!(lines[line].values[at]! > 0)) return
                      onSelect(creditMark(0, result.values[rows[line]], { model, bucket: buckets[at].key }), add)
                    },
                  }
                : {})}
            />
          </Suspense>
        </Mounted>
      </div>
    </>
  )
}

/** How many touches it takes, how long, and which ways of touches are gone. */
function Ways(props: Props) {
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

const ENDS = [
  ['begins', 'firstTouches'],
  ['carries', 'middleTouches'],
  ['closes', 'lastTouches'],
  ['alone', 'onlyTouches'],
] as const

const touchesOf = (own: Credit) => own.firstTouches + own.middleTouches + own.lastTouches + own.onlyTouches

/** Of its touches, which begin a way, lie between, close it, or are alone. */
function EndsStrip({ own }: { own: Credit }) {
  const all = touchesOf(own)
  if (all === 0) return null
  const said = ENDS.map(([name, figure]) => `${name} ${formatPercent(own[figure] / all, 0)}`).join(', ')
  return (
    <span className="ends-strip" role="img" aria-label={said} title={said}>
      {ENDS.map(([name, figure]) => (
        <i key={name} className={name} style={{ width: `${(own[figure] / all) * 100}%` }} />
      ))}
    </span>
  )
}

function EndsKey() {
  return (
    <span className="ends-key">
      {ENDS.map(([name]) => (
        <span key={name}>
          <i className={name} />
          {name}
        </span>
      ))}
    </span>
  )
}

/** Where in the ways each value stands: who begins, who closes. */
function EarlyOrLate(props: Props) {
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

/** Beneath: by week, and by group. */
function AttributionTable(props: Props) {
  const { question, result, words } = props
  const [goal] = result.goals
  const model = sideModel(question)
  if (goal.all.conversions === 0 || !model) return null
  const form = formOf(question)
  if (form === 'over time') return <BucketRows {...props} model={model} />
  if (form !== 'table' || goal.groups.length === 0) return null
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

export const view: KindView<AttributionQuestion, AttributionResult, AttributionMark> = {
  Body: memo(AttributionBody),
  Numbers: memo(AttributionTable),
}
