import { deferred } from '../../page/deferred.js'
import { narrowest } from '../../../core/analyses/funnel/narrowest.js'
import { emptyFunnel } from '../../../core/analyses/funnel/empty.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { memo, Suspense } from 'react'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import {
  funnelForms,
  requiredSteps,
  showOf,
  type FunnelForm,
  type FunnelQuestion,
  type FunnelShow,
} from '../../../core/analyses/funnel/question.js'
import { stepName, targetWords } from '../../../core/analyses/funnel/sentence.js'
import { formatPercent } from '../../../core/words/format.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView, BodyProps } from '../view.js'
import { FunnelRows } from './FunnelRows.js'
import { FunnelTable } from './FunnelTable.js'

// Most funnels are only ever read as steps.
const FunnelAfter = deferred(async () => (await import('./FunnelAfter.js')).FunnelAfter)
const FunnelApart = deferred(async () => (await import('./FunnelApart.js')).FunnelApart)
const FunnelBetween = deferred(async () => (await import('./FunnelBetween.js')).FunnelBetween)
const FunnelOverTime = deferred(async () => (await import('./FunnelOverTime.js')).FunnelOverTime)
const FunnelRepeats = deferred(async () => (await import('./FunnelRepeats.js')).FunnelRepeats)
const FunnelTimes = deferred(async () => (await import('./FunnelTimes.js')).FunnelTimes)

const FORMS: Record<FunnelForm, string> = {
  steps: 'Steps',
  'over time': 'Over time',
  time: 'Time to convert',
  repeats: 'Repeats',
  after: 'After a loss',
  apart: 'What sets them apart',
  between: 'Suggest steps',
}

/** The forms that say something of a question: most need a second step. */
export function formsFor({ steps, order }: FunnelQuestion): FunnelForm[] {
  if (steps.length < 2) return ['steps']
  return funnelForms.filter((form) => form !== 'repeats' || order !== 'any order')
}

function FunnelBody(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
  const { question, result, words, edit } = props
  const { form } = showOf(question)
  const forms = formsFor(question)
  const { show: _show, ...plain } = question
  const change = (next: FunnelForm) => {
    if (next === 'steps') edit?.(plain)
    else edit?.({ ...plain, show: startingShow(next, question, result) })
  }
  return (
    <>
      {edit && forms.length > 1 && (
        <div className="chart-bar">
          <Segmented
            label="Form"
            value={form}
            options={forms.map((value) => ({ value, label: FORMS[value] }))}
            onChange={change}
          />
        </div>
      )}
      {!edit && question.target !== undefined && result.all.steps[0].people > 0 && (
        <TargetLine target={question.target} rate={result.all.steps.at(-1)!.ofStart!} />
      )}
      {form !== 'steps' && (
        <ol className="step-trail" aria-label="Steps">
          {question.steps.map((step, i) => (
            <li key={i} className={step.optional ? 'soft' : ''}>
              <span className="step-number still">{i + 1}</span> {stepName(question, i, words)}
            </li>
          ))}
        </ol>
      )}
      <Suspense fallback={<p className="soft pad">Fetching the picture …</p>}>
        <Form {...props} />
      </Suspense>
    </>
  )
}

/** Where nothing is said beside it, as on a dashboard: whether the target is met. */
function TargetLine({ target, rate }: { target: number; rate: number }) {
  const met = rate >= target
  return (
    <p className="target-line">
      <strong>{formatPercent(rate)}</strong> get through ·{' '}
      <span className={met ? 'gain' : 'loss'}>
        target {targetWords(target)} {met ? 'met' : 'missed'}
      </span>
    </p>
  )
}

function Form(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
  const { question, result } = props
  const { form } = showOf(question)
  if (form === 'over time' && result.over) return <FunnelOverTime {...props} over={result.over} />
  if (form === 'time' && result.time) return <FunnelTimes {...props} time={result.time} />
  if (form === 'repeats' && result.repeats) return <FunnelRepeats {...props} repeats={result.repeats} />
  if (form === 'after' && result.look?.form === 'after') return <FunnelAfter {...props} after={result.look} />
  if (form === 'apart' && result.look?.form === 'apart') return <FunnelApart {...props} apart={result.look} />
  if (form === 'between' && result.look?.form === 'between') return <FunnelBetween {...props} between={result.look} />
  if (form !== 'steps') return <p className="soft pad">Working it out …</p>
  return <FunnelRows {...props} />
}

/** What a form starts with: the loss that is largest, an hour after it. */
export function startingShow(form: FunnelForm, question: FunnelQuestion, result: FunnelResult): FunnelShow {
  const required = requiredSteps(question.steps)
  if (form === 'after')
    return {
      ...{ form, step: narrowest(result.all) ?? required[0] },
      within: { count: 1, unit: 'hour' },
    }
  return { form }
}

export const view: KindView<FunnelQuestion, FunnelResult, FunnelMark> = {
  Body: memo(FunnelBody),
  Numbers: memo(FunnelTable),
  Empty: FunnelSteps,
}

/** The steps without numbers, to be put right. */
function FunnelSteps(props: Pick<BodyProps<FunnelQuestion, FunnelResult, FunnelMark>, 'question' | 'words' | 'edit'>) {
  return <FunnelBody {...props} result={emptyFunnel(props.question.steps.length)} selected={[]} />
}
