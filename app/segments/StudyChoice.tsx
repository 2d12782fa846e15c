import Button from '@mui/material/Button'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import { sentenceText } from '../../core/analyses/analysis.js'
import { kindName, sentenceOf } from '../../core/analyses/inWords.js'
import type { Question } from '../../core/analyses/registry.js'
import { growthStates } from '../../core/analyses/growth/question.js'
import { intervalName } from '../../core/analyses/growth/words.js'
import { HABIT_UNITS } from '../../core/analyses/habit/question.js'
import { daysPhrase, periodPhrase } from '../../core/analyses/habit/words.js'
import { periodWords } from '../../core/analyses/retention/words.js'
import { requiredSteps } from '../../core/analyses/funnel/question.js'
import { handleOf } from '../../core/analyses/trend/question.js'
import { sameMark } from '../../core/questions/marks.js'
import type { Mark } from '../../core/questions/parts.js'
import type { StudyCondition } from '../../core/segments/rule.js'
import { eventWords, sideWords } from '../../core/words/words.js'
import { OptionList, type ListOption } from '../editors/OptionList.js'
import { useWorkspace } from '../workspace.js'

interface SavedStudy {
  id: string
  name: string
  question: Question
}

/** The result of a saved study: which study, then where in it somebody is counted. Its question is taken as it is now. */
export function StudyChoice(props: {
  value: StudyCondition | null
  onChoose: (choice: Pick<StudyCondition, 'study' | 'marks'>) => void
}) {
  const { value, onChoose } = props
  const { words } = useWorkspace()
  const fetcher = useFetcher<SavedStudy[]>({ key: 'saved studies' })
  const [study, setStudy] = useState<Question | null>(value?.study ?? null)
  const { load, data } = fetcher
  useEffect(() => {
    void load('/ask/studies')
  }, [load])
  if (!study)
    return (
      <OptionList
        label="Saved studies"
        search="Search names and questions"
        empty={data ? 'No study by that name is saved.' : 'Reading the studies …'}
        options={(data ?? []).map(({ id, name, question }) => ({
          key: id,
          label: name,
          note: sentenceText(sentenceOf(question, words)),
          side: kindName(question.kind),
          value: question,
        }))}
        onChoose={setStudy}
      />
    )
  return (
    <div className="stack">
      <p className="hint">{sentenceText(sentenceOf(study, words))}</p>
      <OptionList
        label="Who is meant"
        options={placesIn(study, words).map((option) => ({
          ...option,
          chosen: value?.marks.length === 1 && sameMark(value.marks[0]!, option.value),
        }))}
        onChoose={(mark) => onChoose({ study, marks: [mark] })}
      />
      <div className="row">
        <Button variant="outlined" onClick={() => setStudy(null)}>
          Another study
        </Button>
      </div>
    </div>
  )
}

/** Where in a study's result people are counted, as far as its definition tells. */
function placesIn(study: Question, words: ReturnType<typeof useWorkspace>['words']): ListOption<Mark>[] {
  switch (study.kind) {
    case 'funnel':
      return study.steps.flatMap((step, index): ListOption<Mark>[] => {
        const name = eventWords(step.event, words)
        const reached: ListOption<Mark> = {
          key: `reached ${index}`,
          label: index === 0 ? `Started: ${name}` : `Reached step ${index + 1}: ${name}`,
          value: { kind: 'step', step: index, what: 'reached' },
        }
        if (step.optional || index === requiredSteps(study.steps).at(-1)) return [reached]
        const lost: ListOption<Mark> = {
          key: `lost ${index}`,
          label: `Was lost for good after step ${index + 1}: ${name}`,
          value: { kind: 'step', step: index, what: 'gone' },
        }
        return [reached, lost]
      })
    case 'trend':
      return study.series.map((series, index) => ({
        key: `series ${index}`,
        label: `Is counted in ${study.series.length > 1 ? handleOf(study, index) : eventWords(series.event, words)}, over the whole time`,
        value: { kind: 'point', ...(index > 0 ? { series: index } : {}) },
      }))
    case 'overlap':
      return study.sides.map((side, index) => ({
        key: `side ${index}`,
        label: `Is in ${sideWords(side, words)} and in no other of them`,
        value: { kind: 'part', in: [index] },
      }))
    case 'retention': {
      const periods = study.brackets ?? Array.from({ length: study.upTo ?? 8 }, (_, k): [number, number] => [k, k])
      return [
        { key: 'started', label: 'Started in the time asked about', value: { kind: 'cohort', what: 'started' } },
        ...periods.flatMap((period, k): ListOption<Mark>[] => [
          {
            key: `returned ${k}`,
            label: `Came back in ${periodWords(study, period)}`,
            value: { kind: 'cohort', period: k, what: 'returned' },
          },
          {
            key: `gone ${k}`,
            label: `Did not come back in ${periodWords(study, period)}, which is over for them`,
            value: { kind: 'cohort', period: k, what: 'gone' },
          },
        ]),
      ]
    }
    case 'habit': {
      const { unit, most } = HABIT_UNITS[study.period]
      return Array.from({ length: Math.min(most, 14) }, (_, d) => ({
        key: `days ${d}`,
        label: `Turned up on ${daysPhrase(d + 1, unit, true)} in ${periodPhrase(study.period)}, in any of the time asked about`,
        value: { kind: 'days', days: d + 1, more: true },
      }))
    }
    case 'gaps':
      return [
        { key: 'once', label: 'Came on one day only', value: { kind: 'gap', least: 0, of: 'once' } },
        {
          key: 'median',
          label: 'Mostly comes back within 7 days',
          value: { kind: 'gap', least: 1, most: 7, of: 'median' },
        },
      ]
    case 'growth':
      return growthStates.map((state) => ({
        key: state,
        label: `Is ${state} in the last full ${intervalName(study.interval)}`,
        value: { kind: 'state', states: [state] },
      }))
    case 'crosstab':
      return [{ key: 'all', label: 'Is counted in any row', value: { kind: 'cell', row: [] } }]
  }
}
