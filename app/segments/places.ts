import { requiredSteps } from '../../core/analyses/funnel/question.js'
import { growthStates } from '../../core/analyses/growth/question.js'
import { intervalName } from '../../core/analyses/growth/words.js'
import { HABIT_UNITS } from '../../core/analyses/habit/question.js'
import { daysPhrase, periodPhrase } from '../../core/analyses/habit/words.js'
import type { Question } from '../../core/analyses/registry.js'
import { duringWords } from '../../core/analyses/retention/words.js'
import { handleOf } from '../../core/analyses/trend/question.js'
import type { Mark } from '../../core/questions/parts.js'
import { eventWords, sideWords, type Words } from '../../core/words/words.js'

export interface PlaceOption {
  key: string
  label: string
  value: Mark
}

/** Where in a study's result people are counted, as far as its definition tells. */
export function placesIn(study: Question, words: Words): PlaceOption[] {
  switch (study.kind) {
    case 'funnel':
      return study.steps.flatMap((step, index): PlaceOption[] => {
        const name = eventWords(step.event, words)
        const reached: PlaceOption = {
          key: `reached ${index}`,
          label: index === 0 ? `Started: ${name}` : `Reached step ${index + 1}: ${name}`,
          value: { kind: 'step', step: index, what: 'reached' },
        }
        if (step.optional || index === requiredSteps(study.steps).at(-1)) return [reached]
        const lost: PlaceOption = {
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
        ...periods.flatMap((period, k): PlaceOption[] => [
          {
            key: `returned ${k}`,
            label: `Came back ${duringWords(study, period)}`,
            value: { kind: 'cohort', period: k, what: 'returned' },
          },
          {
            key: `gone ${k}`,
            label: `Did not come back ${duringWords(study, period)}, which is over for them`,
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
