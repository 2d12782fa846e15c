import { lazy, Suspense } from 'react'
import { creditsOf } from '../../../core/analyses/attribution/credits.js'
import { leadOf } from '../../../core/analyses/attribution/question.js'
import { modelWords, pickedWords, sayCredit, worthWords } from '../../../core/analyses/attribution/words.js'
import { capital } from '../../../core/words/format.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { Mounted } from '../../ui/Mounted.js'
import { creditMark, inOrder, nameOf, sideModel, type Props } from './figures.js'

import './attribution.css'

const Lines = lazy(() => import('../../charts/LinesChart.js'))

/** More lines are not told apart. */
const MOST_LINES = 8

/** What each value has by a model, bucket by bucket. */
export function CreditOverTime(props: Props) {
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
