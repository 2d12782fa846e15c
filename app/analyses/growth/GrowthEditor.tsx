import { useState } from 'react'
import type { GrowthResult } from '../../../core/analyses/growth/finish.js'
import type { GrowthInterval, GrowthQuestion } from '../../../core/analyses/growth/question.js'
import { PeopleBreakdowns } from '../../editors/BreakdownsEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { StartEditor } from '../../editors/StartEditor.js'
import { UsageHint } from '../../editors/UsageHint.js'
import type { EditorProps } from '../view.js'

/** The editors of growth accounting's tokens. */
export function GrowthEditor(props: EditorProps<GrowthQuestion, GrowthResult>) {
  if (props.token.startsWith('breakdown')) return <PeopleBreakdowns {...props} />
  return props.token === 'interval' ? <IntervalEditor {...props} /> : <StartEditor {...props} />
}

function IntervalEditor({ question, edit, close }: EditorProps<GrowthQuestion>) {
  const { interval } = question
  const [days] = useState('days' in interval ? interval.days : 14)
  const set = (next: GrowthInterval, how?: 'choose' | 'type') => {
    // A chosen interval of the flows is none of the new ones.
    const { at: _at, ...show } = question.show
    edit({ ...question, interval: next, show }, how)
  }
  const unit = 'unit' in interval ? interval.unit : null
  return (
    <div className="stack">
      <OptionList
        label="Intervals"
        options={[
          {
            key: 'week',
            label: 'each week',
            value: 'week' as const,
            chosen: unit === 'week',
            note: 'Whole calendar weeks.',
          },
          {
            key: 'month',
            label: 'each month',
            value: 'month' as const,
            chosen: unit === 'month',
            note: 'Whole calendar months.',
          },
        ]}
        onChoose={(value) => {
          set({ unit: value })
          close()
        }}
      />
      <fieldset>
        <legend>Or every so many days, backwards from the end</legend>
        <NumberField
          label="Days of an interval"
          value={'days' in interval ? interval.days : days}
          min={1}
          max={366}
          whole
          onChange={(n) => set({ days: n }, 'type')}
        />
        <span>days</span>
      </fieldset>
      <UsageHint
        asked={{ start: question.start, range: question.range, ...(question.among ? { among: question.among } : {}) }}
        use={({ suggested }) =>
          suggested && {
            label: `Every ${suggested.days} days: 80 % return within it`,
            choose: () => {
              set({ days: suggested.days })
              close()
            },
          }
        }
      />
    </div>
  )
}
