import { explainHabit } from './explain.js'
import { habitFindings } from './findings.js'
import { habitSchema, parseHabit } from './schema.js'
import type { Analysis } from '../analysis.js'
import { finishHabit, type HabitResult } from './finish.js'
import { nextHabit, planHabit, type HabitPart, type HabitPlan } from './plan.js'
import { usualHabit, type HabitQuestion } from './question.js'
import { mergeHabit, scanHabit, selectHabit } from './scan.js'
import { habitMark, type HabitMark } from './marks.js'
import { daysMarks, habits } from './printed.js'
import { spokenHabit } from './spoken.js'

export const habit: Analysis<HabitQuestion, HabitMark, HabitPlan, HabitPart, HabitResult> = {
  ...spokenHabit,
  explain: explainHabit,
  schema: habitSchema,
  markSchemas: [habitMark],
  usual: usualHabit,
  // Of a way it is what it leads to.
  turn: {
    ofPeople: true,
    picks: ({ start }) => [start],
    about: (picks) => ({ ...usualHabit(''), start: picks.at(-1)! }),
  },
  parse: parseHabit,
  plan: planHabit,
  scan: scanHabit,
  merge: mergeHabit,
  next: nextHabit,
  finish: finishHabit,
  reads: ({ pass }) => pass === 'count',
  select: selectHabit,
  printed: habits,
  printedMarks: daysMarks,
  findings: habitFindings,
}
