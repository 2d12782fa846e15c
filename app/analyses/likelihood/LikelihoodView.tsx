import { lazy, Suspense } from 'react'
import type { LikelihoodResult } from '../../../core/analyses/likelihood/finish.js'
import type { LikelihoodMark } from '../../../core/analyses/likelihood/marks.js'
import type { KeptModel } from '../../../core/analyses/likelihood/model.js'
import type { LikelihoodForm, LikelihoodQuestion } from '../../../core/analyses/likelihood/question.js'
import { pairsWords } from '../../../core/analyses/likelihood/words.js'
import { isTelling } from '../../../core/analyses/likelihood/weights.js'
import { countOf, formatMoment, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView } from '../view.js'
import { FeatureRows, LeftOut } from './FeatureRows.js'
import { Hill } from './Hill.js'
import './likelihood.css'
import type { Props } from './props.js'
import { GroupRows, SliceRows, TenthBars, TenthRows } from './QualityRows.js'

const KeepAsProperty = lazy(() => import('./KeepAsProperty.js'))
const LearnAgain = lazy(() => import('./LearnAgain.js'))

const FORMS: Record<LikelihoodForm, string> = {
  quality: 'How good is it?',
  people: 'Who?',
  features: 'What does it look at?',
}

function Body(props: Props) {
  const { question, result, words, edit } = props
  const { model, scored } = result
  if (!model || !scored) return <p className="pad soft">There are too few people to learn from: see what this says.</p>
  const { form } = question.show
  return (
    <>
      {edit && (
        <div className="chart-bar">
          <Segmented<LikelihoodForm>
            label="Form"
            value={form}
            options={(Object.keys(FORMS) as LikelihoodForm[]).map((value) => ({ value, label: FORMS[value] }))}
            onChange={(next) => edit({ ...question, show: { ...question.show, form: next } })}
          />
        </div>
      )}
      <Trained {...{ model, words }} question={edit ? question : null} before={result.before} />
      {form === 'quality' && <Quality {...props} model={model} />}
      {form === 'people' && <Hill {...props} scored={scored} model={model} />}
      {form === 'features' && <FeatureRows {...props} model={model} />}
    </>
  )
}

/** When it was trained, of whom, and the way to have it trained anew. */
function Trained(props: { model: KeptModel; words: Words; question: LikelihoodQuestion | null; before: boolean }) {
  const { model, words, question, before } = props
  const { trainedAt, counts } = model
  const at = formatMoment(trainedAt, words.zone ?? 'UTC', words.thisYear)
  return (
    <p className="chart-note trained">
      {before ? 'Trained' : 'Trained just now,'} as of {at} on {countOf(counts.trained, 'person', 'people')},{' '}
      {formatNumber(counts.trainedDid)} of whom did it.{' '}
      {question && (
        <Suspense>
          <LearnAgain question={question} /> {/* Another question is another property, whatever was kept before. */}
          <KeepAsProperty key={JSON.stringify({ ...question, show: null })} {...{ question, words }} />
        </Suspense>
      )}
    </p>
  )
}

function Quality(props: Props & { model: KeptModel }) {
  const { told } = props.model
  const { auc, byLast } = told
  const fifth = told.did > 0 ? told.caught[20] / told.did : null
  return (
    <>
      <dl className="key-figures">
        <Figure
          name="pairs in the right order"
          value={auc && pairsWords(auc.value)}
          note={auc ? `95 %: ${pairsWords(auc.low)} to ${pairsWords(auc.high)}; chance: 50 %` : ''}
        />
        <Figure
          name="of those who did it stood in the likeliest fifth"
          value={fifth === null ? null : formatPercent(fifth, 0)}
          note={`${formatNumber(told.caught[20])} of ${formatNumber(told.did)}; chance: 20 %`}
        />
        <Figure
          name="if ranked by last activity only"
          value={byLast && formatPercent(byLast.auc.value, 0)}
          note={byLast ? `95 %: ${formatPercent(byLast.auc.low, 0)} to ${formatPercent(byLast.auc.high, 0)}` : ''}
        />
      </dl>
      {!isTelling(props.model) && (
        <p className="pad">
          <strong>It does not tell clearly better than chance.</strong> Whom it puts first is not worth acting on.
        </p>
      )}
      <TenthBars tenths={told.tenths} people={told.people} />
      <p className="hint tenths-note">
        Mean square of what was foretold less what happened (Brier): {told.brier.toFixed(4)}; of foretelling the rate of
        all for everybody: {told.brierOfRate.toFixed(4)}. The smaller, the better.
      </p>
    </>
  )
}

function Figure({ name, value, note }: { name: string; value: string | null; note: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        <strong>{value ?? MISSING}</strong>
        <small>{note}</small>
      </dd>
    </div>
  )
}

function Numbers(props: Props) {
  const { question, result } = props
  const { model, scored } = result
  if (!model || !scored) return null
  switch (question.show.form) {
    case 'quality':
      return (
        <>
          <TenthRows tenths={model.told.tenths} />
          <GroupRows {...props} groups={model.told.groups} all={model.told} />
        </>
      )
    case 'people':
      return <SliceRows {...props} scored={scored} model={model} />
    case 'features':
      return <LeftOut {...props} model={model} />
  }
}

export const view: KindView<LikelihoodQuestion, LikelihoodResult, LikelihoodMark> = { Body, Numbers }
