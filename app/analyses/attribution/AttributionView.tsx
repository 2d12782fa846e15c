import { memo } from 'react'
import type { AttributionResult } from '../../../core/analyses/attribution/finish.js'
import type { AttributionMark } from '../../../core/analyses/attribution/marks.js'
import type { AttributionForm, AttributionQuestion } from '../../../core/analyses/attribution/question.js'
import { Segmented } from '../../ui/Segmented.js'
import type { KindView } from '../view.js'
import type { Props } from './figures.js'
import { CreditOverTime } from './CreditOverTime.js'
import { CreditSides } from './CreditSides.js'
import { CreditTable } from './CreditTable.js'
import { EarlyOrLate } from './EarlyOrLate.js'
import { TouchWays } from './TouchWays.js'

import './attribution.css'

type Shown = AttributionForm | 'over time'

const FORMS: Record<Shown, string> = {
  table: 'Table',
  'over time': 'Over time',
  touches: 'Paths of touches',
  early: 'Early or late',
}
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
        <CreditOverTime {...props} />
      ) : form === 'touches' ? (
        <TouchWays {...props} />
      ) : form === 'early' ? (
        <EarlyOrLate {...props} />
      ) : (
        <CreditTable {...props} />
      )}
    </>
  )
}

export const view: KindView<AttributionQuestion, AttributionResult, AttributionMark> = {
  Body: memo(AttributionBody),
  Numbers: memo(CreditSides),
}
