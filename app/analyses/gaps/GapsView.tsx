import { lazy, memo, Suspense } from 'react'
import { medianEnd, type GapBin, type GapsResult } from '../../../core/analyses/gaps/finish.js'
import type { GapForm, GapsQuestion } from '../../../core/analyses/gaps/question.js'
import { gapWords } from '../../../core/analyses/gaps/words.js'
import type { GapsMark } from '../../../core/analyses/gaps/marks.js'
import { countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { Mounted } from '../../ui/Mounted.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'

const Bars = lazy(() => import('../../charts/BarsChart.js'))

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

function GapsBody({ question, result, words, edit, selected, onSelect }: Props) {
  const { form } = question.show
  const { bins } = result
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
              <Suspense>
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
                          if ((isGaps ? bin.gaps : bin.people) > 0)
                            onSelect(isGaps ? gapMark(bin) : medianMark(bin), add)
                        },
                      }
                    : {})}
                />
              </Suspense>
            </Mounted>
          </div>
        </>
      )}
    </>
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
  Numbers: memo(GapsTable),
}
