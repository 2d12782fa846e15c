import type { Analysis } from '../analysis.js'
import { finishHabit, type HabitResult } from './finish.js'
import { nextHabit, planHabit, type HabitPart, type HabitPlan } from './plan.js'
import { habitSchema, parseHabit, usualHabit, type HabitQuestion } from './question.js'
import { mergeHabit, scanHabit, selectHabit } from './scan.js'
import { habitFindings, habitSentence } from './sentence.js'

export const habit: Analysis<HabitQuestion, HabitPlan, HabitPart, HabitResult> = {
  kind: 'habit',
  schema: habitSchema,
  usual: usualHabit,
  parse: parseHabit,
  plan: planHabit,
  scan: scanHabit,
  merge: mergeHabit,
  next: nextHabit,
  finish: finishHabit,
  reads: ({ pass }) => pass === 'count',
  select: selectHabit,
  sentence: habitSentence,
  findings: habitFindings,
}
