import { eventWords } from '../../words/words.js'
import { BROKEN_DOWN, breakdownSplits } from '../breakdowns.js'
import { soundOf, type SpokenKind, type WrongParts } from '../kind.js'
import type { TrendMark } from './marks.js'
import { handleOf, withoutSeries, type TrendQuestion } from './question.js'
import { ruleOfPoint } from './rule.js'
import { trendSentence } from './sentence.js'
import { exactPoint, pointWords } from './words.js'

export const spokenTrend: SpokenKind<TrendQuestion, TrendMark> = {
  kind: 'trend',
  name: 'Trend',
  sentence: trendSentence,
  readAsOf: () => 'when each event happened, so that one person can stand in two groups, and groups overlap',
  marks: {
    kinds: ['point'],
    words: pointWords,
    exact: exactPoint,
    places: (study, words) =>
      study.series.map((series, index) => ({
        key: `series ${index}`,
        label: `Is counted in ${study.series.length > 1 ? handleOf(study, index) : eventWords(series.event, words)}, over the whole time`,
        value: { kind: 'point', ...(index > 0 ? { series: index } : {}) },
      })),
    rule: ruleOfPoint,
    timed: ({ bucket, before }) => bucket !== undefined || before === true,
    plain: (study) => ({ ...study, show: { form: 'lines', as: 'number' } }),
  },
  splits: breakdownSplits,
  rest: { parts: ['series', 'formulas', ...BROKEN_DOWN], without: soundTrend },
}

function soundTrend(question: TrendQuestion, wrong: WrongParts): TrendQuestion | null {
  const { breakdowns, formulas, compare, ...plain } = question
  const left = soundOf(wrong, 'breakdowns', breakdowns)
  const kept = soundOf(wrong, 'formulas', formulas)
  const sound: TrendQuestion = {
    ...plain,
    ...(left.length > 0 ? { breakdowns: left } : {}),
    // All names stay until the series are gone: by them the formulas that are left know theirs.
    ...(formulas ? { formulas } : {}),
    ...(compare && !wrong.has('compare') ? { compare } : {}),
  }
  const places = [...(wrong.get('series') ?? [])].sort((a, b) => b - a)
  const { formulas: _all, ...rest } = places.reduce(withoutSeries, sound)
  if (rest.series.length === 0) return null
  // Series that only stood for a formula are shown where none is left.
  const series = kept.length > 0 ? rest.series : rest.series.map(({ hidden: _hidden, ...each }) => each)
  return { ...rest, series, ...(kept.length > 0 ? { formulas: kept } : {}) }
}
