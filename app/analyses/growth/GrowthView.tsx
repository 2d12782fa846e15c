import type { GrowthMark } from '../../../core/analyses/growth/marks.js'
import { lazy, memo, Suspense } from 'react'
import type { GrowthResult, GrowthStep } from '../../../core/analyses/growth/finish.js'
import {
  growthStates,
  type GrowthForm,
  type GrowthQuestion,
  type GrowthState,
} from '../../../core/analyses/growth/question.js'
import { STATE_MEANS } from '../../../core/analyses/growth/sentence.js'
import { countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { groupWords } from '../../../core/words/words.js'
import type { BarSeries } from '../../charts/barsConfig.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { bucketLabel } from '../../charts/bucketLabel.js'
import { deferred } from '../../page/deferred.js'
import { Mounted } from '../../ui/Mounted.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'
import { FlowPicture } from './FlowPicture.js'
import { FlowTable, GrowthTable } from './GrowthTable.js'
import { chosenStep, keyUnit, markOf, shownStep, STATE_NAMES, STATE_PAINT, stepTitle } from './states.js'

const PickField = deferred(async () => (await import('../../ui/PickField.js')).PickField)
const Bars = lazy(() => import('../../charts/BarsChart.js'))
const Lines = lazy(() => import('../../charts/LinesChart.js'))
/** Tests its groups against each other, which takes what most pages of growth do without. */
const GroupTable = deferred(async () => (await import('./GroupTable.js')).GroupTable)

type Props = BodyProps<GrowthQuestion, GrowthResult, GrowthMark>

const FORMS: Record<GrowthForm, string> = {
  states: 'States',
  shares: 'Shares',
  one: 'One state',
  net: 'Net growth',
  quick: 'Quick ratio',
  kept: 'Retention rate',
  flows: 'Flows',
}

function GrowthBody(props: Props) {
  const { question, result, edit, words } = props
  const { form, state = 'lapsed' } = question.show
  const chosen = chosenStep(question, result)
  const grouped = result.groups.length > 0
  const interval = form === 'flows' ? chosen : grouped ? result.steps[shownStep(question, result)] : null
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<GrowthForm>
            label="Form"
            value={form}
            options={(Object.keys(FORMS) as GrowthForm[]).map((value) => ({ value, label: FORMS[value] }))}
            onChange={(next) => edit({ ...question, show: { ...question.show, form: next } })}
          />
          {form === 'one' && (
            <Segmented<GrowthState>
              label="Which state"
              value={state}
              options={growthStates.map((value) => ({ value, label: STATE_NAMES[value] }))}
              onChange={(next) => edit({ ...question, show: { ...question.show, state: next } })}
            />
          )}
          {interval && (
            <Suspense>
              <PickField
                label={form === 'flows' ? 'Into which interval' : 'Interval of the table'}
                value={interval.key}
                options={result.steps
                  .slice(form === 'flows' ? 1 : 0)
                  .map((step) => ({ value: step.key, label: stepTitle(question, step, words) }))}
                onChange={(at) => edit({ ...question, show: { ...question.show, at } })}
              />
            </Suspense>
          )}
        </div>
      )}
      <p className="chart-note">
        {noteOf(form, state)}
        {grouped && TOGETHER.includes(form) && ', of everybody together'}
      </p>
      {result.steps.length === 0 ? (
        <p className="soft pad">There is no interval in this time.</p>
      ) : form === 'flows' ? (
        chosen ? (
          <FlowPicture {...props} step={chosen} />
        ) : (
          <p className="soft pad">One interval alone has no flows. Ask for a longer time.</p>
        )
      ) : (
        <div className="chart-space">
          <Mounted>
            <Suspense>
              <Drawn {...props} />
            </Suspense>
          </Mounted>
        </div>
      )}
    </>
  )
}

/** Forms that draw many figures of one group: groups stand in the table only. */
const TOGETHER: readonly GrowthForm[] = ['states', 'shares', 'flows']

function noteOf(form: GrowthForm, state: GrowthState): string {
  switch (form) {
    case 'states':
      return 'Active people above the line, lapsed below'
    case 'shares':
      return 'Shares of everyone seen so far'
    case 'one':
      return `${STATE_NAMES[state]}: ${STATE_MEANS[state]}`
    case 'net':
      return 'Net growth above the bars: new + revived − lapsed'
    case 'quick':
      return '(New + revived) ÷ lapsed: above 1 more come than go'
    case 'kept':
      return 'Retained ÷ active in the interval before'
    case 'flows':
      return 'From what people were in the interval before to what they are'
  }
}

function Drawn({ question, result, words, selected, onSelect }: Props) {
  const { steps } = result
  const { form, state: one = 'lapsed' } = question.show
  const shared = {
    axis: steps.map(({ key }) => bucketLabel(key, keyUnit(question), words)),
    titles: steps.map((step) => stepTitle(question, step, words)),
    currency: words.currency ?? 'EUR',
    chosen: selected.length > 0,
  }
  const pale = steps.map(({ open }) => open)
  if (result.groups.length > 0 && !TOGETHER.includes(form))
    return <GroupLines {...{ question, result, words, selected }} {...(onSelect ? { onSelect } : {})} shared={shared} />
  const bar = (state: GrowthState, sign: 1 | -1, share: boolean): BarSeries => ({
    label: STATE_NAMES[state],
    values: steps.map(({ people, seen }) => sign * (share ? (seen > 0 ? people[state] / seen : 0) : people[state])),
    tells: steps.map(({ people, seen }) =>
      share
        ? `${formatPercent(seen > 0 ? people[state] / seen : null)}, ${formatNumber(people[state])} of ${countOf(seen, 'person', 'people')}`
        : countOf(people[state], 'person', 'people'),
    ),
    paint: STATE_PAINT[state],
    pale,
  })
  const select = (states: readonly GrowthState[]) =>
    onSelect && {
      onPoint: (line: number, at: number, add: boolean) => {
        if (steps[at].people[states[line]] > 0) onSelect(markOf(steps[at], [states[line]]), add)
      },
    }
  if (form === 'states' || form === 'shares') {
    const share = form === 'shares'
    const states: GrowthState[] = share
      ? [...growthStates].sort((a, b) => ORDER[a] - ORDER[b])
      : ['retained', 'revived', 'new', 'lapsed']
    return (
      <Bars
        {...shared}
        bars={states.map((state) => bar(state, !share && state === 'lapsed' ? -1 : 1, share))}
        stacked
        unit={share ? 'percent' : 'people'}
        label="People by state in each interval. Arrow keys move from bar to bar, Enter selects the people of one."
        {...select(states)}
      />
    )
  }
  if (form === 'one')
    return (
      <Bars
        {...shared}
        bars={[bar(one, 1, false)]}
        stacked={false}
        unit="people"
        figures
        label={`People who are ${one} in each interval. Arrow keys move from bar to bar, Enter selects them.`}
        {...select([one])}
      />
    )
  if (form === 'net') {
    const sides: GrowthState[][] = [['new', 'revived'], ['lapsed']]
    const sum = (at: number, side: number) => sides[side].reduce((all, state) => all + steps[at].people[state], 0)
    const half = (side: number, sign: 1 | -1, label: string): BarSeries => ({
      ...{ label, paint: side === 0 ? 1 : STATE_PAINT.lapsed, pale },
      values: steps.map((_step, at) => sign * sum(at, side)),
      tells: steps.map(({ net }, at) => `${countOf(sum(at, side), 'person', 'people')}; net growth ${signed(net)}`),
    })
    return (
      <Bars
        {...shared}
        bars={[half(0, 1, 'Came or came back'), half(1, -1, 'Lapsed')]}
        totals={steps.map(({ net }) => signed(net))}
        stacked
        unit="people"
        label="Who came and who lapsed in each interval, with the net growth above. Arrow keys move from bar to bar, Enter selects the people of one."
        {...(onSelect
          ? {
              onPoint: (side: number, at: number, add: boolean) => {
                if (sum(at, side) > 0) onSelect(markOf(steps[at], sides[side]), add)
              },
            }
          : {})}
      />
    )
  }
  const line: ChartLine =
    form === 'quick'
      ? {
          label: 'Quick ratio',
          values: steps.map(({ quick }) => quick),
          tells: steps.map(({ quick, people }) =>
            quick === null
              ? 'nobody lapsed'
              : `${quick.toFixed(2)}: ${formatNumber(people.new + people.revived)} came, ${formatNumber(people.lapsed)} lapsed`,
          ),
          dashed: pale,
          rest: false,
        }
      : {
          label: 'Retention rate',
          values: steps.map(({ kept }) => kept),
          tells: steps.map(
            ({ kept, people, before }) =>
              `${formatPercent(kept)}, ${formatNumber(people.retained)} of ${formatNumber(before)}`,
          ),
          dashed: pale,
          rest: false,
        }
  return (
    <Lines
      {...shared}
      lines={[line]}
      unit={form === 'quick' ? 'number' : 'percent'}
      target={form === 'quick' ? { at: 1, text: 'as many come as go' } : null}
      label={
        form === 'quick'
          ? 'Quick ratio in each interval. Arrow keys move from point to point.'
          : 'Retention rate in each interval. Arrow keys move from point to point, Enter selects the retained people.'
      }
      {...(form === 'kept' && onSelect
        ? {
            onPoint: (_line: number, at: number, add: boolean) => {
              if (steps[at].people.retained > 0) onSelect(markOf(steps[at], ['retained']), add)
            },
          }
        : {})}
    />
  )
}

/** A line for each group of the figure that is looked at. */
function GroupLines(
  props: Props & { shared: { axis: string[]; titles: string[]; currency: string; chosen: boolean } },
) {
  const { question, result, onSelect, shared } = props
  const { form, state = 'lapsed' } = question.show
  const figureOf = ({ people, net, quick, kept }: GrowthStep): number | null =>
    form === 'one' ? people[state] : form === 'net' ? net : form === 'quick' ? quick : kept
  const tellOf = (step: GrowthStep): string => {
    const { people, net, quick, kept, before } = step
    if (form === 'one') return countOf(people[state], 'person', 'people')
    if (form === 'net') return signed(net)
    if (form === 'quick') return quick === null ? 'nobody lapsed' : quick.toFixed(2)
    return `${formatPercent(kept)}, ${formatNumber(people.retained)} of ${formatNumber(before)}`
  }
  const of = form === 'one' ? state : form === 'kept' ? 'retained' : null
  return (
    <Lines
      {...shared}
      lines={result.groups.map(({ key, steps }): ChartLine => ({
        label: groupWords(key, result.rest),
        values: steps.map(figureOf),
        tells: steps.map(tellOf),
        dashed: steps.map(({ open }) => open),
        rest: 'rest' in key,
      }))}
      unit={form === 'kept' ? 'percent' : form === 'quick' ? 'number' : 'people'}
      target={form === 'quick' ? { at: 1, text: 'as many come as go' } : null}
      label={`${FORMS[form]} of each group in each interval. Arrow keys move from point to point${of ? ', Enter selects the people of one' : ''}.`}
      {...(of && onSelect
        ? {
            onPoint: (line: number, at: number, add: boolean) => {
              const { key, steps } = result.groups[line]
              if (steps[at].people[of] > 0) onSelect({ ...markOf(steps[at], [of]), group: key }, add)
            },
          }
        : {})}
    />
  )
}

const signed = (n: number) => `${n > 0 ? '+' : ''}${formatNumber(n)}`.replace('-', '−')

/** From the line upwards: who is here, then who is away. */
const ORDER: Record<GrowthState, number> = { retained: 0, revived: 1, new: 2, lapsed: 3, idle: 4 }

function GrowthNumbers(props: Props) {
  const step = chosenStep(props.question, props.result)
  if (props.question.show.form === 'flows' && step) return <FlowTable {...props} step={step} />
  if (props.result.groups.length > 0) return <GroupTable {...props} />
  return <GrowthTable {...props} />
}

export const view: KindView<GrowthQuestion, GrowthResult, GrowthMark> = {
  Body: memo(GrowthBody),
  Numbers: memo(GrowthNumbers),
}
