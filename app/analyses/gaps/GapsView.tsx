import { lazy, memo, Suspense } from 'react'
import { medianEnd, type GapBin, type GapsFigures, type GapsResult } from '../../../core/analyses/gaps/finish.js'
import type { GapForm, GapsQuestion } from '../../../core/analyses/gaps/question.js'
import { daysWords, gapWords } from '../../../core/analyses/gaps/words.js'
import type { GapsMark } from '../../../core/analyses/gaps/marks.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import { groupId } from '../../../core/questions/groupId.js'
import { countOf, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { groupWords, splitsHead } from '../../../core/words/words.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { seriesVar } from '../../look/palette.js'
import { Mounted } from '../../ui/Mounted.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'

const Bars = lazy(() => import('../../charts/BarsChart.js'))
const Lines = lazy(() => import('../../charts/LinesChart.js'))

type Props = BodyProps<GapsQuestion, GapsResult, GapsMark>

function gapMark({ least, most }: GapBin): GapsMark {
  return { kind: 'gap', least, ...(most === null ? {} : { most }) }
}

function medianMark(bin: GapBin): GapsMark {
  const most = medianEnd(bin)
  return { kind: 'gap', least: bin.least, of: 'median', ...(most === undefined ? {} : { most }) }
}

const binName = ({ least, most }: GapBin) =>
  most === null ? `${least}+` : most === least ? String(least) : `${least}–${most}`

function GapsBody(props: Props) {
  const { question, result, edit } = props
  const { form } = question.show
  const isGaps = form === 'gaps'
  const whole = isGaps ? result.gaps : result.people
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<GapForm>
            label="Form"
            value={form}
            options={[
              { value: 'gaps', label: 'Every gap' },
              { value: 'people', label: 'People by their median' },
            ]}
            onChange={(next) => edit({ ...question, show: { form: next } })}
          />
        </div>
      )}
      {whole === 0 ? (
        <p className="soft pad">Nobody came on two different days in this time: there are no gaps.</p>
      ) : (
        <>
          <p className="chart-note">
            {isGaps
              ? '% of gaps, by days from one time to the next'
              : '% of people who came back, by the median of their gaps in days'}
          </p>
          <div className="chart-space">
            <Mounted>
              <Suspense>{result.groups.length > 0 ? <GroupLines {...props} /> : <Whole {...props} />}</Suspense>
            </Mounted>
          </div>
        </>
      )}
    </>
  )
}

/** How long everybody took. */
function Whole({ question, result, words, selected, onSelect }: Props) {
  const { bins } = result
  const isGaps = question.show.form === 'gaps'
  const whole = isGaps ? result.gaps : result.people
  return (
    <Bars
      axis={bins.map(binName)}
      titles={bins.map(({ least, most }) => `After ${gapWords(least, most)}`)}
      bars={[
        {
          label: isGaps ? 'Gaps' : 'People',
          values: bins.map(({ gaps, people }) => (isGaps ? gaps : people) / whole),
          tells: bins.map(({ gaps, people }) =>
            isGaps
              ? `${formatPercent(gaps / whole)}, ${formatNumber(gaps)} of ${formatNumber(whole)} gaps`
              : `${formatPercent(people / whole)}, ${countOf(people, 'person', 'people')}`,
          ),
          paint: 'water',
        },
      ]}
      stacked={false}
      unit="percent"
      currency={words.currency ?? 'EUR'}
      figures
      label="How long people take to come back. Arrow keys move from bar to bar, Enter selects the people."
      chosen={selected.length > 0}
      {...(onSelect
        ? {
            onPoint: (_line: number, at: number, add: boolean) => {
              const bin = bins[at]
              if ((isGaps ? bin.gaps : bin.people) > 0) onSelect(isGaps ? gapMark(bin) : medianMark(bin), add)
            },
          }
        : {})}
    />
  )
}

/** A line for each group, each as shares of its own. */
function GroupLines({ question, result, words, selected, onSelect }: Props) {
  const { bins, groups, rest } = result
  const isGaps = question.show.form === 'gaps'
  return (
    <Lines
      axis={bins.map(binName)}
      titles={bins.map(({ least, most }) => `After ${gapWords(least, most)}`)}
      lines={groups.map((group): ChartLine => {
        const whole = isGaps ? group.gaps : group.people
        return {
          label: groupWords(group.key, rest),
          values: group.bins.map((bin) => (whole > 0 ? (isGaps ? bin.gaps : bin.people) / whole : null)),
          tells: group.bins.map((bin) =>
            isGaps
              ? `${formatNumber(bin.gaps)} of ${formatNumber(whole)} gaps`
              : `${formatNumber(bin.people)} of ${countOf(whole, 'person', 'people')}`,
          ),
          rest: 'rest' in group.key,
        }
      })}
      unit="percent"
      currency={words.currency ?? 'EUR'}
      target={null}
      label="How long people of each group take to come back. Arrow keys move from point to point, Enter selects the people."
      chosen={selected.length > 0}
      {...(onSelect
        ? {
            onPoint: (line: number, at: number, add: boolean) => {
              const { key, bins: own } = groups[line]
              if ((isGaps ? own[at].gaps : own[at].people) > 0)
                onSelect({ ...(isGaps ? gapMark(own[at]) : medianMark(own[at])), group: key }, add)
            },
          }
        : {})}
    />
  )
}

function GapsNumbers(props: Props) {
  return props.result.groups.length > 0 ? <GroupTable {...props} /> : <GapsTable {...props} />
}

/** A row for each group: how many did it, how many once only, and how long the others took. */
function GroupTable({ question, result, words, selected, onSelect }: Props) {
  const days = (n: number | null) => (n === null ? MISSING : daysWords(n))
  const line = (row: GapsFigures, key: GroupKey | null, place: number) => (
    <tr key={groupId(key ?? undefined)} className={key ? undefined : 'all-row'}>
      <th scope="row">
        {key && <i className="dot" style={{ background: seriesVar(place, 'rest' in key) }} />}
        {key ? groupWords(key, result.rest) : 'All together'}
      </th>
      <td className="number">{formatNumber(row.people + row.once)}</td>
      <PeopleCell
        {...{ selected, onSelect }}
        first={key === null ? result.groups.length === 0 : place === 0}
        mark={row.once > 0 ? { kind: 'gap', least: 0, of: 'once', ...(key ? { group: key } : {}) } : null}
      >
        {formatNumber(row.once)}
      </PeopleCell>
      <td className="number">{formatNumber(row.gaps)}</td>
      <td className="number">{days(row.median)}</td>
      <td className="number">{days(row.eighty)}</td>
      <td className="number">{days(row.medianOfMedians)}</td>
    </tr>
  )
  return (
    <FigureTable
      heads={[
        splitsHead(question.breakdowns!, words),
        'People',
        'On one day only',
        'Gaps',
        { text: 'Half of them within', title: 'The median of all gaps' },
        { text: '80 % of them within', title: 'The least number of days that at least 80 % of all gaps do not exceed' },
        { text: 'A typical person after', title: 'The median of each person’s own median gap' },
      ]}
      selects={onSelect !== undefined}
    >
      {result.groups.map((row, place) => line(row, row.key, place))}
      {line(result, null, 0)}
    </FigureTable>
  )
}

function GapsTable({ result, selected, onSelect }: Props) {
  let before = 0
  return (
    <FigureTable
      heads={['Came back after', 'Gaps', '% of gaps', '% up to here', 'People by their median', '% of people']}
      selects={onSelect !== undefined}
    >
      {result.bins.map((bin, r) => {
        before += bin.gaps
        const share = (n: number, whole: number) => formatPercent(whole > 0 ? n / whole : null)
        return (
          <tr key={bin.least}>
            <th scope="row">{gapWords(bin.least, bin.most)}</th>
            <td className="number">{formatNumber(bin.gaps)}</td>
            <td className="number">{share(bin.gaps, result.gaps)}</td>
            <td className="number">{share(before, result.gaps)}</td>
            <PeopleCell {...{ selected, onSelect }} first={r === 0} mark={bin.people > 0 ? medianMark(bin) : null}>
              {formatNumber(bin.people)}
            </PeopleCell>
            <td className="number">{share(bin.people, result.people)}</td>
          </tr>
        )
      })}
      <tr className="all-row">
        <th scope="row">On one day only</th>
        <td className="number" />
        <td className="number" />
        <td className="number" />
        <PeopleCell {...{ selected, onSelect }} mark={result.once > 0 ? { kind: 'gap', least: 0, of: 'once' } : null}>
          {formatNumber(result.once)}
        </PeopleCell>
        <td className="number" />
      </tr>
    </FigureTable>
  )
}

export const view: KindView<GapsQuestion, GapsResult, GapsMark> = {
  Body: memo(GapsBody),
  Numbers: memo(GapsNumbers),
}
