import type { FunnelResult, OverTime } from '../../../core/analyses/funnel/finish.js'
import { requiredSteps, type FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import type { GroupKey } from '../../../core/questions/parts.js'
import { groupWords, type Words } from '../../../core/words/words.js'

/** A line of rates by when attempts began. */
export interface RateLine {
  label: string
  /** the step whose people stand behind the line's points */
  step: number
  key: GroupKey | null
  /** null = nobody began, or got as far */
  rates: (number | null)[]
  /** how many the rate is of */
  wholes: number[]
  parts: number[]
  /** how many of them may still go on */
  open: number[]
  rest: boolean
}

/** The whole way for all together or for each group; or, of all together, each step on the one before. */
export function rateLines(
  question: FunnelQuestion,
  result: FunnelResult,
  { lines }: OverTime,
  way: 'whole' | 'steps',
  words: Words,
): RateLine[] {
  const required = question.order === 'any order' ? question.steps.map((_, i) => i) : requiredSteps(question.steps)
  const last = required.at(-1)!
  const line = (source: OverTime['lines'][number], from: number, to: number, label: string): RateLine => {
    const wholes = source.reached.map((steps) => steps[from])
    const parts = source.reached.map((steps) => steps[to])
    return {
      ...{ label, step: to, key: source.key, wholes, parts },
      rates: wholes.map((whole, i) => (whole > 0 ? parts[i] / whole : null)),
      // Whoever got as far as the later step is not open for this rate.
      open: source.open.map((steps) => steps.reduce((sum, x, step) => (step >= from && step < to ? sum + x : sum), 0)),
      rest: source.key !== null && ('rest' in source.key || 'unreached' in source.key),
    }
  }
  const [all, ...groups] = lines
  if (way === 'steps')
    return required.slice(1).map((step, i) => line(all, required[i], step, stepLabel(question, step, words)))
  if (groups.length === 0) return [line(all, 0, last, 'Get through')]
  return groups.map((group) => line(group, 0, last, groupWords(group.key!, result.rest)))
}

function stepLabel(question: FunnelQuestion, step: number, words: Words): string {
  return question.order === 'any order' ? `${step + 1} steps done` : stepName(question, step, words)
}
